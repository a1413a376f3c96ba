<script lang="ts">
  import { fromUnit } from '@lodestone/core/why';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import type { RailView } from './view.svelte.ts';

  const { view, y }: { view: RailView; y: number } = $props();
  const display = useDisplay();

  const x = $derived(view.x);
  const graduations = $derived(view.graduations(fromUnit(1, display.unit)));
  const figures = $derived(graduations.filter(({ figure }) => figure !== undefined));
  const TICK_PX = [4, 7, 10];

  /** All lines of one rank as one path: there are hundreds, and every zoom moves them. */
  const ticks = (wanted: 0 | 1 | 2) =>
    graduations
      .filter(({ rank }) => rank === wanted)
      .map(({ mm }) => `M${x(mm).toFixed(2)} ${y}v${TICK_PX[wanted]}`)
      .join('');
</script>

<path class="ruler" d="M0 {y} H{view.widthPx}" />
<path class="tick" d={ticks(0)} />
<path class="tick strong" d={ticks(1) + ticks(2)} />
{#each figures as { mm, figure }, index (index)}
  <text x={x(mm)} y={y + 21} text-anchor="middle">{figure}</text>
{/each}

<style>
  .ruler,
  .tick {
    stroke: var(--color-base-300);
  }
  .tick {
    stroke-width: 0.8;
  }
  .tick.strong {
    stroke: var(--ink-muted);
  }
  text {
    fill: var(--ink-muted);
    font-size: 10.5px;
  }
</style>
