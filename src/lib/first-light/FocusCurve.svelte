<script lang="ts">
  import type { FocusAnswer, FocusPoint } from '@lodestone/core/focus';
  import { evenly, lineThrough, type Plot } from '$lib/charts/plot.ts';
  import { starOf } from './guide.ts';

  /** Star sizes against the position of the focuser: the frames, and the curve through them. */
  interface Props {
    plot: Plot;
    points: readonly FocusPoint[];
    answer: FocusAnswer;
    /** Number of the frame that was pointed at, from 0. */
    chosen: number | undefined;
    onchoose: (index: number) => void;
  }
  const { plot, points, answer, chosen, onchoose }: Props = $props();

  const STEPS = 240;
  const most = $derived(plot.y.domain()[1]!);
  const [low, high] = $derived(plot.x.domain() as [number, number]);
  const left = $derived(new Map(answer.left.map(({ index, why }) => [index, why])));
  const curve = $derived.by(() => {
    if (!answer.curve) return '';
    const { x0, aPx, perStepPx } = answer.curve;
    // It leaves the plot on both sides for good: what is left of it is one piece.
    return lineThrough(
      evenly(low, high, STEPS).flatMap((position): [number, number][] => {
        const hfrPx = Math.hypot(aPx, perStepPx * (position - x0));
        return hfrPx > most ? [] : [[plot.x(position), plot.y(hfrPx)]];
      })
    );
  });
  const words = (index: number): string => {
    const point = points[index]!;
    const why = left.get(index);
    return `Frame ${index + 1}: ${starOf(point)} at ${point.position}${why === undefined ? '' : `, excluded: ${why}`}`;
  };
  const shown = $derived(
    points.flatMap((point, index) => {
      const hfrPx = point.hfrPx ?? (point.seen === 'nothing' ? most : 0);
      return point.position >= low && point.position <= high && hfrPx <= most ? [{ ...point, index, hfrPx }] : [];
    })
  );
</script>

{#if curve}<path class="curve" d={curve} />{/if}
{#each shown as { index, position, hfrPx, standardPx, ceiling, seen } (index)}
  {@const at = plot.x(position)}
  {#if ceiling || seen === 'nothing'}
    <!-- A bound: the star is larger than this. -->
    <path class="error" d="M{at} {plot.y(hfrPx) - 6}v-8m-4 4l4 -4l4 4" />
  {:else if standardPx !== undefined}
    <path class="error" d="M{at} {plot.y(hfrPx + standardPx)}V{plot.y(Math.max(0, hfrPx - standardPx))}" />
  {/if}
  <circle
    class={['point', left.has(index) && 'left', index === points.length - 1 && 'last', index === chosen && 'chosen']}
    cx={at}
    cy={plot.y(hfrPx)}
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
{/each}

<style>
  .curve {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2;
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
