<script lang="ts">
  import { fromUnit } from '@lodestone/core/why';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useWhy } from '$lib/ui/why.svelte.ts';
  import { askedPieces, atOwnStart, type Stair } from './staircase.ts';
  import StairRow from './StairRow.svelte';
  import { Steady } from './steady.ts';
  import type { RailView } from './view.svelte.ts';

  const { view, stairs }: { view: RailView; stairs: readonly Stair[] } = $props();
  const train = useTrain();
  const display = useDisplay();
  const why = useWhy();

  const TOP_PX = 8;
  /** More steps than this stand closer together, so that what is asked for stays in sight below them. */
  const ROOMY_STEPS = 6;

  const layout = $derived(train.layout);
  const x = $derived(view.x);
  const report = $derived(train.assessment.report);
  const asked = $derived(askedPieces(train.assessment));
  const residualMm = $derived(report.residualMm);
  const openRow = $derived(residualMm !== null && residualMm < 0 && report.verdict === 'short' ? 1 : 0);
  const close = $derived(stairs.length + openRow > ROOMY_STEPS);
  const rowPx = $derived(close ? 21 : 25);
  const stepPx = $derived(close ? 26 : 33);
  const askedY = $derived(TOP_PX + (stairs.length + openRow) * stepPx + 10);
  const heightPx = $derived(askedY + (asked.length > 0 ? 62 : 26));
  const graduations = $derived(view.graduations(fromUnit(1, display.unit)).filter(({ rank }) => rank === 2));
  const { selection } = $derived(train);

  const steady = new Steady<Stair>();
</script>

<svg
  width={view.widthPx}
  height={heightPx}
  viewBox="0 0 {view.widthPx} {heightPx}"
  role="group"
  aria-label="Length ledger: each part at its place in the sum"
  data-staircase
  class="ledger block"
>
  <g aria-hidden="true">
    <path class="grid" d={graduations.map(({ mm }) => `M${x(mm).toFixed(2)} 0V${heightPx}`).join('')} />
    {#if layout.requiredMm !== null}
      <rect
        class="tolerance"
        x={x(layout.requiredMm - (layout.toleranceMm ?? 0))}
        y="0"
        width={2 * (layout.toleranceMm ?? 0) * view.pxPerMm}
        height={askedY + 28}
      />
      <path class="should-be" d="M{x(layout.requiredMm)} 0 V{askedY + 28}" />
    {/if}
    <path class="is-here" d="M{x(layout.sensorMm)} 0 V{askedY - 4}" />
    <path class="datum" d="M{x(0)} 0 V{askedY + 28}" />
  </g>

  {#each stairs as stair, index (stair.id)}
    <StairRow
      stair={steady.keep(stair.id, atOwnStart(stair))}
      startX={x(stair.startMm)}
      y={TOP_PX + index * stepPx}
      riserPx={index > 0 ? stepPx - rowPx : 0}
      {rowPx}
      pxPerMm={view.pxPerMm}
      widthPx={view.widthPx}
      chosen={train.isChosen(stair.id) || (selection.kind === 'joint' && selection.id === stair.id)}
    />
  {/each}

  {#if openRow && residualMm !== null && layout.requiredMm !== null}
    {@const y = TOP_PX + stairs.length * stepPx}
    {@const left = x(layout.sensorMm)}
    {@const width = x(layout.requiredMm) - left}
    <path class="riser" d="M{left} {y - stepPx + rowPx} V{y}" />
    <rect class="open" x={left} {y} {width} height={rowPx} rx="2" />
    <g
      {@attach why.asks('length.residual')}
      role="button"
      tabindex="0"
      aria-label="{display.length(-residualMm)} still open. Why?"
      class="asks-why"
    >
      <text class="open-word" x={left - 10} y={y + rowPx / 2 + 4.5} text-anchor="end"
        >{display.number(-residualMm)} still open</text
      >
    </g>
  {/if}

  {#if asked.length > 0 && layout.requiredMm !== null}
    {#each asked as { kind, label, startMm, endMm } (startMm + label)}
      <rect
        class="asked {kind}"
        x={x(Math.min(startMm, endMm))}
        y={askedY}
        width={Math.abs(x(endMm) - x(startMm))}
        height="22"
      />
      {#if kind === 'back-focus'}
        <text class="name inside" x={x(startMm) + 9} y={askedY + 15.5}>{label} {display.number(endMm - startMm)}</text>
      {/if}
    {/each}
    <g
      {@attach why.asks('length.required')}
      role="button"
      tabindex="0"
      aria-label="{display.length(layout.requiredMm)} required. Why?"
      class="asks-why"
    >
      <text class="required" x={x(layout.requiredMm) + 9} y={askedY + 15.5}>
        {display.within(layout.requiredMm, layout.toleranceMm ?? 0)}
      </text>
    </g>
    {#if (report.required.glassMm ?? 0) > 0}
      <g {@attach why.asks('length.glass')} role="button" tabindex="0" aria-label="Glass shift. Why?" class="asks-why">
        <text class="glass-word" x={x(layout.requiredMm) + 9} y={askedY + 32}>
          {display.number(report.required.glassMm ?? 0)} for glass
        </text>
      </g>
    {/if}
  {/if}

  <g aria-hidden="true" transform="translate(16 {heightPx - 50})">
    <rect class="bar measured" width="22" height="11" rx="2" />
    <text class="note" x="30" y="9.5">measured</text>
    <rect class="bar" y="19" width="22" height="11" rx="2" />
    <text class="note" x="30" y="28.5">published only</text>
  </g>
  <text class="note" x={Math.max(x(0), 8)} y={heightPx - 8}>
    <tspan {@attach why.asks('doubt.interval')} role="button" tabindex="0" class="asks-why"
      >uncertainty ±{display.tolerance(train.assessment.facts.spread.halfWidth95Mm)} (95 %)</tspan
    >,
    <tspan {@attach why.asks('doubt.worst-case')} role="button" tabindex="0" class="asks-why"
      >at worst ±{display.tolerance(report.uncertainty.worstCaseMm)}</tspan
    >{#if train.assessment.chanceInWords !== null}; <tspan
        {@attach why.asks('doubt.probability')}
        role="button"
        tabindex="0"
        class="asks-why">{train.assessment.chanceInWords} now</tspan
      >{/if}
  </text>
</svg>

<style>
  .grid {
    stroke: var(--color-base-300);
    stroke-opacity: 0.5;
    stroke-width: 0.8;
  }
  .tolerance {
    fill: var(--color-success);
    fill-opacity: 0.14;
  }
  .should-be {
    stroke: var(--color-success);
    stroke-width: 1.3;
    stroke-dasharray: 5 4;
  }
  .is-here {
    stroke: var(--color-primary);
    stroke-width: 1.3;
  }
  path.datum {
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  .ledger :global(.riser) {
    stroke: var(--ink-muted);
    stroke-width: 0.8;
  }
  /* Published only: an outline over a thin wash. Measured: filled. Nothing else is coloured. */
  .ledger :global(.bar) {
    fill: color-mix(in srgb, var(--color-neutral) 45%, transparent);
    stroke: var(--metal-edge);
    stroke-width: 0.9;
    stroke-dasharray: 3 2;
  }
  .ledger :global(.bar.measured) {
    fill: var(--color-neutral);
    stroke-dasharray: none;
  }
  .ledger :global(.bar.shim),
  .ledger :global(.bar.joint) {
    fill: var(--ink-muted);
    stroke-dasharray: none;
  }
  .ledger :global(.bar.recess) {
    fill: url(#cut-hatch-fine);
    stroke-dasharray: none;
  }
  .ledger :global(.bar.chosen) {
    stroke: var(--color-primary);
    stroke-width: 1.5;
  }
  /* Words keep a margin of ground round them where a plane runs behind. */
  .ledger :global(text) {
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 4px;
    stroke-linejoin: round;
  }
  .ledger :global(.value),
  .ledger :global(.inside) {
    stroke: none;
  }
  .ledger :global(.name) {
    fill: var(--color-base-content);
    font-size: 12.5px;
  }
  .ledger :global(.value) {
    fill: var(--color-base-content);
    font-size: 12.5px;
    font-weight: 600;
  }
  .ledger :global(.note) {
    fill: var(--ink-muted);
    font-size: 11px;
    font-weight: 400;
  }
  .open {
    fill: none;
    stroke: var(--color-error);
    stroke-dasharray: 4 3;
  }
  .open-word {
    fill: var(--color-error);
    font-size: 12px;
    font-weight: 600;
  }
  .asked {
    fill: var(--color-success);
    fill-opacity: 0.18;
  }
  .asked.glass {
    fill: var(--glass);
    fill-opacity: 0.8;
  }
  .asked.datum {
    fill: var(--color-base-content);
    fill-opacity: 0.35;
  }
  .required {
    fill: var(--color-success);
    font-size: 12.5px;
    font-weight: 600;
  }
  .glass-word {
    fill: var(--color-base-content);
    font-size: 11.5px;
  }
  .ledger :global(.asks-why text),
  tspan.asks-why {
    text-decoration: underline dotted;
    text-underline-offset: 3px;
  }
</style>
