<script lang="ts">
  import Chart from '$lib/charts/Chart.svelte';
  import { useTrain } from '$lib/train/context.ts';
  import { focusAxis } from './focusAxis.ts';
  import FocusCurve from './FocusCurve.svelte';
  import FocusTube, { TUBE_PX } from './FocusTube.svelte';
  import { starOf, type Mover } from './guide.ts';
  import type { FocusSession } from './run.svelte.ts';

  /** The focus curve over what is moved to focus: a position of the curve is the position of the tube under it. */
  interface Props {
    session: FocusSession;
    mover: Mover;
    /** Position of the next frame, where one is asked for. */
    next: number | undefined;
    /** Number of the frame that was pointed at, from 0. */
    chosen: number | undefined;
  }
  let { session, mover, next, chosen = $bindable() }: Props = $props();
  const train = useTrain();

  const { answer, points } = $derived(session);
  const budget = $derived(train.assessment.facts.focus);
  const axis = $derived(
    focusAxis({
      points,
      answer,
      next,
      budget,
      umPerStep: session.umPerStep,
      maxPosition: session.maxPosition
    })
  );
  let isNear = $state(true);
  const [low, high] = $derived((isNear && axis.near) || axis.whole);
  /** With nothing to show yet the empty curve still has a height. */
  const LEAST_PX = 4;
  const most = $derived(
    1.08 *
      Math.max(
        LEAST_PX,
        ...points.flatMap(({ hfrPx, position }) =>
          hfrPx !== undefined && position >= low && position <= high ? [hfrPx] : []
        )
      )
  );
  const isReached = $derived(
    budget === undefined || budget.report.verdict === 'unknown' ? undefined : budget.report.verdict === 'reaches'
  );
  const best = $derived(answer.bestPosition);
  const label = $derived(
    `Half-flux radius against position, over the ${mover.name}${best === null || answer.standard === null ? '' : `; best at ${best.toFixed(0)} ± ${answer.standard.toFixed(0)}`}`
  );
</script>

<div class="absolute inset-0">
  <Chart
    {label}
    role="group"
    margins={{ left: 44, right: 16, top: 20, foot: 22 + TUBE_PX }}
    x={[low, high]}
    y={[0, most]}
    xTicks={6}
    yTicks={points.length === 0 ? undefined : 5}
    table={{
      columns: ['frame', 'position, steps', 'star', 'excluded'],
      rows: points.map((point, index) => [
        String(index + 1),
        String(point.position),
        starOf(point),
        answer.left.find((left) => left.index === index)?.why ?? ''
      ])
    }}
    data-focus-curve
  >
    {#snippet children(plot)}
      {@const { x, top, bottom, left, right } = plot}
      {@const foot = bottom + TUBE_PX - 34}
      <path class="grid" d="M{left} {bottom}H{right}" />
      <text x={right} y={bottom - 6} text-anchor="end">{axis.unit === 'mm' ? 'mm out' : 'position, steps'}</text>
      {#if points.length === 0}
        <text x={(left + right) / 2} y={(top + bottom) / 2} text-anchor="middle">Every frame becomes a point here</text>
      {:else}
        <text x={left - 40} y={top - 8}>HFR, px</text>
      {/if}
      <!-- A section of the tube: what lies outside is left out. -->
      {#if best !== null && answer.standard !== null}
        {@const from = x(best - 2 * answer.standard)}
        <rect
          class="band"
          x={from}
          y={top}
          width={Math.max(1, x(best + 2 * answer.standard) - from)}
          height={foot - top}
          data-band
        />
        <path class="best" d="M{x(best)} {top}V{foot}" />
      {/if}
      {#if next !== undefined && next >= low && next <= high}
        <path class="next" d="M{x(next)} {top}V{foot}" />
        <text class="strong" x={x(next)} y={top - 6} text-anchor="middle">next</text>
      {/if}
      <FocusTube
        {plot}
        {axis}
        name={mover.name}
        stands={points.at(-1)?.position ?? (axis.unit === 'mm' ? 0 : undefined)}
        best={best ?? undefined}
        {isReached}
      />
      <FocusCurve
        {plot}
        {points}
        {answer}
        {chosen}
        onchoose={(index) => (chosen = chosen === index ? undefined : index)}
      />
    {/snippet}
  </Chart>
  {#if axis.near}
    <div class="join absolute top-0 right-0" role="group" aria-label="What is shown">
      {#each [true, false] as near (near)}
        <button
          class={['btn btn-xs join-item font-normal', isNear === near ? 'btn-neutral' : 'btn-ghost']}
          aria-pressed={isNear === near}
          onclick={() => (isNear = near)}>{near ? 'near the best' : 'whole travel'}</button
        >
      {/each}
    </div>
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
  .next {
    stroke: var(--color-base-content);
    stroke-dasharray: 2 4;
  }
</style>
