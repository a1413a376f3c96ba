<script lang="ts">
  import type { Solution } from '@lodestone/core/finder';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { scaleLinear, scaleSymlog } from 'd3-scale';

  interface Props {
    solutions: readonly Solution[];
    active: number;
    toleranceMm: number | null;
    onlook: (index: number) => void;
  }
  const { solutions, active, toleranceMm, onlook }: Props = $props();
  const display = useDisplay();

  const [WIDTH, HEIGHT] = [280, 132];
  const most = $derived(Math.max(1, ...solutions.map(({ pieces }) => pieces)));
  const off = ({ residualMm }: Solution) => Math.abs(residualMm ?? 0);
  const x = $derived(
    scaleLinear()
      .domain([0, most])
      .range([52, WIDTH - 16])
  );
  const y = $derived(
    scaleSymlog()
      .constant(0.02)
      .domain([0, Math.max(toleranceMm ?? 0, ...solutions.map(off))])
      .range([HEIGHT - 26, 12])
  );
</script>

<svg width="100%" viewBox="0 0 {WIDTH} {HEIGHT}" role="group" aria-label="Residual against pieces">
  {#if toleranceMm !== null}
    <rect class="band" x="46" y={y(toleranceMm)} width={WIDTH - 56} height={HEIGHT - 26 - y(toleranceMm)} />
    <text class="quiet" x={WIDTH - 12} y={y(toleranceMm) - 3} text-anchor="end"
      >tolerance {display.number(toleranceMm)}</text
    >
  {/if}
  <path class="axis" d="M46 8 V{HEIGHT - 26} H{WIDTH - 10}" />
  {#each Array.from({ length: most + 1 }, (_, count) => count) as count (count)}
    <text class="quiet" x={x(count)} y={HEIGHT - 14} text-anchor="middle">{count}</text>
  {/each}
  <text class="quiet" x={WIDTH / 2} y={HEIGHT - 2} text-anchor="middle">pieces</text>
  {#each solutions as solution, index (index)}
    <!-- The list beside it is walked by keys. -->
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <g class="point" onclick={() => onlook(index)}>
      <circle class="reach" cx={x(solution.pieces)} cy={y(off(solution))} r="11" />
      {#if solution.buys > 0}
        <path
          class={['dot', index === active && 'on']}
          d="M{x(solution.pieces)} {y(off(solution)) - 5} l5 5 l-5 5 l-5 -5 z"
        />
        <text x={x(solution.pieces) + 8} y={y(off(solution)) + 3}>{solution.price}</text>
      {:else}
        <circle class={['dot', index === active && 'on']} cx={x(solution.pieces)} cy={y(off(solution))} r="4" />
      {/if}
      <text class="quiet" x="42" y={y(off(solution)) + 3} text-anchor="end">{display.number(off(solution))}</text>
    </g>
  {/each}
</svg>
<p class="text-muted text-xs">Circles are owned; a diamond has to be bought, with its price beside it.</p>

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
    font-size: 9.5px;
  }
  .quiet {
    fill: var(--ink-muted);
  }
</style>
