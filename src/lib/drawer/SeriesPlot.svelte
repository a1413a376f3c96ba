<script lang="ts">
  import { combineMeasurements, type Part } from '@lodestone/core/drawer';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { scaleLinear } from 'd3-scale';

  const { part }: { part: Part } = $props();
  const display = useDisplay();

  const WIDTH = 280;
  const HEIGHT = 62;
  const AXIS_Y = 42;
  const published = $derived(part.element.lengthMm);
  const tolerance = $derived(part.element.toleranceMm ?? 0.1);
  const combined = $derived(combineMeasurements(part.measurements));
  const ends = $derived([
    published - tolerance,
    published + tolerance,
    ...part.measurements.map(({ lengthMm }) => lengthMm),
    ...(combined ? [combined.lengthMm - combined.expandedMm, combined.lengthMm + combined.expandedMm] : [])
  ]);
  const x = $derived(
    scaleLinear()
      .domain([Math.min(...ends), Math.max(...ends)])
      .nice(5)
      .range([14, WIDTH - 14])
  );
</script>

<svg
  width="100%"
  viewBox="0 0 {WIDTH} {HEIGHT}"
  role="img"
  aria-label="Readings against the published length: {part.measurements.length} readings"
>
  <rect
    class="band"
    x={x(published - tolerance)}
    y={10}
    width={x(published + tolerance) - x(published - tolerance)}
    height={AXIS_Y - 10}
  />
  <path class="published" d="M{x(published)} 6 V{AXIS_Y}" />
  <path class="axis" d="M{x.range()[0]} {AXIS_Y} H{x.range()[1]}" />
  {#each x.ticks(4) as tick (tick)}
    <path class="axis" d="M{x(tick)} {AXIS_Y} v4" />
    <text x={x(tick)} y={AXIS_Y + 15} text-anchor="middle">{display.number(tick)}</text>
  {/each}
  {#if combined}
    {@const [left, right] = [x(combined.lengthMm - combined.expandedMm), x(combined.lengthMm + combined.expandedMm)]}
    <path class="combined" d="M{left} 20 H{right} M{left} 16 v8 M{right} 16 v8" />
    <circle class="mean" cx={x(combined.lengthMm)} cy="20" r="3.2" />
  {/if}
  {#each part.measurements as { lengthMm }, index (index)}
    <circle class="reading" cx={x(lengthMm)} cy="33" r="2.6" />
  {/each}
</svg>

<style>
  .band {
    fill: var(--metal);
    fill-opacity: 0.45;
  }
  .published {
    stroke: var(--ink-muted);
    stroke-dasharray: 3 2;
  }
  .axis {
    stroke: var(--ink-muted);
  }
  .combined {
    stroke: var(--color-primary);
    stroke-width: 1.6;
    fill: none;
  }
  .mean {
    fill: var(--color-primary);
  }
  .reading {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1.3;
  }
  text {
    fill: var(--ink-muted);
    font-size: 10px;
  }
</style>
