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
  /** The key is for what is in here: it does nothing while something else on the page has the focus. */
  within?: string;
  /** Left out of palette and keys while it returns false. */
  enabled?: () => boolean;
  run: () => void;
}

export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.matches('input:not([type=checkbox]):not([type=radio]), textarea, select'));

/**
 * What is printed on the key: with Alt a Mac types another sign (⌥N is ˜), and on a keyboard of another script Ctrl+Z
 * is a letter of that. Where the sign is no Latin one, the key's place counts.
 */
function signOf({ key, code, altKey, ctrlKey, metaKey }: KeyboardEvent): string {
  if (key.length !== 1 || !(altKey || ctrlKey || metaKey)) return key;
  const place = /^(?:Key([A-Z])|Digit(\d))$/.exec(code);
  return place && !/[a-z0-9]/i.test(key) ? (place[1] ?? place[2])! : key;
}

/** The key as commands write it. */
export function keyOf(event: KeyboardEvent): string {
  const parts = [];
  if (event.ctrlKey || event.metaKey) parts.push('Ctrl');
  if (event.altKey) parts.push('Alt');
  const sign = signOf(event);
  const letter = sign.length === 1;
  // Shift is part of a mark (`?`) but must be said for letters and named keys.
  if (event.shiftKey && (!letter || /[a-z]/i.test(sign))) parts.push('Shift');
  parts.push(letter ? sign.toUpperCase() : sign);
  return parts.join('+');
}

/** Keys a browser would do something else with: they are ours wherever a command has them, doable just now or not. */
const BROWSERS_OWN = /^Alt\+Arrow/;

const SINGLE_KEYS = 'lodestone.singleKeys';

/** Every command of the page that is open; what the palette lists and the keys run. */
export class Commands {
  // Not itself state: a page that goes reads state as it was before the next page registered.
  // eslint-disable-next-line svelte/prefer-svelte-reactivity
  readonly #lists = new Set<readonly Command[]>();
  #version = $state(0);
  /** Whether a single letter does something (WCAG 2.1.4): whoever speaks to the computer, or types past a field, may not want it. */
  singleKeys = $state(true);
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

  /** Takes over what this browser remembers; in the browser only. */
  recall(): void {
    this.singleKeys = localStorage.getItem(SINGLE_KEYS) !== 'off';
  }

  useSingleKeys(on: boolean): void {
    this.singleKeys = on;
    localStorage.setItem(SINGLE_KEYS, on ? 'on' : 'off');
  }

  onkeydown = (event: KeyboardEvent): void => {
    if (event.defaultPrevented || document.querySelector('dialog[open]')) return;
    const key = keyOf(event);
    // What the field itself does with it comes first: then it is left, and the page has its keys again.
    if (key === 'Escape' && isTyping(event.target)) return (event.target as HTMLElement).blur();
    // While someone types, only keys with Ctrl are commands, and undo belongs to the field.
    if (isTyping(event.target) && (!key.startsWith('Ctrl+') || /^Ctrl\+(Shift\+)?[ZYACXV]$/.test(key))) return;
    if (!this.singleKeys && /^[A-Z]$/.test(key)) return;
    const target = event.target instanceof Element && event.target !== document.body ? event.target : undefined;
    const isMeant = ({ within }: Command): boolean => !within || !target || target.closest(within) !== null;
    const hasKey = (each: Command): boolean => each.key === key || each.otherKey === key;
    const command = this.available.find((each) => hasKey(each) && isMeant(each));
    if (!command && BROWSERS_OWN.test(key) && this.all.some(hasKey)) event.preventDefault();
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
