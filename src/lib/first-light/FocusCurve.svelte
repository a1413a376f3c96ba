<script lang="ts">
  import type { FocusAnswer, FocusPoint } from '@lodestone/core/focus';
  import { scaleLinear } from 'd3-scale';
  import { starOf } from './guide.ts';

  interface Props {
    points: readonly FocusPoint[];
    answer: FocusAnswer;
    next: number | undefined;
    onchoose: (index: number) => void;
    chosen: number | undefined;
  }
  const { points, answer, next, onchoose, chosen }: Props = $props();

  let width = $state(520);
  let height = $state(280);
  const [LEFT, RIGHT, TOP, FOOT] = [40, 14, 14, 34] as const;
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
  const x = $derived(scaleLinear([low - pad, high + pad], [LEFT, width - RIGHT]));
  const y = $derived(scaleLinear([0, most], [height - FOOT, TOP]));
  const left = $derived(new Map(answer.left.map(({ index, why }) => [index, why])));
  const curve = $derived.by(() => {
    if (!answer.curve) return '';
    const { x0, aPx, perStepPx } = answer.curve;
    const at = Array.from({ length: STEPS + 1 }, (_, step) => low - pad + ((high - low + 2 * pad) * step) / STEPS);
    return at
      .map((position, step) => {
        const hfr = Math.min(most, Math.hypot(aPx, perStepPx * (position - x0)));
        return `${step === 0 ? 'M' : 'L'}${x(position)} ${y(hfr)}`;
      })
      .join('');
  });
  const words = (index: number): string => {
    const point = points[index]!;
    const why = left.get(index);
    return `Frame ${index + 1}: ${starOf(point)} at ${point.position}${why === undefined ? '' : `, left out: ${why}`}`;
  };
</script>

<div class="relative h-full min-h-56 w-full" bind:clientWidth={width} bind:clientHeight={height}>
  <svg
    class="chart"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="group"
    aria-label="Half-flux radius against position{answer.bestPosition === null || answer.standard === null
      ? ''
      : `; best at ${answer.bestPosition.toFixed(0)} ± ${answer.standard.toFixed(0)}`}"
    data-focus-curve
  >
    {#each y.ticks(5) as px (px)}
      <path class="grid" d="M{LEFT} {y(px)}H{width - RIGHT}" />
      <text x={LEFT - 6} y={y(px) + 4} text-anchor="end">{px}</text>
    {/each}
    {#each x.ticks(6) as position (position)}
      <path class="grid" d="M{x(position)} {height - FOOT}v4" />
      <text x={x(position)} y={height - FOOT + 16} text-anchor="middle">{position}</text>
    {/each}
    <text x={width - RIGHT} y={height - 3} text-anchor="end">position, steps</text>
    <text x={LEFT - 34} y={10}>HFR, px</text>
    {#if answer.bestPosition !== null && answer.standard !== null}
      {@const from = x(answer.bestPosition - 2 * answer.standard)}
      <rect
        class="band"
        x={from}
        y={TOP}
        width={Math.max(1, x(answer.bestPosition + 2 * answer.standard) - from)}
        height={height - FOOT - TOP}
        data-band
      />
      <path class="best" d="M{x(answer.bestPosition)} {TOP}V{height - FOOT}" />
      <path class="curve" d={curve} />
    {/if}
    {#if next !== undefined}
      <path class="next" d="M{x(next)} {TOP + 14}V{height - FOOT}" />
      <text class="strong" x={x(next)} y={TOP + 9} text-anchor="middle">next</text>
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
  </svg>
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
