<script lang="ts">
  import type { Solution } from '@lodestone/core/finder';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { scaleLinear } from 'd3-scale';

  interface Props {
    solutions: readonly Solution[];
    active: number;
    toleranceMm: number | null;
    onlook: (index: number) => void;
  }
  const { solutions, active, toleranceMm, onlook }: Props = $props();
  const display = useDisplay();

  const HEIGHT = 190;
  const [LEFT, RIGHT, TOP, FOOT] = [46, 14, 22, 36] as const;
  let width = $state(288);

  const most = $derived(Math.max(1, ...solutions.map(({ pieces }) => pieces)));
  const off = ({ residualMm }: Solution) => Math.abs(residualMm ?? 0);
  /** What is far out is of no use to anybody: it stands at the edge, so that those near the tolerance keep apart. */
  const FAR = 2.5;
  const farMm = $derived(
    Math.max(FAR * (toleranceMm ?? 0), 1.25 * Math.min(...solutions.map(off)), 0.05) || Math.max(...solutions.map(off))
  );
  const x = $derived(
    scaleLinear()
      .domain([0, most])
      .range([LEFT + 16, width - RIGHT - 30])
  );
  const y = $derived(
    scaleLinear()
      .domain([0, farMm])
      .range([HEIGHT - FOOT, TOP])
      .clamp(true)
  );
  const floor = HEIGHT - FOOT;
</script>

<div bind:clientWidth={width}>
  <svg {width} height={HEIGHT} viewBox="0 0 {width} {HEIGHT}" role="group" aria-label="Error against pieces">
    {#if toleranceMm !== null}
      <rect class="band" x={LEFT} y={y(toleranceMm)} width={width - LEFT - RIGHT} height={floor - y(toleranceMm)} />
      <text class="quiet" x={width - RIGHT - 4} y={y(toleranceMm) - 5} text-anchor="end"
        >tolerance {display.number(toleranceMm)}</text
      >
    {/if}
    <path class="axis" d="M{LEFT} {TOP - 8} V{floor} H{width - RIGHT}" />
    <text class="quiet" x="0" y="11">error, {display.unit}</text>
    {#each y.ticks(4) as mm (mm)}
      <path class="axis" d="M{LEFT - 4} {y(mm)} H{LEFT}" />
      <text class="quiet" x={LEFT - 7} y={y(mm) + 4} text-anchor="end">{display.number(mm)}</text>
    {/each}
    {#each Array.from({ length: most + 1 }, (_, count) => count) as count (count)}
      <text class="quiet" x={x(count)} y={floor + 15} text-anchor="middle">{count}</text>
    {/each}
    <text class="quiet" x={(LEFT + width - RIGHT) / 2} y={HEIGHT - 4} text-anchor="middle">pieces</text>
    {#each solutions as solution, index (index)}
      {@const [atX, atY] = [x(solution.pieces), y(off(solution))]}
      {@const isFar = off(solution) > farMm}
      <!-- The list beside it is walked by keys. -->
      <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
      <g class="point" onclick={() => onlook(index)}>
        <circle class="reach" cx={atX} cy={atY} r="12" />
        {#if solution.buys > 0}
          <path class={['dot', index === active && 'on']} d="M{atX} {atY - 6} l6 6 l-6 6 l-6 -6 z" />
        {:else}
          <circle class={['dot', index === active && 'on']} cx={atX} cy={atY} r="5" />
        {/if}
        {#if isFar}
          <path class="far" d="M{atX - 4} {atY - 9} l4 -5 l4 5" />
        {/if}
        {#if index === active || isFar || solution.buys > 0}
          <text x={atX + 9} y={atY + 4}
            >{[index === active || isFar ? display.number(off(solution)) : '', solution.buys > 0 ? solution.price : '']
              .filter((word) => word !== '' && word !== undefined && word !== null)
              .join(', ')}</text
          >
        {/if}
      </g>
    {/each}
  </svg>
</div>
<p class="text-muted text-xs">Circles: owned. Diamonds: to buy, with the price. Arrow: beyond the plot.</p>

<style>
  .band {
    fill: var(--metal);
    fill-opacity: 0.4;
  }
  .axis {
    fill: none;
    stroke: var(--ink-muted);
  }
  .point {
    cursor: pointer;
  }
  .reach {
    fill: transparent;
  }
  .far {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1.4;
  }
  .dot {
    fill: var(--color-base-200);
    stroke: var(--color-base-content);
    stroke-width: 1.4;
  }
  .dot.on {
    fill: var(--color-primary);
    stroke: var(--color-primary);
  }
  text {
    fill: var(--color-base-content);
    font-size: 11.5px;
  }
  .quiet {
    fill: var(--ink-muted);
  }
</style>
