<script lang="ts">
  /** A cut through the focal surface along the way it rises most: where radial and tangential lines are sharp, and where the sensor stands. */
  import type { SweepReading } from '@lodestone/core/experiment';
  import { scaleLinear } from 'd3-scale';

  interface Props {
    sweep: SweepReading;
    /** Depth of focus, ± μm; undefined where it is not known. */
    depthUm: number | undefined;
  }
  const { sweep, depthUm }: Props = $props();

  let width = $state(340);
  let height = $state(170);
  const [LEFT, RIGHT, TOP, FOOT] = [40, 10, 16, 30] as const;

  const slope = $derived(Math.hypot(...sweep.tilt.slopeUm));
  /** Direction of the cut: toward what stands farthest; along the picture where nothing is tilted. */
  const cut = $derived(
    slope > 0 ? ([sweep.tilt.slopeUm[0] / slope, sweep.tilt.slopeUm[1] / slope] as const) : ([1, 0] as const)
  );
  /** Focus against the middle at a place of the cut, +: farther from the telescope. */
  const focusAt = (s: number, axis: 1 | -1): number =>
    -slope * s + (sweep.curvatureUm + (axis * sweep.astigmatismUm) / 2) * s * s;
  const steps = Array.from({ length: 41 }, (_, at) => at / 20 - 1);
  const middle = $derived(sweep.bestUm - sweep.middleUm);
  const values = $derived([
    ...steps.flatMap((s) => [focusAt(s, 1), focusAt(s, -1)]),
    ...sweep.regions.flatMap(({ radialUm, tangentialUm }) => [radialUm, tangentialUm])
  ]);
  const low = $derived(Math.min(...values, middle - (depthUm ?? 5)));
  const high = $derived(Math.max(...values, middle + (depthUm ?? 5)));
  const pad = $derived((high - low) * 0.08);
  const x = $derived(scaleLinear([-1, 1], [LEFT, width - RIGHT]));
  const y = $derived(scaleLinear([low - pad, high + pad], [height - FOOT, TOP]));
  const path = (axis: 1 | -1) =>
    steps.map((s, at) => `${at === 0 ? 'M' : 'L'}${x(s).toFixed(1)} ${y(focusAt(s, axis)).toFixed(1)}`).join('');
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
  const signed = (um: number) => `${um > 0 ? '+' : um < 0 ? '−' : ''}${Math.abs(um)}`;
</script>

<div class="relative h-full min-h-36 w-full" bind:clientWidth={width} bind:clientHeight={height}>
  <svg
    class="chart"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="img"
    aria-label="Best focus along the cut that rises most: {Math.round(sweep.tilt.acrossUm)} µm of tilt, {Math.round(
      sweep.curvatureUm
    )} µm of curvature, {Math.round(sweep.astigmatismUm)} µm between radial and tangential in the corners"
    data-focal-surface
  >
    {#if depthUm !== undefined}
      <rect
        class="depth"
        x={LEFT}
        width={Math.max(0, width - LEFT - RIGHT)}
        y={y(middle + depthUm)}
        height={Math.max(1, y(middle - depthUm) - y(middle + depthUm))}
        ><title>depth of focus: ±{depthUm.toFixed(0)} µm</title></rect
      >
    {/if}
    {#each y.ticks(4) as um (um)}
      <path class="grid" d="M{LEFT} {y(um)}H{width - RIGHT}" />
      <text x={LEFT - 5} y={y(um) + 4} text-anchor="end">{signed(um)}</text>
    {/each}
    <path class="sensor" d="M{LEFT} {y(middle)}H{width - RIGHT}" />
    <path class="line" d={path(1)} />
    <path class="line tangential" d={path(-1)} />
    {#each near as { s, radialUm, tangentialUm, standardUm, stars }, index (index)}
      <path class="error" d="M{x(s) - 2} {y(radialUm - 2 * standardUm)}V{y(radialUm + 2 * standardUm)}" />
      <circle class="point" cx={x(s) - 2} cy={y(radialUm)} r="3"
        ><title>radial {radialUm.toFixed(0)} µm, {stars} stars</title></circle
      >
      <circle class="point tangential" cx={x(s) + 2} cy={y(tangentialUm)} r="3"
        ><title>tangential {tangentialUm.toFixed(0)} µm</title></circle
      >
    {/each}
    <text x={LEFT} y={height - 12}>{slope > 0 ? 'nearest side' : 'left'}</text>
    <text x={width - RIGHT} y={height - 12} text-anchor="end">{slope > 0 ? 'farthest side' : 'right'}</text>
    <text x={LEFT + 4} y={TOP - 4}>best focus, µm</text>
    <text x={width - RIGHT} y={TOP - 4} text-anchor="end">radial ── tangential ╌╌</text>
  </svg>
</div>

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
