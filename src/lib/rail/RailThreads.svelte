<script lang="ts">
  import type { LayoutItem } from '@lodestone/core/shape';
  import type { ScaleLinear } from 'd3-scale';

  interface Props {
    item: LayoutItem;
    x: ScaleLinear<number, number>;
    axisY: number;
    pxAcross: number;
  }
  const { item, x, axisY, pxAcross }: Props = $props();

  const pxAlong = $derived(x(1) - x(0));
  const up = (radiusMm: number) => axisY - radiusMm * pxAcross;

  /** The crests of a male thread, left out where they would be finer than the screen. */
  function crests(fromMm: number, toMm: number, radiusMm: number, pitchMm: number): string {
    const y = up(radiusMm);
    const step = pitchMm * pxAlong;
    if (step < 3) return `M${x(fromMm)} ${y} H${x(toMm)}`;
    const turns = Math.floor((toMm - fromMm) / pitchMm);
    const depth = Math.min(4, step * 0.5);
    return `M${x(fromMm)} ${y + depth} ${`l${step / 2} ${-depth} l${step / 2} ${depth} `.repeat(turns)}H${x(toMm)}`;
  }

  /** How thick the wall under a thread is drawn at least, mm. */
  const CORE_MM = 3;
</script>

{#each item.threads as thread, index (index)}
  {@const inner = Math.min(item.clearRadiusMm, thread.radiusMm - CORE_MM)}
  <rect
    class="core"
    data-thread={item.id}
    x={x(thread.fromMm)}
    y={up(thread.radiusMm)}
    width={x(thread.toMm) - x(thread.fromMm)}
    height={(thread.radiusMm - inner) * pxAcross}
    fill="url(#cut-hatch-fine)"
  />
  <path class="crests" d={crests(thread.fromMm, thread.toMm, thread.radiusMm, thread.pitchMm)} />
{/each}

<style>
  .core {
    stroke: var(--metal-edge);
    stroke-width: 0.8;
  }
  .crests {
    fill: none;
    stroke: var(--color-base-content);
    stroke-opacity: 0.8;
    stroke-width: 0.9;
  }
</style>
