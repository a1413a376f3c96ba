<script lang="ts">
  import type { SortKey } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { VirtualRows } from '$lib/ui/virtual.svelte.ts';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import PartRow from './PartRow.svelte';
  import type { DrawerView } from './view.svelte.ts';

  interface Props {
    view: DrawerView;
    /** The part's fields are wanted. */
    onopen: () => void;
    /** A part was picked with the pointer. */
    onpicked: () => void;
    /** Something is asked for the part that is current. */
    onmenu: (event: MouseEvent, of: Element) => void;
  }
  const { view, onopen, onpicked, onmenu }: Props = $props();
  const drawer = useDrawer();

  const ROW_PX = 52;
  const virtual = new VirtualRows(ROW_PX);
  $effect(() => virtual.setCount(view.shown.length));
  $effect(() => virtual.reveal(view.currentIndex));

  const COLUMNS: readonly (readonly [SortKey, string, string])[] = [
    ['partId', 'Part', ''],
    ['kind', 'Faces', 'face'],
    ['length', 'Length', 'justify-end'],
    ['location', 'Place', 'place'],
    ['name', 'Where it is', 'state']
  ];

  /** What is under the pointer becomes current first; the keys ask for what is current already. */
  function oncontextmenu(event: MouseEvent) {
    const under = event.target instanceof Element ? event.target.closest('[role=option]') : null;
    if (under) view.current = under.id.replace(/^part-/, '');
    const of = under ?? document.getElementById(`part-${view.current ?? ''}`);
    if (of) onmenu(event, of);
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.altKey || event.metaKey) return;
    const page = 10;
    const walks: Record<string, number> = {
      ArrowDown: 1,
      ArrowUp: -1,
      PageDown: page,
      PageUp: -page,
      Home: -Infinity,
      End: Infinity
    };
    const by = walks[event.key];
    if (by !== undefined) {
      event.preventDefault();
      if (event.shiftKey && view.current !== undefined) view.chosen.add(view.current);
      view.walk(by);
      if (event.shiftKey && view.current !== undefined) view.chosen.add(view.current);
    } else if ((event.key === ' ' || event.key.toLowerCase() === 'x') && !event.ctrlKey && view.current !== undefined) {
      event.preventDefault();
      view.toggle(view.current);
    } else if (event.key === 'Enter' && !event.ctrlKey) {
      event.preventDefault();
      onopen();
    } else if (event.key.toLowerCase() === 'a' && event.ctrlKey) {
      event.preventDefault();
      view.chooseAll();
    }
  }
</script>

<div class="list flex min-h-0 flex-1 flex-col">
  <div class="head border-line text-muted border-b text-xs">
    <span></span><span></span>
    {#each COLUMNS as [key, words, place] (key)}
      {#if key === 'kind' || key === 'name'}
        <span class={place}>{words}</span>
      {:else}
        <button class={['flex min-h-6 items-center gap-1', place]} onclick={() => view.sortBy(key)}>
          {words}
          {#if view.sortKey === key}
            {#if view.descending}<ArrowUp size={11} aria-label="descending" />{:else}<ArrowDown
                size={11}
                aria-label="ascending"
              />{/if}
          {/if}
        </button>
      {/if}
    {/each}
  </div>
  <div
    {@attach virtual.scroller}
    id="part-list"
    class="min-h-0 flex-1 overflow-y-auto"
    role="listbox"
    aria-label="Parts"
    aria-multiselectable="true"
    aria-activedescendant={view.current === undefined ? undefined : `part-${view.current}`}
    tabindex="0"
    data-count={view.shown.length}
    {onkeydown}
    {oncontextmenu}
  >
    <div class="relative" style:height="{virtual.totalPx}px">
      {#each virtual.rows as { index, start } (index)}
        {@const part = view.shown[index]}
        {#if part}
          <!-- The keys of the list move through its options. -->
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <div
            id="part-{part.partId}"
            role="option"
            tabindex="-1"
            aria-selected={view.chosen.has(part.partId)}
            aria-label="{part.partId}, {part.element.name}"
            class="absolute inset-x-0"
            style:height="{ROW_PX}px"
            style:transform="translateY({start}px)"
            onclick={(event) => {
              // As everywhere: Ctrl adds one, Shift all between.
              if (event.ctrlKey || event.metaKey) view.toggle(part.partId);
              else if (event.shiftKey) view.chooseTo(part.partId);
              else {
                view.current = part.partId;
                onpicked();
              }
            }}
            ondblclick={onopen}
          >
            <PartRow
              {part}
              uses={drawer.usesOf(part.partId)}
              current={part.partId === view.current}
              chosen={view.chosen.has(part.partId)}
              onchoose={(range) => (range ? view.chooseTo(part.partId) : view.toggle(part.partId))}
            />
          </div>
        {/if}
      {/each}
    </div>
  </div>
</div>

<style>
  /* For the heads and for every row. */
  .list {
    --part-columns: 1rem 84px minmax(6rem, 1.4fr) minmax(5rem, 0.9fr) 4.6rem minmax(4rem, 0.9fr) minmax(5rem, 1.25fr);
  }
  .head {
    display: grid;
    grid-template-columns: var(--part-columns);
    align-items: center;
    gap: 0.75rem;
    padding: 0.1rem 0.75rem;
    border-left: 3px solid transparent;
    scrollbar-gutter: stable;
  }
  @media (max-width: 48rem) {
    .list {
      --part-columns: 1rem 56px minmax(0, 1fr) 4.6rem;
    }
    .face,
    :global(.head .place),
    .state {
      display: none;
    }
  }
</style>
