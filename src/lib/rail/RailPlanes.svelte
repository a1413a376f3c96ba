<script lang="ts">
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Inset from './Inset.svelte';
  import type { RailView } from './view.svelte.ts';

  interface Props {
    view: RailView;
    /** Where the planes begin and end, px. */
    topY: number;
    bottomY: number;
    /** A residual too small to be seen is shown magnified. */
    magnifies: boolean;
  }
  const { view, topY, bottomY, magnifies }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const layout = $derived(train.layout);
  const x = $derived(view.x);
  const residualMm = $derived(train.assessment.report.residualMm);
  const sensorX = $derived(x(layout.sensorMm));
  const requiredX = $derived(layout.requiredMm === null ? undefined : x(layout.requiredMm));
  const toleranceMm = $derived(layout.toleranceMm ?? 0);
  /** Where the stated datum lies, when it is not the shoulder. */
  const datumMm = $derived(train.assessment.report.required.datumMm ?? 0);

  /** Below this many pixels the eye no longer judges the residual on the drawing itself. */
  const INSET_BELOW_PX = 14;
  const showInset = $derived(magnifies && requiredX !== undefined && Math.abs(sensorX - requiredX) < INSET_BELOW_PX);
  const INSET_PX = 196;

  /** Room the word of one plane needs before the next plane's begins, px. */
  const WORD_PX = 150;
  const wordY = $derived(topY - 5);
  const sensorFirst = $derived(requiredX !== undefined && requiredX >= sensorX);
</script>

<path class="datum" d="M{x(0)} {topY} V{bottomY}" />
{#if sensorX - x(0) > WORD_PX}
  <text class="datum-word" x={x(0)} y={wordY} text-anchor="middle">
    {layout.items.some(({ counts }) => !counts) ? 'shoulder' : 'host’s face'}
  </text>
{/if}
{#if Math.abs(datumMm) > 1e-9}
  <path class="datum stated" d="M{x(datumMm)} {topY + 12} V{bottomY}" />
  <text class="datum-word" x={x(datumMm)} y={topY + 8}>stated datum</text>
{/if}

{#if requiredX !== undefined}
  <rect
    class="tolerance"
    x={x(layout.requiredMm! - toleranceMm)}
    y={topY}
    width={2 * toleranceMm * view.pxPerMm}
    height={bottomY - topY}
  />
  <path class="should-be" data-plane="required" d="M{requiredX} {topY} V{bottomY}" />
  {#if residualMm !== null && !showInset && Math.abs(sensorX - requiredX) > 1}
    <rect
      class="residual"
      data-residual
      x={Math.min(sensorX, requiredX)}
      y={bottomY - 34}
      width={Math.abs(requiredX - sensorX)}
      height="20"
    />
    <text class="residual-word" x={(sensorX + requiredX) / 2} y={bottomY - 20} text-anchor="middle">
      {Math.abs(requiredX - sensorX) > 34 ? display.number(Math.abs(residualMm)) : ''}
    </text>
    <text
      class="should-be-word"
      x={requiredX + (sensorFirst ? 5 : -5)}
      y={wordY}
      text-anchor={sensorFirst ? 'start' : 'end'}>should be here</text
    >
  {/if}
{/if}
<path class="is-here" data-plane="sensor" d="M{sensorX} {topY} V{bottomY}" />
<text class="is-here-word" x={sensorX + (sensorFirst ? -5 : 5)} y={wordY} text-anchor={sensorFirst ? 'end' : 'start'}
  >sensor is here</text
>
{#if showInset}
  <Inset
    x={Math.max(8, Math.min(sensorX - INSET_PX - 36, view.widthPx - INSET_PX - 14))}
    y={bottomY - 84}
    widthPx={INSET_PX}
    sensorMm={layout.sensorMm}
    requiredMm={layout.requiredMm!}
    {toleranceMm}
  />
{/if}

<style>
  .datum {
    stroke: var(--color-base-content);
    stroke-width: 1.3;
  }
  .datum.stated {
    stroke-dasharray: 2 3;
  }
  text {
    font-size: 11px;
  }
  .datum-word {
    fill: var(--color-base-content);
  }
  .tolerance {
    fill: var(--color-success);
    fill-opacity: 0.14;
  }
  .should-be {
    stroke: var(--color-success);
    stroke-width: 1.6;
    stroke-dasharray: 5 4;
  }
  .should-be-word {
    fill: var(--color-success);
  }
  .is-here {
    stroke: var(--color-primary);
    stroke-width: 1.6;
  }
  .is-here-word {
    fill: var(--color-primary);
  }
  .residual {
    fill: var(--color-error);
    fill-opacity: 0.28;
  }
  .residual-word {
    fill: var(--color-base-content);
    font-size: 12px;
    font-weight: 600;
  }
</style>
