<script lang="ts">
  import { EXPANSIONS, REFERENCE_C, doubtName, narrowings, shrinkingOf } from '@lodestone/core/doubt';
  import { TRAIN } from '@lodestone/core/train';
  import Field from '$lib/element/Field.svelte';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import TryAgain from '$lib/ui/TryAgain.svelte';
  import Why from '$lib/ui/Why.svelte';
  import { scaleLinear } from 'd3-scale';
  import { onDestroy } from 'svelte';
  import { DrawsView } from './draws.svelte.ts';

  const train = useTrain();
  const display = useDisplay();
  const draws = new DrawsView();
  onDestroy(() => draws.end());

  const { facts, ledger, uncertainty } = $derived(train.assessment);
  const { spread, doubts } = $derived(facts);
  const { residualMm, required } = $derived(ledger);
  const chance = $derived(uncertainty.probabilityInTolerance);
  const best = $derived(narrowings(doubts).slice(0, 5));

  const COUNT = 1_000_000;
  const SEED = 20;
  const CELLS = 48;
  const HEIGHT = 150;
  const [LEFT, RIGHT, TOP, FOOT] = [8, 8, 10, 30] as const;
  let width = $state(380);

  /** Errors that leave the sensor within tolerance, mm. */
  const withinMm = $derived(
    residualMm === null || required.toleranceMm === null
      ? null
      : ([-required.toleranceMm - residualMm, required.toleranceMm - residualMm] as const)
  );
  const reachMm = $derived(
    Math.max(1.15 * spread.halfWidth95Mm, 3.2 * spread.standardMm, required.toleranceMm ?? 0, 0.01)
  );
  /** What is drawn is where the sensor may stand: the residual as it is reckoned, and the errors round it. */
  const middleMm = $derived(residualMm ?? 0);
  const x = $derived(scaleLinear([middleMm - reachMm, middleMm + reachMm], [LEFT, width - RIGHT]));
  const cellMm = $derived((2 * reachMm) / CELLS);
  const exact = $derived(
    Array.from({ length: CELLS }, (_, cell) => spread.between(-reachMm + cell * cellMm, -reachMm + (cell + 1) * cellMm))
  );
  const most = $derived(Math.max(...exact, 1e-9));
  const y = $derived(scaleLinear([0, most], [HEIGHT - FOOT, TOP]));
  const curve = $derived(
    exact
      .map((share, cell) => `${cell === 0 ? 'M' : 'L'}${x(middleMm - reachMm + (cell + 0.5) * cellMm)} ${y(share)}`)
      .join('')
  );

  let tries = $state(0);
  // A million draws take a blink in a worker; while somebody types, the last of them is what counts.
  $effect(() => {
    void tries;
    const task = {
      doubts: $state.snapshot(doubts) as typeof doubts,
      count: COUNT,
      seed: SEED,
      reachMm,
      cells: CELLS,
      withinMm
    };
    const later = setTimeout(() => void draws.ask(task), 250);
    return () => clearTimeout(later);
  });

  const night = $derived(train.document.nightC);
  const shrinking = $derived(night === undefined ? undefined : shrinkingOf(train.shown, ledger, night));
  const percent = (share: number) => `${(share * 100).toFixed(0)} %`;
</script>

<h2 class="text-base font-semibold">How well the length is known</h2>
<p class="mb-1">
  <Why subject="doubt.interval">±{display.tolerance(spread.halfWidth95Mm)}</Why> (95 %), at worst ±{display.tolerance(
    spread.worstCaseMm
  )}{#if train.assessment.chanceInWords !== null}; it is <span class="font-semibold"
      >{train.assessment.chanceInWords}</span
    >{/if}.
</p>
<div bind:clientWidth={width}>
  <svg
    {width}
    height={HEIGHT}
    viewBox="0 0 {width} {HEIGHT}"
    role="img"
    aria-label="Where the sensor may be: standard uncertainty {display.length(spread.standardMm, 3)}{chance === null
      ? ''
      : `, ${percent(chance)} within tolerance`}"
    data-doubt-plot
  >
    {#if required.toleranceMm !== null && residualMm !== null}
      {@const from = Math.max(LEFT, x(-required.toleranceMm))}
      {@const to = Math.min(width - RIGHT, x(required.toleranceMm))}
      <rect class="band" x={from} y={TOP} width={Math.max(0, to - from)} height={HEIGHT - FOOT - TOP} />
      <path class="should" d="M{x(0)} {TOP}V{HEIGHT - FOOT}" />
    {/if}
    {#each draws.drawn?.shares ?? [] as share, cell (cell)}
      {@const left = x(middleMm - reachMm + cell * cellMm)}
      <rect
        class="bar"
        x={left + 0.5}
        y={y(Math.min(share, most))}
        width={Math.max(0.5, x(middleMm - reachMm + (cell + 1) * cellMm) - left - 1)}
        height={HEIGHT - FOOT - y(Math.min(share, most))}
      />
    {/each}
    <path class="curve" d={curve} />
    <path class="base" d="M{LEFT} {HEIGHT - FOOT}H{width - RIGHT}" />
    {#each x.ticks(5) as mm (mm)}
      <path class="base" d="M{x(mm)} {HEIGHT - FOOT}v4" />
      <text x={x(mm)} y={HEIGHT - FOOT + 16} text-anchor="middle"
        >{display.number(mm, display.unit === 'mm' ? 2 : 3)}</text
      >
    {/each}
    <text class="right" x={width - RIGHT} y={HEIGHT - 2} text-anchor="end">short ← error, {display.unit} → long</text>
  </svg>
</div>
{#if draws.failure}<TryAgain message={draws.failure} onagain={() => tries++} />{/if}
<p class="text-muted text-xs" data-draws>
  The line is calculated, the bars are {draws.drawn && !draws.busy
    ? `${(draws.drawn.count / 1e6).toFixed(0)} million draws${draws.drawn.within === null ? '' : `, ${Math.round((1 - draws.drawn.within) * draws.drawn.count)} of them out of tolerance`}.`
    : draws.failure
      ? 'not drawn.'
      : 'being drawn …'}
</p>
{#if best.length > 0}
  <h3 class="mt-3 font-semibold">What to measure next</h3>
  <ol class="mt-1 grid gap-1" aria-label="What to measure next">
    {#each best as reading (`${reading.id} ${reading.face ?? ''}`)}
      {@const { id, share, halfWidth95Mm } = reading}
      <li>
        <button
          class="measure w-full text-left"
          onclick={() => train.select({ kind: 'element', id })}
          data-narrowing={id}
        >
          <span class="flex justify-between gap-2 text-xs"
            ><span class="min-w-0 truncate">{doubtName(train.shown, reading)}</span><span
              >{percent(share)}, then ±{display.tolerance(halfWidth95Mm)}</span
            ></span
          >
          <svg class="block h-1.5 w-full" viewBox="0 0 100 4" preserveAspectRatio="none" aria-hidden="true"
            ><rect class="track" width="100" height="4" /><rect class="share" width={share * 100} height="4" /></svg
          >
        </button>
      </li>
    {/each}
  </ol>
{:else}
  <p class="text-muted mt-2 text-xs">Every part is measured as well as calipers can.</p>
{/if}
<h3 class="mt-3 font-semibold">Observing temperature</h3>
<div class="mt-1 grid grid-cols-2 items-start gap-3">
  <Field
    label="Night, °C"
    kind="number"
    at={TRAIN}
    path={['nightC']}
    current={night}
    hint="lengths are as at {REFERENCE_C} °C"
  />
  <p class="text-xs" data-shrinking>
    {#if shrinking}
      The train is {display.length(Math.abs(shrinking.changeMm), display.unit === 'mm' ? 3 : 4)}
      {shrinking.changeMm < 0 ? 'shorter' : 'longer'} then (±{display.length(
        2 * shrinking.standardMm,
        display.unit === 'mm' ? 3 : 4
      )}). {shrinking.assumed.length > 0
        ? `${shrinking.assumed.length === 1 ? 'One part is' : `${shrinking.assumed.length} parts are`} taken as ${EXPANSIONS.aluminium.words}: their material is not stated.`
        : ''} Where the telescope’s own focus goes is not in this.
    {:else}
      How cold is it when you observe?
    {/if}
  </p>
</div>

<style>
  text {
    font-size: 10.5px;
    fill: var(--ink-muted);
  }
  .band {
    fill: var(--color-success);
    fill-opacity: 0.14;
  }
  .should {
    stroke: var(--color-success);
    stroke-dasharray: 4 3;
  }
  .bar {
    fill: var(--metal-edge);
    fill-opacity: 0.45;
  }
  .curve {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  .base {
    stroke: var(--color-line);
  }
  .measure {
    border-radius: 0.25rem;
    padding: 0.2rem 0.3rem;
    cursor: pointer;
  }
  .measure:hover {
    background: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
  .track {
    fill: var(--metal-edge);
    fill-opacity: 0.3;
  }
  .share {
    fill: var(--color-primary);
  }
</style>
