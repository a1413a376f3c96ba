<script lang="ts">
  /** A cut through the focal surface along the way it rises most: where radial and tangential lines are sharp, and where the sensor stands. */
  import type { SweepReading } from '@lodestone/core/experiment';
  import Chart from '$lib/charts/Chart.svelte';
  import { evenly, lineThrough, signed, type Plot } from '$lib/charts/plot.ts';

  interface Props {
    sweep: SweepReading;
    /** Depth of focus, ± μm; undefined where it is not known. */
    depthUm: number | undefined;
  }
  const { sweep, depthUm }: Props = $props();

  const slope = $derived(Math.hypot(...sweep.tilt.slopeUm));
  /** Direction of the cut: toward what stands farthest; along the picture where nothing is tilted. */
  const cut = $derived(
    slope > 0 ? ([sweep.tilt.slopeUm[0] / slope, sweep.tilt.slopeUm[1] / slope] as const) : ([1, 0] as const)
  );
  /** Focus against the middle at a place of the cut, +: farther from the telescope. */
  const focusAt = (s: number, axis: 1 | -1): number =>
    -slope * s + (sweep.curvatureUm + (axis * sweep.astigmatismUm) / 2) * s * s;
  const steps = evenly(-1, 1, 40);
  const middle = $derived(sweep.bestUm - sweep.middleUm);
  const values = $derived([
    ...steps.flatMap((s) => [focusAt(s, 1), focusAt(s, -1)]),
    ...sweep.regions.flatMap(({ radialUm, tangentialUm }) => [radialUm, tangentialUm])
  ]);
  const low = $derived(Math.min(...values, middle - (depthUm ?? 5)));
  const high = $derived(Math.max(...values, middle + (depthUm ?? 5)));
  const pad = $derived((high - low) * 0.08);
  const path = ({ x, y }: Plot, axis: 1 | -1) => lineThrough(steps.map((s) => [x(s), y(focusAt(s, axis))]));
  /** Regions near the cut, by their place on it. */
  const near = $derived(
    sweep.regions
      .map((region) => ({
        ...region,
        s: region.x * cut[0] + region.y * cut[1],
        aside: Math.abs(region.x * cut[1] - region.y * cut[0])
      }))
      .filter(({ aside }) => aside < 0.3)
  );
  const table = $derived({
    columns: ['place along the cut, %', 'radial, µm', 'tangential, µm', 'stars'],
    rows: near
      .toSorted((a, b) => a.s - b.s)
      .map(({ s, radialUm, tangentialUm, stars }) => [
        (100 * s).toFixed(0),
        radialUm.toFixed(0),
        tangentialUm.toFixed(0),
        String(stars)
      ])
  });
</script>

<Chart
  label="Best focus along the cut that rises most: {Math.round(sweep.tilt.acrossUm)} µm of tilt, {Math.round(
    sweep.curvatureUm
  )} µm of curvature, {Math.round(sweep.astigmatismUm)} µm between radial and tangential in the corners"
  margins={{ left: 40, right: 10, top: 16, foot: 30 }}
  x={[-1, 1]}
  y={[low - pad, high + pad]}
  yTicks={4}
  yInWords={signed}
  {table}
  data-focal-surface
>
  {#snippet children(plot)}
    {@const { x, y, left, right, top, bottom } = plot}
    {#if depthUm !== undefined}
      <rect
        class="depth"
        x={left}
        width={right - left}
        y={y(middle + depthUm)}
        height={Math.max(1, y(middle - depthUm) - y(middle + depthUm))}
        ><title>depth of focus: ±{depthUm.toFixed(0)} µm</title></rect
      >
    {/if}
    <path class="sensor" d="M{left} {y(middle)}H{right}" />
    <path class="line" d={path(plot, 1)} />
    <path class="line tangential" d={path(plot, -1)} />
    {#each near as { s, radialUm, tangentialUm, standardUm, stars }, index (index)}
      <path class="error" d="M{x(s) - 2} {y(radialUm - 2 * standardUm)}V{y(radialUm + 2 * standardUm)}" />
      <circle class="point" cx={x(s) - 2} cy={y(radialUm)} r="3"
        ><title>radial {radialUm.toFixed(0)} µm, {stars} stars</title></circle
      >
      <circle class="point tangential" cx={x(s) + 2} cy={y(tangentialUm)} r="3"
        ><title>tangential {tangentialUm.toFixed(0)} µm</title></circle
      >
    {/each}
    <text x={left} y={bottom + 18}>{slope > 0 ? 'nearest side' : 'left'}</text>
    <text x={right} y={bottom + 18} text-anchor="end">{slope > 0 ? 'farthest side' : 'right'}</text>
    <text x={left + 4} y={top - 4}>best focus, µm</text>
    <text x={right} y={top - 4} text-anchor="end">radial ── tangential ╌╌</text>
  {/snippet}
</Chart>

<style>
  .depth {
    fill: var(--color-success);
    fill-opacity: 0.14;
  }
  .sensor {
    stroke: var(--color-base-content);
    stroke-width: 1.6;
  }
  .line {
    fill: none;
    stroke: var(--drawn-outward);
    stroke-width: 1.8;
  }
  .line.tangential {
    stroke: var(--drawn-circling);
    stroke-dasharray: 5 3;
  }
  .error {
    stroke: var(--drawn-outward);
    stroke-opacity: 0.5;
  }
  .point {
    fill: var(--drawn-outward);
  }
  .point.tangential {
    fill: none;
    stroke: var(--drawn-circling);
    stroke-width: 1.5;
  }
</style>
