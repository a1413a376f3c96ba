<script lang="ts">
  import { HOST_STUB_MM, deepestOf } from '@lodestone/core/shape';
  import { useTrain } from '$lib/train/context.ts';
  import { faultsById } from './railWords.ts';
  import Hatches from './Hatches.svelte';
  import RailPart from './RailPart.svelte';
  import { RailView } from './view.svelte.ts';

  /** The rail where something else is looked at: the parts to scale, where the sensor stands and where it should be. */
  const train = useTrain();
  const view = new RailView(() => train.layout);

  const HEIGHT_PX = 56;
  const MARGIN_PX = 4;
  const layout = $derived(train.layout);
  const x = $derived(view.x);
  const pxAcross = $derived((HEIGHT_PX - 2 * MARGIN_PX) / (layout.maxRadiusMm + deepestOf(layout)));
  const axisY = $derived(MARGIN_PX + layout.maxRadiusMm * pxAcross);
  const faulty = $derived(faultsById(train.assessment.errors, false));
  const sensorX = $derived(x(layout.sensorMm));
  const requiredX = $derived(layout.requiredMm === null ? undefined : x(layout.requiredMm));
</script>

<Hatches />
<div class="min-w-0 flex-1" bind:clientWidth={view.widthPx}>
  <svg
    width={view.widthPx}
    height={HEIGHT_PX}
    viewBox="0 0 {view.widthPx} {HEIGHT_PX}"
    role="img"
    aria-label="{train.shown.elements.length} parts of {train.shown.name}, to scale"
    class="block"
    data-rail-strip
  >
    <rect
      class="host"
      x={x(layout.hostFaceMm - HOST_STUB_MM)}
      y={axisY - layout.hostRadiusMm * pxAcross}
      width={HOST_STUB_MM * view.pxPerMm}
      height={layout.hostRadiusMm * 2 * pxAcross}
    />
    {#each layout.items as item (item.id)}
      <RailPart {item} {x} {axisY} {pxAcross} selected={false} faulty={faulty.has(item.id)} />
    {/each}
    {#if requiredX !== undefined}
      {#if Math.abs(requiredX - sensorX) > 1}
        <rect
          class="residual"
          x={Math.min(sensorX, requiredX)}
          y={MARGIN_PX}
          width={Math.abs(requiredX - sensorX)}
          height={HEIGHT_PX - 2 * MARGIN_PX}
        />
      {/if}
      <path class="should-be" d="M{requiredX} 0 V{HEIGHT_PX}" />
    {/if}
    <path class="is-here" d="M{sensorX} 0 V{HEIGHT_PX}" />
  </svg>
</div>

<style>
  .host {
    fill: var(--metal);
    fill-opacity: 0.35;
    stroke: var(--metal-edge);
    stroke-dasharray: 2 3;
    stroke-width: 0.8;
  }
  .should-be {
    stroke: var(--color-success);
    stroke-width: 1.6;
    stroke-dasharray: 5 4;
  }
  .is-here {
    stroke: var(--color-primary);
    stroke-width: 1.6;
  }
  .residual {
    fill: var(--color-error);
    fill-opacity: 0.28;
  }
</style>
