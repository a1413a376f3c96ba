<script lang="ts">
  import { HOST, nameOf } from '@lodestone/core/train';
  import type { Joint } from '@lodestone/core/joint';
  import RailPart from '$lib/rail/RailPart.svelte';
  import RailThreads from '$lib/rail/RailThreads.svelte';
  import { useTrain } from '$lib/train/context.ts';
  import { scaleLinear } from 'd3-scale';

  /** One joint, cut from the rail: what meets there, at a scale at which a shim is seen. */
  const { joint, widthPx = 320, heightPx = 140 }: { joint: Joint; widthPx?: number; heightPx?: number } = $props();
  const train = useTrain();
  const uid = $props.id();

  /** Of the parts on both sides so much is shown, mm. */
  const SHOWN_MM = 14;
  /** Room for the words below, px. */
  const FOOT_PX = 20;

  const { layout } = $derived(train);
  const items = $derived(
    layout.items.filter(
      ({ id }) => id === joint.skyId || id === joint.cameraId || joint.shimElements.some((shim) => shim.id === id)
    )
  );
  const camera = $derived(layout.items.find(({ id }) => id === joint.cameraId));
  const faceMm = $derived(camera?.fromMm ?? 0);
  const radiusMm = $derived(Math.max(20, ...items.map(({ outerRadiusMm }) => outerRadiusMm)));
  const along = $derived(widthPx / (2 * SHOWN_MM));
  const x = $derived(
    scaleLinear()
      .domain([faceMm - SHOWN_MM, faceMm + SHOWN_MM])
      .range([0, widthPx])
  );
  // Only the upper half is of interest: it is the one that is cut open.
  const across = $derived((heightPx - FOOT_PX - 8) / (radiusMm * 1.04));
  const axisY = $derived(heightPx - FOOT_PX);
</script>

<svg
  viewBox="0 0 {widthPx} {heightPx}"
  class="w-full max-w-md"
  role="img"
  aria-label="Joint between {nameOf(train.document, joint.skyId)} and {nameOf(train.document, joint.cameraId)}"
  data-joint-drawing
>
  <clipPath id="{uid}-cut"><rect width={widthPx} height={heightPx - FOOT_PX} /></clipPath>
  <g clip-path="url(#{uid}-cut)">
    {#if joint.skyId === HOST}
      <rect
        class="host"
        x="0"
        y={axisY - layout.hostRadiusMm * across}
        width={Math.max(0, x(layout.hostFaceMm))}
        height={layout.hostRadiusMm * across}
      />
    {/if}
    {#each items as item (item.id)}
      <RailPart {item} {x} {axisY} pxAcross={across} selected={false} faulty={false} />
      <RailThreads {item} {x} {axisY} pxAcross={across} />
    {/each}
    <path class="face" d="M{x(faceMm)} 0 V{axisY}" />
  </g>
  <path class="axis" d="M0 {axisY} H{widthPx}" />
  <text class="word" x="2" y={heightPx - 6}>← sky</text>
  <text class="word" x={widthPx / 2} y={heightPx - 6} text-anchor="middle"
    >{joint.openingMm > 0 ? `${joint.openingMm.toFixed(2)} mm open` : 'shoulders meet'}</text
  >
  <text class="word" x={widthPx - 2} y={heightPx - 6} text-anchor="end">camera →</text>
  <title>{along.toFixed(0)} px a millimetre</title>
</svg>

<style>
  .host {
    fill: var(--metal);
    fill-opacity: 0.4;
    stroke: var(--metal-edge);
    stroke-dasharray: 3 3;
  }
  .face {
    stroke: var(--color-primary);
    stroke-width: 1;
    stroke-dasharray: 3 3;
  }
  .axis {
    stroke: var(--ink-muted);
    stroke-width: 0.75;
    stroke-dasharray: 10 3 2 3;
  }
  .word {
    fill: var(--ink-muted);
    font-size: 11px;
  }
</style>
