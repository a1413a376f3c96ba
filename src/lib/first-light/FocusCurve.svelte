<script lang="ts">
  import type { FocusAnswer, FocusPoint } from '@lodestone/core/focus';
  import Chart from '$lib/charts/Chart.svelte';
  import { evenly, lineThrough, type Plot } from '$lib/charts/plot.ts';
  import { starOf } from './guide.ts';

  interface Props {
    points: readonly FocusPoint[];
    answer: FocusAnswer;
    next: number | undefined;
    onchoose: (index: number) => void;
    chosen: number | undefined;
  }
  const { points, answer, next, onchoose, chosen }: Props = $props();

  const STEPS = 60;

  const measured = $derived(
    points.flatMap((point) => (point.hfrPx === undefined ? [] : [{ ...point, hfrPx: point.hfrPx }]))
  );
  /** Stars larger than so many times the smallest are far away: the best is looked at from nearby. */
  const NEARBY = 7;
  let isNear = $state(true);
  const near = $derived.by(() => {
    if (!answer.curve || !isNear) return undefined;
    const { aPx } = answer.curve;
    const inside = measured.filter(({ hfrPx }) => hfrPx <= NEARBY * aPx);
    return inside.length >= 3 && inside.length < measured.length ? inside : undefined;
  });
  const shownPoints = $derived(near ?? measured);
  const all = $derived([
    ...(near ?? points).map(({ position }) => position),
    ...(next === undefined ? [] : [next]),
    ...(answer.bestPosition === null ? [] : [answer.bestPosition])
  ]);
  const low = $derived(all.length === 0 ? 0 : Math.min(...all));
  const high = $derived(all.length === 0 ? 1000 : Math.max(...all));
  const pad = $derived(Math.max((high - low) * 0.06, 10));
  const most = $derived(Math.max(4, ...shownPoints.map(({ hfrPx }) => hfrPx)) * 1.08);
  const left = $derived(new Map(answer.left.map(({ index, why }) => [index, why])));
  const curve = ({ x, y }: Plot): string => {
    if (!answer.curve) return '';
    const { x0, aPx, perStepPx } = answer.curve;
    return lineThrough(
      evenly(low - pad, high + pad, STEPS).map((position) => [
        x(position),
        y(Math.min(most, Math.hypot(aPx, perStepPx * (position - x0))))
      ])
    );
  };
  const words = (index: number): string => {
    const point = points[index]!;
    const why = left.get(index);
    return `Frame ${index + 1}: ${starOf(point)} at ${point.position}${why === undefined ? '' : `, left out: ${why}`}`;
  };
</script>

<div class="relative h-full min-h-56 w-full">
  <Chart
    label="Half-flux radius against position{answer.bestPosition === null || answer.standard === null
      ? ''
      : `; best at ${answer.bestPosition.toFixed(0)} ± ${answer.standard.toFixed(0)}`}"
    role="group"
    margins={{ left: 40, right: 14, top: 14, foot: 34 }}
    x={[low - pad, high + pad]}
    y={[0, most]}
    xTicks={6}
    yTicks={5}
    table={{
      columns: ['frame', 'position, steps', 'star', 'left out'],
      rows: points.map((point, index) => [
        String(index + 1),
        String(point.position),
        starOf(point),
        left.get(index) ?? ''
      ])
    }}
    data-focus-curve
  >
    {#snippet children(plot)}
      {@const { x, y, left: plotLeft, right, top, bottom } = plot}
      <text x={right} y={bottom + 31} text-anchor="end">position, steps</text>
      <text x={plotLeft - 34} y={10}>HFR, px</text>
      {#if answer.bestPosition !== null && answer.standard !== null}
        {@const from = x(answer.bestPosition - 2 * answer.standard)}
        <rect
          class="band"
          x={from}
          y={top}
          width={Math.max(1, x(answer.bestPosition + 2 * answer.standard) - from)}
          height={bottom - top}
          data-band
        />
        <path class="best" d="M{x(answer.bestPosition)} {top}V{bottom}" />
        <path class="curve" d={curve(plot)} />
      {/if}
      {#if next !== undefined}
        <path class="next" d="M{x(next)} {top + 14}V{bottom}" />
        <text class="strong" x={x(next)} y={top + 9} text-anchor="middle">next</text>
      {/if}
      {#each points as { position, hfrPx: sizePx, standardPx, ceiling, seen }, index (index)}
        {@const hfrPx = sizePx ?? (seen === 'nothing' ? most : 0)}
        {#if position >= low - pad && position <= high + pad && hfrPx <= most}
          {#if ceiling || seen === 'nothing'}
            <!-- A bound: the star is larger than this. -->
            <path class="error" d="M{x(position)} {y(hfrPx) - 6}v-8m-4 4l4 -4l4 4" />
          {:else if standardPx !== undefined}
            <path class="error" d="M{x(position)} {y(hfrPx + standardPx)}V{y(Math.max(0, hfrPx - standardPx))}" />
          {/if}
          <circle
            class={[
              'point',
              left.has(index) && 'left',
              index === points.length - 1 && 'last',
              index === chosen && 'chosen'
            ]}
            cx={x(position)}
            cy={y(hfrPx)}
            r={index === chosen ? 7 : 5}
            role="button"
            tabindex="0"
            aria-label={words(index)}
            onclick={() => onchoose(index)}
            onkeydown={(event) => {
              if (event.key !== 'Enter' && event.key !== ' ') return;
              event.preventDefault();
              onchoose(index);
            }}><title>{words(index)}</title></circle
          >
        {/if}
      {/each}
    {/snippet}
  </Chart>
  {#if answer.curve && (near !== undefined || !isNear)}
    <button class="btn btn-ghost btn-xs absolute bottom-0 left-0 font-normal" onclick={() => (isNear = !isNear)}
      >{isNear ? `all ${points.length} frames` : 'near the best'}</button
    >
  {/if}
</div>

<style>
  .band {
    fill: var(--color-success);
    fill-opacity: 0.16;
  }
  .best {
    stroke: var(--color-success);
    stroke-dasharray: 5 4;
  }
  .curve {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  .next {
    stroke: var(--color-base-content);
    stroke-dasharray: 2 4;
  }
  .error {
    stroke: var(--metal-edge);
  }
  .point {
    fill: var(--color-primary);
    stroke: var(--color-base-200);
    stroke-width: 1.5;
    cursor: pointer;
  }
  .point.left {
    fill: var(--color-base-200);
    stroke: var(--ink-muted);
    stroke-dasharray: 2 2;
  }
  .point.last {
    stroke: var(--color-base-content);
  }
  .point.chosen {
    stroke: var(--color-base-content);
    stroke-width: 2.5;
  }
</style>
