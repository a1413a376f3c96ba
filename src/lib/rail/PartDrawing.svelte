<script lang="ts">
  import { depthFactor, partShape } from '@lodestone/core/shape';
  import type { SolidElement } from '@lodestone/core/train';
  import { scaleLinear } from 'd3-scale';
  import RailPart from './RailPart.svelte';
  import RailThreads from './RailThreads.svelte';

  interface Props {
    element: SolidElement;
    widthPx: number;
    heightPx: number;
    /** One scale for a list of parts, so that they can be compared; as large as fits when left out. */
    pxPerMm?: number;
    pxAcrossPerMm?: number;
  }
  const { element, widthPx, heightPx, pxPerMm, pxAcrossPerMm }: Props = $props();

  const PADDING_PX = 3;
  const shape = $derived(partShape(element));
  const fromMm = $derived(Math.min(shape.fromMm, ...shape.threads.map((thread) => thread.fromMm)));
  const toMm = $derived(
    Math.max(shape.toMm + (element.kind === 'camera' ? 14 : 0), ...shape.threads.map((thread) => thread.toMm))
  );
  const below = $derived(shape.outerRadiusMm * depthFactor(element.kind));
  const across = $derived(
    Math.min(pxAcrossPerMm ?? 99, (heightPx - 2 * PADDING_PX) / Math.max(shape.outerRadiusMm + below, 1))
  );
  /** Longer than there is room for: drawn shorter, and said so by a break. */
  const along = $derived(Math.min(pxPerMm ?? 99, (widthPx - 2 * PADDING_PX) / Math.max(toMm - fromMm, 0.5)));
  const shortened = $derived(pxPerMm !== undefined && along < pxPerMm - 1e-9);
  const x = $derived(
    scaleLinear()
      .domain([fromMm, fromMm + 1])
      .range([(widthPx - (toMm - fromMm) * along) / 2, (widthPx - (toMm - fromMm) * along) / 2 + along])
  );
  const axisY = $derived(heightPx / 2 + ((shape.outerRadiusMm - below) / 2) * across);
</script>

<svg width={widthPx} height={heightPx} viewBox="0 0 {widthPx} {heightPx}" aria-hidden="true" class="block shrink-0">
  <RailPart item={shape} {x} {axisY} pxAcross={across} selected={false} faulty={false} />
  <RailThreads item={shape} {x} {axisY} pxAcross={across} />
  {#if shortened}
    <path class="break" d="M{widthPx / 2 - 3} 0 l4 {heightPx / 3} l-4 {heightPx / 3} l4 {heightPx / 3}" />
  {/if}
</svg>

<style>
  .break {
    fill: none;
    stroke: var(--color-base-200);
    stroke-width: 3;
  }
</style>
