import { getContext, onDestroy, setContext, untrack } from 'svelte';

/** Something a person can do by name, and by a key where there is one. */
export interface Command {
  id: string;
  title: string;
  group: string;
  /** As `Ctrl+Z`, `Alt+ArrowLeft`, `?`; `Ctrl` also means ⌘. */
  key?: string;
  /** A second key for the same thing. */
  otherKey?: string;
  /** Left out of palette and keys while it returns false. */
  enabled?: () => boolean;
  run: () => void;
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.matches('input:not([type=checkbox]):not([type=radio]), textarea, select'));

/** The key as commands write it. */
function keyOf(event: KeyboardEvent): string {
  const parts = [];
  if (event.ctrlKey || event.metaKey) parts.push('Ctrl');
  if (event.altKey) parts.push('Alt');
  const letter = event.key.length === 1;
  // Shift is part of a mark (`?`) but must be said for letters and named keys.
  if (event.shiftKey && (!letter || /[a-z]/i.test(event.key))) parts.push('Shift');
  parts.push(letter ? event.key.toUpperCase() : event.key);
  return parts.join('+');
}

/** Every command of the page that is open; what the palette lists and the keys run. */
export class Commands {
  // Not itself state: a page that goes reads state as it was before the next page registered.
  // eslint-disable-next-line svelte/prefer-svelte-reactivity
  readonly #lists = new Set<readonly Command[]>();
  #version = $state(0);
  paletteOpen = $state(false);
  helpOpen = $state(false);

  get all(): readonly Command[] {
    void this.#version;
    // What the page itself offers comes before what is always there.
    return [...this.#lists].reverse().flat();
  }

  get available(): Command[] {
    return this.all.filter(({ enabled }) => enabled?.() ?? true);
  }

  /** Adds commands for as long as the component that calls this is there. */
  register(commands: readonly Command[]): void {
    this.#lists.add(commands);
    untrack(() => this.#version++);
    onDestroy(() => {
      this.#lists.delete(commands);
      this.#version++;
    });
  }

  onkeydown = (event: KeyboardEvent): void => {
    if (event.defaultPrevented || document.querySelector('dialog[open]')) return;
    const key = keyOf(event);
    // While someone types, only keys with Ctrl are commands, and undo belongs to the field.
    if (isTyping(event.target) && (!key.startsWith('Ctrl+') || /^Ctrl\+(Shift\+)?[ZYACXV]$/.test(key))) return;
    const command = this.available.find((each) => each.key === key || each.otherKey === key);
    if (!command) return;
    event.preventDefault();
    command.run();
  };
}

const KEY = Symbol('commands');
export const provideCommands = (): Commands => setContext(KEY, new Commands());
export const useCommands = (): Commands => getContext<Commands>(KEY);

/** A key as it is printed on a keyboard. */
export const keyInWords = (key: string): string =>
  key
    .replace('ArrowLeft', '←')
    .replace('ArrowRight', '→')
    .replace('ArrowUp', '↑')
    .replace('ArrowDown', '↓')
    .replaceAll('+', ' + ');
