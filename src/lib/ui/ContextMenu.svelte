<script lang="ts">
  import { anchored } from './anchored.ts';
  import { keyInWords, useCommands, type Command } from './commands.svelte.ts';

  interface Props {
    /** What the menu is of, for who hears it. */
    label: string;
    /** Ids of the commands it offers, as far as they can be done. */
    ids: readonly string[];
  }
  const { label, ids }: Props = $props();
  const commands = useCommands();

  let at = $state.raw<DOMRect>();
  let before: Element | null = null;
  const listed = $derived(ids.flatMap((id) => commands.available.find((each) => each.id === id) ?? []));

  /** Opens it where the pointer is; at the element itself where the keys asked for it. */
  export function open(event: MouseEvent, of: Element) {
    if (listed.length === 0) return;
    event.preventDefault();
    before = document.activeElement;
    const box = of.getBoundingClientRect();
    const byKey = event.clientX === 0 || event.button !== 2;
    at = byKey ? new DOMRect(box.left + 12, box.top + 12, 0, 0) : new DOMRect(event.clientX, event.clientY, 0, 0);
  }

  function close(run?: Command) {
    at = undefined;
    if (before instanceof HTMLElement || before instanceof SVGElement) before.focus();
    // After the menu is gone, so that the command may move the focus.
    if (run) setTimeout(run.run);
  }

  function onkeydown(event: KeyboardEvent) {
    const items = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role=menuitem]')];
    const now = items.indexOf(document.activeElement as HTMLElement);
    const to: Record<string, number> = {
      ArrowDown: (now + 1) % items.length,
      ArrowUp: (now - 1 + items.length) % items.length,
      Home: 0,
      End: items.length - 1
    };
    const next = to[event.key];
    event.stopPropagation();
    if (next !== undefined) {
      event.preventDefault();
      items[next]?.focus();
    } else if (event.key === 'Escape' || event.key === 'Tab') {
      event.preventDefault();
      close();
    }
  }

  const first = (element: HTMLElement) => element.querySelector<HTMLElement>('[role=menuitem]')?.focus();
</script>

{#if at}
  {@const place = anchored(at, { apartPx: 2 })}
  <div
    {@attach place}
    {@attach first}
    popover="auto"
    role="menu"
    tabindex="-1"
    aria-label={label}
    class="panel popup grid min-w-52 overflow-y-auto p-1 shadow-xl"
    {onkeydown}
    ontoggle={({ newState }) => newState === 'closed' && (at = undefined)}
  >
    {#each listed as command (command.id)}
      <button role="menuitem" tabindex="-1" class="line" onclick={() => close(command)}>
        {command.title}
        {#if command.key}<kbd class="kbd kbd-xs">{keyInWords(command.key)}</kbd>{/if}
      </button>
    {/each}
  </div>
{/if}

<style>
  .line {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 1.5rem;
    min-height: 2rem;
    padding: 0 0.6rem;
    border-radius: 0.3rem;
    text-align: left;
    cursor: pointer;
  }
  .line:hover,
  .line:focus-visible {
    background: var(--color-base-300);
  }
</style>
