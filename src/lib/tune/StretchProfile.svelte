<script lang="ts">
  /** Signed stretch against the distance from the middle: outward above the line, circling below it. */
  import type { FieldReading } from '@lodestone/core/frame';
  import { scaleLinear } from 'd3-scale';

  interface Props {
    field: FieldReading;
    /** The frame it is compared with. */
    other: FieldReading | undefined;
  }
  const { field, other }: Props = $props();

  let width = $state(340);
  let height = $state(170);
  const [LEFT, RIGHT, TOP, FOOT] = [44, 10, 16, 30] as const;
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
  const x = $derived(scaleLinear([0, 1], [LEFT, width - RIGHT]));
  const y = $derived(scaleLinear([-most, most], [height - FOOT, TOP]));
  const inside = $derived((value: number) => y(Math.max(-most, Math.min(most, value))));
  const path = (of: typeof profile) =>
    of.map(({ radius, stretch }, at) => `${at === 0 ? 'M' : 'L'}${x(radius)} ${inside(stretch)}`).join('');
</script>

<div class="relative h-full min-h-36 w-full" bind:clientWidth={width} bind:clientHeight={height}>
  <svg
    class="chart"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="img"
    aria-label="Stretch against the distance from the middle{field.radial
      ? `, ${field.radial.corner.toFixed(2)} in the corners`
      : ''}"
    data-profile
  >
    {#each y.ticks(4) as value (value)}
      <path class="grid" d="M{LEFT} {y(value)}H{width - RIGHT}" />
      <text x={LEFT - 5} y={y(value) + 4} text-anchor="end"
        >{value > 0 ? '+' : value < 0 ? '−' : ''}{Math.abs(value)}</text
      >
    {/each}
    <path class="zero" d="M{LEFT} {y(0)}H{width - RIGHT}" />
    <text x={LEFT + 4} y={TOP - 4}>outward</text>
    <text x={LEFT + 4} y={height - FOOT - 5}>circling</text>
    <text x={LEFT} y={height - 12}>middle</text>
    <text x={width - RIGHT} y={height - 12} text-anchor="end">corner</text>
    <path class="line other" d={path(otherProfile)} />
    <path class="line" d={path(profile)} />
    {#each profile as { radius, stretch, standard, count } (radius)}
      <path class="error" d="M{x(radius)} {inside(stretch - 2 * standard)}V{inside(stretch + 2 * standard)}" />
      <circle class="point" cx={x(radius)} cy={inside(stretch)} r="3.5"
        ><title>{stretch.toFixed(3)} ±{(2 * standard).toFixed(3)}, {count} stars</title></circle
      >
    {/each}
  </svg>
</div>

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
