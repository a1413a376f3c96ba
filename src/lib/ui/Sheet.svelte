<script lang="ts" module>
  /** How far a sheet is pulled up: only its name, half the window, nearly all of it. */
  export type SheetLevel = 'peek' | 'half' | 'full';
  const LEVELS: readonly SheetLevel[] = ['peek', 'half', 'full'];
  /** Share of the window's height each level takes; what peeks out is the handle alone. */
  const SHARE: Readonly<Record<SheetLevel, number>> = { peek: 0.06, half: 0.52, full: 0.9 };

  /** From here on there is room beside, and nothing is a sheet. */
  const ROOM = '(min-width: 64rem)';
</script>

<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronUp from '@lucide/svelte/icons/chevron-up';
  import type { Snippet } from 'svelte';

  interface Props {
    id: string;
    /** What it is, for who hears it. */
    label: string;
    /** What is in it just now: all that is seen while it peeks. */
    title: string;
    level: SheetLevel;
    class?: string;
    children: Snippet;
  }
  let { id, label, title, level = $bindable(), class: given, children }: Props = $props();

  /** Height while a finger holds it, px. */
  let heldPx = $state<number>();
  let moved = false;
  let startY = 0;
  let startPx = 0;
  let sheet: HTMLElement;

  function onpointerdown(event: PointerEvent) {
    if (event.button !== 0) return;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    moved = false;
    startY = event.clientY;
    startPx = sheet.getBoundingClientRect().height;
  }

  const CLICK_PX = 6;
  function onpointermove(event: PointerEvent) {
    if (!(event.currentTarget as Element).hasPointerCapture(event.pointerId)) return;
    if (Math.abs(event.clientY - startY) > CLICK_PX) moved = true;
    if (moved) heldPx = Math.max(44, Math.min(window.innerHeight * SHARE.full, startPx + startY - event.clientY));
  }

  /** Let go: to the level it is nearest to. */
  function onpointerup() {
    if (heldPx === undefined) return;
    const share = heldPx / window.innerHeight;
    heldPx = undefined;
    level = LEVELS.reduce((best, each) =>
      Math.abs(SHARE[each] - share) < Math.abs(SHARE[best] - share) ? each : best
    );
  }

  function toggle() {
    if (moved) return void (moved = false);
    level = level === 'peek' ? 'half' : 'peek';
  }

  function onkeydown(event: KeyboardEvent) {
    const by = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    event.stopPropagation();
    level = LEVELS[Math.max(0, Math.min(LEVELS.length - 1, LEVELS.indexOf(level) + by))]!;
  }

  /** What has the focus is seen. */
  function onfocusin() {
    if (level === 'peek' && !window.matchMedia(ROOM).matches) level = 'half';
  }
</script>

<aside
  bind:this={sheet}
  class={['panel sheet', given, heldPx !== undefined && 'held']}
  aria-label={label}
  data-level={level}
  style:--held={heldPx === undefined ? undefined : `${heldPx}px`}
>
  <button
    type="button"
    class="grip lg:hidden"
    aria-expanded={level !== 'peek'}
    aria-controls={id}
    {onpointerdown}
    {onpointermove}
    {onpointerup}
    onpointercancel={() => (heldPx = undefined)}
    onclick={toggle}
    {onkeydown}
  >
    <span class="bar" aria-hidden="true"></span>
    <span class="flex items-center justify-between gap-3">
      <span class="truncate"><span class="text-muted">{label}</span> <span class="font-semibold">{title}</span></span>
      {#if level === 'peek'}<ChevronUp size={18} aria-hidden="true" />{:else}<ChevronDown
          size={18}
          aria-hidden="true"
        />{/if}
    </span>
  </button>
  <div {id} class="content" {onfocusin}>{@render children()}</div>
</aside>

<style>
  .content {
    /* What is only heard stays within it, and lengthens no page. */
    position: relative;
    padding: 1rem;
  }
  @media (min-width: 64rem) {
    .sheet {
      min-height: 0;
      overflow: hidden;
    }
    .content {
      height: 100%;
      overflow-y: auto;
    }
  }
  @media (max-width: 63.99rem) {
    .sheet {
      position: fixed;
      inset: auto 0 0;
      z-index: 20;
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      height: var(--held, 3.25rem);
      border-radius: 0.8rem 0.8rem 0 0;
      border-bottom: 0;
      box-shadow: 0 -6px 24px rgb(0 0 0 / 0.28);
      transition: height 0.16s ease-out;
    }
    .sheet[data-level='half'] {
      height: var(--held, 52dvh);
    }
    .sheet[data-level='full'] {
      height: var(--held, 90dvh);
    }
    .held {
      transition: none;
    }
    .grip {
      display: block;
      min-height: 3.25rem;
      padding: 0.3rem 1rem 0.5rem;
      text-align: left;
      cursor: grab;
      touch-action: none;
    }
    .bar {
      display: block;
      width: 2.5rem;
      height: 4px;
      margin: 0 auto 0.35rem;
      border-radius: 2px;
      background: var(--ink-muted);
    }
    .content {
      overflow-y: auto;
      overscroll-behavior: contain;
      padding: 0.25rem 1rem 1rem;
    }
  }
  @media (prefers-reduced-motion: reduce) {
    .sheet {
      transition: none;
    }
  }
</style>
