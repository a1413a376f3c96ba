<script lang="ts">
  import Chart from '$lib/charts/Chart.svelte';
  import { lineThrough } from '$lib/charts/plot.ts';
  import { minuteOf } from '$lib/ui/time.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import type { StateOfTrain } from '$lib/api/history.ts';

  /** How far the train was off, state by state, over the numbers of its revisions. */
  interface Props {
    /** The oldest first; of those that are known. */
    states: readonly StateOfTrain[];
    /** First and last number of the line. */
    first: number;
    head: number;
    /** The state that is looked at. */
    at: number | undefined;
    names: ReadonlyMap<number, string>;
  }
  const { states, first, head, at, names }: Props = $props();
  const display = useDisplay();

  const known = $derived(states.filter(({ residualMm }) => residualMm !== null));
  const toleranceMm = $derived(known.at(-1)?.toleranceMm ?? null);
  /** The line is drawn about the last value: what was far off at first would flatten the rest. */
  const reachMm = $derived.by(() => {
    const sizes = known.map(({ residualMm }) => Math.abs(residualMm ?? 0)).sort((a, b) => a - b);
    const usual = sizes[Math.floor(sizes.length * 0.8)] ?? 1;
    return Math.max(usual, 2.5 * (toleranceMm ?? 0), 0.1) * 1.15;
  });
  const within = (mm: number): number => Math.max(-reachMm, Math.min(reachMm, mm));
</script>

<Chart
  label="How far the train was off, over its revisions"
  margins={{ left: 44, right: 14, top: 10, foot: 8 }}
  x={[first, Math.max(head, first + 1)]}
  y={[-reachMm, reachMm]}
  yTicks={3}
  yInWords={(mm) => display.number(mm)}
  table={{
    columns: ['Revision', 'Saved', 'Off by', 'Name'],
    rows: known.map(({ number, savedAt, residualMm }) => [
      String(number),
      minuteOf(savedAt),
      display.length(residualMm ?? 0),
      names.get(number) ?? ''
    ])
  }}
>
  {#snippet children(plot)}
    {#if toleranceMm !== null}
      <rect
        class="band"
        x={plot.left}
        width={Math.max(0, plot.right - plot.left)}
        y={plot.y(within(toleranceMm))}
        height={Math.max(1, plot.y(within(-toleranceMm)) - plot.y(within(toleranceMm)))}
      />
    {/if}
    <path class="zero" d="M{plot.left} {plot.y(0)}H{plot.right}" />
    <path
      class="line"
      d={lineThrough(
        known.flatMap(({ number, residualMm }, index) => {
          const y = plot.y(within(residualMm ?? 0));
          const next = known[index + 1]?.number ?? head;
          return [
            [plot.x(number), y],
            [plot.x(next), y]
          ] as const;
        })
      )}
    />
    {#each [...names.keys()].filter((number) => number >= first) as number (number)}
      <path class="named" d="M{plot.x(number)} {plot.top}V{plot.bottom}" />
    {/each}
    {#if at !== undefined}<path class="at" d="M{plot.x(at)} {plot.top}V{plot.bottom}" />{/if}
  {/snippet}
</Chart>

<style>
  .band {
    fill: var(--color-success);
    fill-opacity: 0.16;
  }
  .zero {
    stroke: var(--color-success);
    stroke-width: 1;
  }
  .line {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1.6;
  }
  .named {
    stroke: var(--glass);
    stroke-width: 1;
    stroke-dasharray: 2 3;
  }
  .at {
    stroke: var(--color-primary);
    stroke-width: 2;
  }
</style>
