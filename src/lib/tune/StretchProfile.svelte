<script lang="ts">
  /** Signed stretch against the distance from the middle: outward above the line, circling below it. */
  import type { FieldReading } from '@lodestone/core/frame';
  import Chart from '$lib/charts/Chart.svelte';
  import { lineThrough, signed, type Plot } from '$lib/charts/plot.ts';

  interface Props {
    field: FieldReading;
    /** The frame it is compared with. */
    other: FieldReading | undefined;
  }
  const { field, other }: Props = $props();

  const profile = $derived(field.radial?.profile ?? []);
  const otherProfile = $derived(other?.radial?.profile ?? []);
  const most = $derived(
    Math.max(
      0.12,
      ...[...profile, ...otherProfile]
        .filter(({ count }) => count > 3)
        .map(({ stretch, standard }) => Math.abs(stretch) + standard)
    ) * 1.15
  );
  const inside = $derived((value: number) => Math.max(-most, Math.min(most, value)));
  const path = ({ x, y }: Plot, of: typeof profile) =>
    lineThrough(of.map(({ radius, stretch }) => [x(radius), y(inside(stretch))]));
  const table = $derived({
    columns: ['distance from the middle, %', 'elongation, radial +', '±', 'stars'],
    rows: profile.map(({ radius, stretch, standard, count }) => [
      (100 * radius).toFixed(0),
      stretch.toFixed(3),
      (2 * standard).toFixed(3),
      String(count)
    ])
  });
</script>

<Chart
  label="Stretch against the distance from the middle{field.radial
    ? `, ${field.radial.corner.toFixed(2)} in the corners`
    : ''}"
  margins={{ left: 44, right: 10, top: 16, foot: 30 }}
  x={[0, 1]}
  y={[-most, most]}
  yTicks={4}
  yInWords={signed}
  {table}
  data-profile
>
  {#snippet children(plot)}
    {@const { x, y, left, right, top, bottom } = plot}
    <path class="zero" d="M{left} {y(0)}H{right}" />
    <text x={left + 4} y={top - 4}>radial</text>
    <text x={left + 4} y={bottom - 5}>tangential</text>
    <text x={left} y={bottom + 18}>middle</text>
    <text x={right} y={bottom + 18} text-anchor="end">corner</text>
    <path class="line other" d={path(plot, otherProfile)} />
    <path class="line" d={path(plot, profile)} />
    {#each profile as { radius, stretch, standard, count } (radius)}
      <path class="error" d="M{x(radius)} {y(inside(stretch - 2 * standard))}V{y(inside(stretch + 2 * standard))}" />
      <circle class="point" cx={x(radius)} cy={y(inside(stretch))} r="3.5"
        ><title>{stretch.toFixed(3)} ±{(2 * standard).toFixed(3)}, {count} stars</title></circle
      >
    {/each}
  {/snippet}
</Chart>

<style>
  .zero {
    stroke: var(--metal-edge);
    stroke-width: 1.4;
  }
  .line {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 1.8;
  }
  .line.other {
    stroke: var(--color-secondary);
    stroke-dasharray: 5 4;
  }
  .error {
    stroke: var(--color-primary);
    stroke-opacity: 0.6;
  }
  .point {
    fill: var(--color-primary);
  }
</style>
