<script lang="ts">
  /** Spacings that were tried against what was seen: the line through them, where it crosses, and what to try next. */
  import type { TriedSpacing } from '@lodestone/core/train';
  import { tunedCurves, type Experiment, type TuneAnswer } from '@lodestone/core/experiment';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Chart from '$lib/charts/Chart.svelte';
  import { evenly, lineThrough, signed, type Plot } from '$lib/charts/plot.ts';
  import { scaleLinear } from 'd3-scale';
  import { stretchWords } from '@lodestone/core/frame';
  import { EYE_WORDS } from './say.ts';
  import SensorEnd, { SENSOR_END_PX } from './SensorEnd.svelte';

  interface Props {
    experiments: readonly TriedSpacing[];
    answer: TuneAnswer;
    publishedMm: number | undefined;
    tunedMm: number | undefined;
    nowMm: number | undefined;
  }
  const { experiments, answer, publishedMm, tunedMm, nowMm }: Props = $props();
  const display = useDisplay();

  /** Height of an entry: of a frame its stretch; of an eye what it would be, about. */
  const STRENGTH = 0.05;
  const CURVE_PLACES = 48;
  const heightOf = ({ radial, eye }: TriedSpacing): number | undefined => {
    if (radial) return radial.value;
    if (!eye || eye.stretch === 'unknown') return undefined;
    const size = STRENGTH * (eye.strength ?? 1);
    return eye.stretch === 'outward' ? size : eye.stretch === 'circling' ? -size : 0;
  };
  const shown = $derived(
    experiments.flatMap((experiment, index) => {
      const value = heightOf(experiment);
      return value === undefined ? [] : [{ experiment, index, value }];
    })
  );
  /** Sweeps have a measure of their own, μm; both are zero at the same height. */
  const swept = $derived(
    experiments.flatMap(({ spacingMm, sweep }, index) => (sweep ? [{ spacingMm, sweep, index }] : []))
  );
  const mostUm = $derived(
    Math.max(1, ...swept.map(({ sweep }) => Math.abs(sweep.astigmatismUm) + 2 * sweep.standardUm)) * 1.2
  );
  const curves = $derived(tunedCurves(experiments as readonly Experiment[]));
  /** A curve over the whole width. */
  const pathOf = (x: Plot['x'], curve: ((mm: number) => number) | undefined, to: (value: number) => number): string =>
    curve ? lineThrough(evenly(low - pad, high + pad, CURVE_PLACES).map((mm) => [x(mm), to(curve(mm))])) : '';
  /** Another measure along the same height. */
  const measure = ({ top, bottom }: Plot, from: number, to: number) => scaleLinear([from, to], [bottom, top]);
  /** Corner stars against those of the middle, %, from the foot up; each spacing’s in order, so that a least is seen. */
  const sized = $derived(
    experiments
      .flatMap(({ spacingMm, size }) => (size ? [{ spacingMm, ...size }] : []))
      .toSorted((a, b) => a.spacingMm - b.spacingMm)
  );
  const mostPct = $derived(Math.max(40, ...sized.map(({ cornerPct }) => cornerPct)) * 1.15);
  /** Beside the figures on the right, where there are some. */
  const wordsIn = $derived(swept.length + sized.length > 0 ? 54 : 4);
  const marks = $derived(
    [publishedMm, tunedMm, nowMm, answer.bestMm ?? undefined, answer.nextMm ?? undefined].filter(
      (each) => each !== undefined
    )
  );
  const all = $derived([...experiments.map(({ spacingMm }) => spacingMm), ...marks]);
  const [low, high] = $derived(all.length === 0 ? [0, 1] : [Math.min(...all), Math.max(...all)]);
  const pad = $derived(Math.max(0.3, (high - low) * 0.1));
  const most = $derived(Math.max(0.1, ...shown.map(({ value }) => Math.abs(value))) * 1.2);
  const band = (x: Plot['x']) => {
    const { interval95Mm } = answer;
    if (!interval95Mm) return undefined;
    const [from, to] = interval95Mm.map((mm) => x(Math.max(low - pad, Math.min(high + pad, mm)))) as [number, number];
    return { from, width: Math.max(1, to - from) };
  };
  const words = ({ spacingMm, radial, sweep, eye, frame }: TriedSpacing): string =>
    `${display.length(spacingMm, 2)}: ${
      radial
        ? `${Math.abs(radial.value).toFixed(2)} ${stretchWords(radial.value)}`
        : eye
          ? EYE_WORDS[eye.stretch]
          : `a sweep, ${sweep ? sweep.astigmatismUm.toFixed(0) : '?'} µm`
    }${frame ? `, ${frame}` : ''}`;
</script>

<Chart
  label="Stretch of the corners against spacing{answer.bestMm === null
    ? ''
    : `; it crosses zero at ${display.length(answer.bestMm, 2)}`}"
  margins={{ left: 44, right: 16, top: 12, foot: 18 + SENSOR_END_PX }}
  x={[low - pad, high + pad]}
  y={[-most, most]}
  xTicks={6}
  yTicks={shown.length > 0 ? 3 : undefined}
  xInWords={(mm) => (display.unit === 'mm' ? String(mm) : display.number(mm, 3))}
  yInWords={signed}
  table={{ columns: ['entry'], rows: experiments.map((experiment) => [words(experiment)]) }}
  data-experiment-chart
>
  {#snippet children(plot)}
    {@const { x, y, left, right, top, bottom } = plot}
    {@const yUm = measure(plot, -mostUm, mostUm)}
    {@const yPct = measure(plot, 0, mostPct)}
    {@const interval = band(x)}
    {@const foot = bottom + SENSOR_END_PX - 22}
    <defs>
      <clipPath id="experiment-plot"><rect x={left} y={top} width={right - left} height={bottom - top} /></clipPath>
      <clipPath id="experiment-band"><rect x={left} y={top} width={right - left} height={foot - top} /></clipPath>
    </defs>
    {#if answer.toleranceMm !== null && answer.bestMm !== null}
      {@const from = x(answer.bestMm - answer.toleranceMm)}
      <g clip-path="url(#experiment-band)">
        <rect
          class="tolerance"
          x={from}
          y={top}
          width={x(answer.bestMm + answer.toleranceMm) - from}
          height={foot - top}
        />
      </g>
    {/if}
    {#if interval}
      <rect class="band" x={interval.from} y={y(0) - 5} width={interval.width} height="10" data-interval />
    {/if}
    {#if experiments.length > 0}
      <path class="zero" d="M{left} {y(0)}H{right}" />
      <text x={right - wordsIn} y={top + 10} text-anchor="end">radial</text>
      <text x={right - wordsIn} y={bottom - 5} text-anchor="end">tangential</text>
    {/if}
    <text x={left - 40} y={bottom + 15}>{display.unit}</text>
    {#if publishedMm !== undefined}<path class="published" d="M{x(publishedMm)} {top}V{bottom + 22}" />{/if}
    {#if tunedMm !== undefined}<path class="tuned" d="M{x(tunedMm)} {top}V{bottom + 22}" />{/if}
    {#each experiments as { spacingMm }, index (index)}
      <path class="place" d="M{x(spacingMm)} {y(0)}V{bottom + 22}" />
    {/each}
    <SensorEnd
      {plot}
      triedMm={experiments.map(({ spacingMm }) => spacingMm)}
      {publishedMm}
      {tunedMm}
      {nowMm}
      nextMm={answer.nextMm ?? undefined}
    />
    <g clip-path="url(#experiment-plot)"><path class="line" d={pathOf(x, curves.frames, y)} /></g>
    {#if answer.nextMm !== null}
      <circle class="ghost" cx={x(answer.nextMm)} cy={y(0)} r="7" data-next><title>try next</title></circle>
    {/if}
    {#if sized.length > 0}
      <path
        class="size"
        d="M{sized.map(({ spacingMm, cornerPct }) => `${x(spacingMm)} ${yPct(Math.max(0, cornerPct))}`).join('L')}"
      />
      {#each sized as { spacingMm, cornerPct }, at (at)}
        <path class="size" d="M{x(spacingMm) - 5} {yPct(Math.max(0, cornerPct))}h10" data-corner-size
          ><title>corner stars {Math.round(cornerPct)} % larger than those of the middle</title></path
        >
      {/each}
      {#if swept.length === 0}
        {#each yPct.ticks(3) as pct (pct)}
          {#if pct !== 0}<text class="pct" x={right - 2} y={yPct(pct) + 4} text-anchor="end">{pct} %</text>{/if}
        {/each}
      {/if}
    {/if}
    {#if swept.length > 0}
      <g clip-path="url(#experiment-plot)"><path class="line swept" d={pathOf(x, curves.sweeps, yUm)} /></g>
      {#each yUm.ticks(3) as um (um)}
        {#if um !== 0}<text class="um" x={right - 2} y={yUm(um) + 4} text-anchor="end"
            >{um > 0 ? '+' : '−'}{Math.abs(um)} µm</text
          >{/if}
      {/each}
      {#each swept as { spacingMm, sweep, index } (index)}
        {@const [cx, cy] = [x(spacingMm), yUm(sweep.astigmatismUm)]}
        <path
          class="error um"
          d="M{cx} {yUm(sweep.astigmatismUm - 2 * sweep.standardUm)}V{yUm(sweep.astigmatismUm + 2 * sweep.standardUm)}"
        />
        <path
          class={['diamond', answer.outliers.includes(index) && 'left']}
          d="M{cx} {cy - 6}l6 6l-6 6l-6 -6z"
          data-experiment={index}><title>{words(experiments[index]!)}</title></path
        >
      {/each}
    {/if}
    {#each shown as { experiment, index, value } (index)}
      {@const at = x(experiment.spacingMm)}
      {#if experiment.radial}
        {@const { standard } = experiment.radial}
        <path class="error" d="M{at} {y(value - 2 * standard)}V{y(value + 2 * standard)}" />
      {/if}
      {#if experiment.uncertaintyMm}
        <path
          class="error"
          d="M{x(experiment.spacingMm - experiment.uncertaintyMm)} {y(value)}H{x(
            experiment.spacingMm + experiment.uncertaintyMm
          )}"
        />
      {/if}
      {#if experiment.eye}
        <rect
          class={['point', answer.outliers.includes(index) && 'left']}
          x={at - 4}
          y={y(value) - 4}
          width="8"
          height="8"
          data-experiment={index}><title>{words(experiment)}</title></rect
        >
      {:else}
        <circle
          class={['point', answer.outliers.includes(index) && 'left']}
          cx={at}
          cy={y(value)}
          r="4.5"
          data-experiment={index}><title>{words(experiment)}</title></circle
        >
      {/if}
    {/each}
  {/snippet}
</Chart>

<style>
  .zero {
    stroke: var(--metal-edge);
  }
  .tolerance {
    fill: var(--color-success);
    fill-opacity: 0.12;
  }
  .band {
    fill: var(--color-success);
    fill-opacity: 0.55;
  }
  .published {
    stroke: var(--metal-edge);
    stroke-dasharray: 2 4;
  }
  .tuned {
    stroke: var(--color-success);
    stroke-width: 1.6;
  }
  .place {
    stroke: var(--color-primary);
    stroke-opacity: 0.35;
  }
  .line {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 1.8;
  }
  .ghost {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 1.8;
    stroke-dasharray: 3 2;
  }
  .error {
    stroke: var(--color-primary);
    stroke-opacity: 0.6;
  }
  .line.swept,
  .error.um {
    stroke: var(--drawn-circling);
    stroke-dasharray: 5 3;
  }
  .size {
    fill: none;
    stroke: var(--color-warning);
    stroke-width: 1.4;
    stroke-opacity: 0.8;
  }
  text.pct {
    fill: var(--color-warning);
  }
  text.um {
    fill: var(--drawn-circling);
  }
  .diamond {
    fill: var(--drawn-circling);
  }
  .diamond.left {
    fill: none;
    stroke: var(--drawn-circling);
  }
  .point {
    fill: var(--color-primary);
  }
  .point.left {
    fill: none;
    stroke: var(--color-primary);
  }
</style>
