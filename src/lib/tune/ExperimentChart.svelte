<script lang="ts">
  /** Spacings that were tried against what was seen: the line through them, where it crosses, and what to try next. */
  import type { TriedSpacing } from '@lodestone/core';
  import { tunedCurves, type Experiment, type TuneAnswer } from '@lodestone/core/experiment';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { scaleLinear } from 'd3-scale';

  interface Props {
    experiments: readonly TriedSpacing[];
    answer: TuneAnswer;
    publishedMm: number | undefined;
    tunedMm: number | undefined;
    nowMm: number | undefined;
  }
  const { experiments, answer, publishedMm, tunedMm, nowMm }: Props = $props();
  const display = useDisplay();

  let width = $state(360);
  let height = $state(190);
  const [LEFT, RIGHT, TOP, FOOT] = [44, 12, 18, 32] as const;

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
  const yUm = $derived(scaleLinear([-mostUm, mostUm], [height - FOOT, TOP]));
  const curves = $derived(tunedCurves(experiments as readonly Experiment[]));
  /** A curve over the whole width. */
  const pathOf = (curve: ((mm: number) => number) | undefined, to: (value: number) => number): string => {
    if (!curve) return '';
    const [from, width] = [low - pad, high - low + 2 * pad];
    const places = Array.from({ length: CURVE_PLACES + 1 }, (_, at) => from + (width * at) / CURVE_PLACES);
    return places.map((mm, at) => `${at === 0 ? 'M' : 'L'}${x(mm).toFixed(1)} ${to(curve(mm)).toFixed(1)}`).join('');
  };
  const sweptLine = $derived(pathOf(curves.sweeps, yUm));
  /** Corner stars against those of the middle, %, from the foot up; each spacing’s in order, so that a least is seen. */
  const sized = $derived(
    experiments
      .flatMap(({ spacingMm, size }) => (size ? [{ spacingMm, ...size }] : []))
      .toSorted((a, b) => a.spacingMm - b.spacingMm)
  );
  const mostPct = $derived(Math.max(40, ...sized.map(({ cornerPct }) => cornerPct)) * 1.15);
  const yPct = $derived(scaleLinear([0, mostPct], [height - FOOT, TOP]));
  /** Beside the figures on the right, where there are some. */
  const wordsX = $derived(width - RIGHT - (swept.length + sized.length > 0 ? 54 : 4));
  const marks = $derived(
    [publishedMm, tunedMm, nowMm, answer.bestMm ?? undefined, answer.nextMm ?? undefined].filter(
      (each) => each !== undefined
    )
  );
  const all = $derived([...experiments.map(({ spacingMm }) => spacingMm), ...marks]);
  const [low, high] = $derived(all.length === 0 ? [0, 1] : [Math.min(...all), Math.max(...all)]);
  const pad = $derived(Math.max(0.3, (high - low) * 0.1));
  const most = $derived(Math.max(0.1, ...shown.map(({ value }) => Math.abs(value))) * 1.2);
  const x = $derived(scaleLinear([low - pad, high + pad], [LEFT, width - RIGHT]));
  const y = $derived(scaleLinear([-most, most], [height - FOOT, TOP]));
  const line = $derived(pathOf(curves.frames, y));
  const band = $derived.by(() => {
    const { interval95Mm } = answer;
    if (!interval95Mm) return undefined;
    const [from, to] = interval95Mm.map((mm) => x(Math.max(low - pad, Math.min(high + pad, mm)))) as [number, number];
    return { from, width: Math.max(1, to - from) };
  });
  const words = ({ spacingMm, radial, sweep, eye, frame }: TriedSpacing): string =>
    `${display.length(spacingMm, 2)}: ${
      radial
        ? `${Math.abs(radial.value).toFixed(2)} ${radial.value >= 0 ? 'outward' : 'circling'}`
        : eye
          ? eye.stretch
          : `a sweep, ${sweep ? sweep.astigmatismUm.toFixed(0) : '?'} µm`
    }${frame ? `, ${frame}` : ''}`;
</script>

<div class="relative h-full min-h-40 w-full" bind:clientWidth={width} bind:clientHeight={height}>
  <svg
    class="chart"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="img"
    aria-label="Stretch of the corners against spacing{answer.bestMm === null
      ? ''
      : `; it crosses zero at ${display.length(answer.bestMm, 2)}`}"
    data-experiment-chart
  >
    <defs
      ><clipPath id="experiment-plot"
        ><rect
          x={LEFT}
          y={TOP}
          width={Math.max(0, width - LEFT - RIGHT)}
          height={Math.max(0, height - TOP - FOOT)}
        /></clipPath
      ></defs
    >
    {#if answer.toleranceMm !== null && answer.bestMm !== null}
      {@const from = x(answer.bestMm - answer.toleranceMm)}
      <g clip-path="url(#experiment-plot)">
        <rect
          class="tolerance"
          x={from}
          y={TOP}
          width={x(answer.bestMm + answer.toleranceMm) - from}
          height={height - TOP - FOOT}
        />
      </g>
    {/if}
    {#if band}
      <rect class="band" x={band.from} y={y(0) - 5} width={band.width} height="10" data-interval />
    {/if}
    {#each y.ticks(3) as value (value)}
      <path class="grid" d="M{LEFT} {y(value)}H{width - RIGHT}" />
      <text x={LEFT - 5} y={y(value) + 4} text-anchor="end"
        >{value > 0 ? '+' : value < 0 ? '−' : ''}{Math.abs(value)}</text
      >
    {/each}
    <path class="zero" d="M{LEFT} {y(0)}H{width - RIGHT}" />
    {#each x.ticks(5) as mm (mm)}
      <path class="grid" d="M{x(mm)} {height - FOOT}v4" />
      <text x={x(mm)} y={height - FOOT + 15} text-anchor="middle">{mm}</text>
    {/each}
    <text x={width - RIGHT} y={height - 3} text-anchor="end">spacing, mm</text>
    <text x={wordsX} y={TOP + 10} text-anchor="end">outward</text>
    <text x={wordsX} y={height - FOOT - 5} text-anchor="end">circling</text>
    {#if publishedMm !== undefined}
      <path class="published" d="M{x(publishedMm)} {TOP}V{height - FOOT}" />
      <text x={x(publishedMm)} y={TOP - 6} text-anchor="middle">published</text>
    {/if}
    {#if tunedMm !== undefined}
      <path class="tuned" d="M{x(tunedMm)} {TOP}V{height - FOOT}" />
      <text class="strong" x={x(tunedMm)} y={TOP - 6} text-anchor="middle">tuned</text>
    {/if}
    {#if nowMm !== undefined}
      <path class="now" d="M{x(nowMm) - 5} {height - FOOT + 6}l5 -6l5 6z"><title>as the train stands</title></path>
    {/if}
    <g clip-path="url(#experiment-plot)"><path class="line" d={line} /></g>
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
          {#if pct !== 0}<text class="pct" x={width - RIGHT - 2} y={yPct(pct) + 4} text-anchor="end">{pct} %</text>{/if}
        {/each}
      {/if}
    {/if}
    {#if swept.length > 0}
      <g clip-path="url(#experiment-plot)"><path class="line swept" d={sweptLine} /></g>
      {#each yUm.ticks(3) as um (um)}
        {#if um !== 0}<text class="um" x={width - RIGHT - 2} y={yUm(um) + 4} text-anchor="end"
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
  </svg>
</div>

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
  .now {
    fill: var(--color-base-content);
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
