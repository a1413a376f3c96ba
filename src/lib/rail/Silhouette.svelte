<script lang="ts">
  import { CAMERA_BODY_BEHIND_MM, HOST_STUB_MM, type Layout } from '@lodestone/core/shape';

  interface Props {
    layout: Layout;
    /** Extent all trains of the list share, so that they compare. */
    fromMm: number;
    toMm: number;
    maxRadiusMm: number;
    label: string;
    /** Scale across relative to the scale along: the length is what the eye compares. */
    across?: number;
  }
  const { layout, fromMm, toMm, maxRadiusMm, label, across = 0.28 }: Props = $props();
  const heightMm = $derived(2 * maxRadiusMm * across);
</script>

<!-- Drawn in millimetres; the view box does the scaling. -->
<svg
  viewBox="{fromMm} 0 {toMm - fromMm} {heightMm}"
  preserveAspectRatio="xMinYMid meet"
  role="img"
  aria-label={label}
  class="h-full w-full"
>
  <g transform="translate(0 {heightMm / 2}) scale(1 {across})">
    <rect
      class="host"
      x={layout.hostFaceMm - HOST_STUB_MM}
      y={-layout.hostRadiusMm}
      width={HOST_STUB_MM}
      height={layout.hostRadiusMm * 2}
    />
    {#each layout.items as item (item.id)}
      {#if item.kind !== 'gap'}
        <rect
          class={['part', item.counts && 'counts']}
          x={item.fromMm}
          y={-item.outerRadiusMm}
          width={item.toMm - item.fromMm + (item.kind === 'camera' ? CAMERA_BODY_BEHIND_MM : 0)}
          height={item.outerRadiusMm * 2}
        />
      {/if}
    {/each}
    <path class="datum" d="M0 {-maxRadiusMm} V{maxRadiusMm}" />
    <path class="sensor" d="M{layout.sensorMm} {-maxRadiusMm} V{maxRadiusMm}" />
    {#if layout.requiredMm !== null}
      <path class="required" d="M{layout.requiredMm} {-maxRadiusMm} V{maxRadiusMm}" />
    {/if}
  </g>
</svg>

<style>
  rect,
  path {
    vector-effect: non-scaling-stroke;
    stroke-width: 1;
  }
  .host {
    fill: var(--metal);
    fill-opacity: 0.3;
  }
  .part {
    fill: var(--metal);
    fill-opacity: 0.55;
    stroke: var(--metal-edge);
  }
  .part.counts {
    fill-opacity: 1;
  }
  .datum {
    stroke: var(--color-base-content);
  }
  .sensor {
    stroke: var(--color-primary);
    stroke-width: 1.5;
  }
  .required {
    stroke: var(--color-success);
    stroke-width: 1.5;
    stroke-dasharray: 4 3;
  }
</style>
