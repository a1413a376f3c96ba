<script lang="ts" module>
  import type { ElementKind, LayoutItem } from '@lodestone/core';

  const CAROUSEL = 0.24;

  /** How far below the axis a part is drawn, in outer radii: a wheel's carousel hangs out of its body. */
  export const depthFactor = (kind: ElementKind): number => (kind === 'filter-wheel' ? 1 + CAROUSEL : 1);

  /** Least width a pointer can hit, px. */
  const HIT_PX = 10;

  /** Too narrow to be hit where it is drawn. */
  export const isSlender = ({ fromMm, toMm }: LayoutItem, pxPerMm: number): boolean =>
    (toMm - fromMm) * pxPerMm < HIT_PX;
</script>

<script lang="ts">
  import { CAMERA_BODY_BEHIND_MM } from '@lodestone/core';
  import type { ScaleLinear } from 'd3-scale';

  interface Props {
    item: LayoutItem;
    x: ScaleLinear<number, number>;
    axisY: number;
    /** Scale across the axis, px per mm of radius. */
    pxAcross: number;
    selected: boolean;
    faulty: boolean;
    /** Only looked at: it does not stand in the train. */
    ghost?: boolean;
  }
  const { item, x, axisY, pxAcross, selected, faulty, ghost = false }: Props = $props();

  const left = $derived(x(item.fromMm));
  const width = $derived(x(item.toMm) - left);
  const outer = $derived(item.outerRadiusMm * pxAcross);
  const clear = $derived(item.clearRadiusMm * pxAcross);
  const up = (radiusMm: number) => axisY - radiusMm * pxAcross;
  const pxAlong = $derived(x(1) - x(0));

  /** Length of the body as drawn: a camera goes on behind its sensor. */
  const bodyWidth = $derived(item.kind === 'camera' ? width + CAMERA_BODY_BEHIND_MM * pxAlong : width);

  const lenses = $derived(
    item.kind === 'corrector'
      ? [
          { at: 0.26, bulge: 0.11, hollow: -0.03 },
          { at: 0.66, bulge: -0.05, hollow: 0.1 }
        ]
      : []
  );

  /** Half of a lens above the axis: two arcs that meet at the rim. */
  function lensPath({ at, bulge, hollow }: { at: number; bulge: number; hollow: number }): string {
    const middle = left + width * at;
    const half = width * 0.055;
    const rim = axisY - clear;
    const bow = (side: number, by: number) => middle + side * half + side * by * width;
    return `M${bow(-1, bulge)} ${axisY} Q${bow(-1, bulge * 0.8)} ${axisY - clear * 0.6} ${middle - half} ${rim} H${middle + half} Q${bow(1, hollow * 0.8)} ${axisY - clear * 0.6} ${bow(1, hollow)} ${axisY} Z`;
  }

  const dialMarks = $derived.by(() => {
    const { dial } = item;
    if (!dial) return [];
    const length = dial.toMm - dial.fromMm;
    const step = pxAlong > 6 ? 1 : 5;
    return Array.from({ length: Math.floor(length / step) + 1 }, (_, count) => dial.fromMm + count * step);
  });
</script>

<g class={['part', item.counts ? 'counts' : 'ahead', selected && 'selected', faulty && 'faulty', ghost && 'ghost']}>
  <!-- The hollow inside belongs to the part too, for the pointer. -->
  <rect
    class="reach"
    x={left - Math.max(HIT_PX - bodyWidth, 0) / 2}
    y={axisY - outer}
    width={Math.max(bodyWidth, HIT_PX)}
    height={outer * 2}
  />
  {#if item.kind === 'gap'}
    <path class="gap" d="M{left} {up(item.outerRadiusMm)} V{axisY + outer}" />
    <path class="gap-mark" d="M{left} {axisY - 7} l5 7 l-5 7 l-5 -7 z" />
  {:else}
    <!-- Below the axis: seen from outside. -->
    <rect class="outside" x={left} y={axisY} width={bodyWidth} height={outer} rx={item.kind === 'shim' ? 0 : 1.5} />
    {#if item.kind === 'filter-wheel'}
      <rect
        class="outside"
        x={left + bodyWidth * 0.08}
        y={axisY + outer}
        width={bodyWidth * 0.84}
        height={outer * CAROUSEL}
        rx="3"
      />
    {/if}
    {#if bodyWidth > 14}
      {#each [0.34, 0.68] as at (at)}
        <path class="groove" d="M{left} {axisY + outer * at} h{bodyWidth}" />
      {/each}
    {/if}

    <!-- Above the axis: cut open. -->
    <rect
      class="cut"
      data-length={item.id}
      x={left}
      y={axisY - outer}
      {width}
      height={Math.max(outer - clear, 1)}
      fill="url(#cut-hatch)"
    />
    {#if item.kind === 'camera'}
      <rect
        class="cut"
        x={left + width}
        y={axisY - outer}
        width={bodyWidth - width}
        height={outer}
        fill="url(#cut-hatch)"
      />
    {/if}
    {#if item.dial && item.dial.toMm > item.dial.fromMm}
      <rect
        class="dial"
        x={x(item.dial.fromMm)}
        y={axisY - Math.min(outer, clear + (outer - clear) * 0.6)}
        width={x(item.dial.toMm) - x(item.dial.fromMm)}
        height={Math.max((outer - clear) * 0.6, 2)}
      />
      {#each dialMarks as mark (mark)}
        <path class="groove" d="M{x(mark)} {axisY} v{outer * 0.22}" />
      {/each}
    {/if}
    {#each lenses as lens (lens.at)}
      <path class="glass" d={lensPath(lens)} />
    {/each}
    {#each item.glass as plate, index (index)}
      <rect
        class="glass"
        x={x(plate.fromMm)}
        y={up(plate.radiusMm)}
        width={x(plate.toMm) - x(plate.fromMm)}
        height={plate.radiusMm * pxAcross}
      >
        <title>{plate.name}</title>
      </rect>
    {/each}
    {#if item.pickoff}
      {@const prism = item.pickoff}
      {@const side = x(prism.toMm) - x(prism.fromMm)}
      {@const foot = up(prism.innerEdgeMm)}
      {@const rise = Math.min(side, (item.clearRadiusMm - prism.innerEdgeMm) * pxAcross + 6)}
      <rect class="stalk-wall" x={x(prism.fromMm) - 5} y={axisY - outer - 16} width={side + 10} height="16" />
      <rect
        class="bore"
        x={x(prism.fromMm)}
        y={axisY - outer - 17}
        width={side}
        height={outer + 17 - Math.min(clear, prism.innerEdgeMm * pxAcross + rise)}
      />
      <path class="glass" d="M{x(prism.fromMm)} {foot} h{side} v{-rise} z" />
    {/if}
    {#if item.sensor}
      <rect
        class="sensor"
        x={left + width}
        y={up(item.sensor.halfWidthMm)}
        width="3"
        height={item.sensor.halfWidthMm * pxAcross}
      />
    {/if}
    {#if selected || faulty}
      <rect class="mark" x={left} y={axisY - outer} width={Math.max(bodyWidth, 1)} height={outer * 2} rx="2" />
    {/if}
  {/if}
</g>

<style>
  .ghost {
    opacity: 0.72;
  }
  .ghost :global(rect.cut),
  .ghost :global(rect.outside) {
    stroke: var(--color-primary);
    stroke-width: 1.4;
    stroke-dasharray: 4 2.5;
  }
  .reach {
    fill: transparent;
  }
  .outside {
    fill: var(--metal);
    stroke: var(--metal-edge);
    stroke-width: 0.8;
  }
  .groove {
    stroke: var(--metal-groove);
    stroke-width: 0.8;
  }
  .cut {
    stroke: var(--metal-edge);
    stroke-width: 0.8;
  }
  .ahead {
    opacity: 0.62;
  }
  .dial {
    fill: var(--metal-groove);
    stroke: var(--metal-edge);
    stroke-width: 0.8;
  }
  .glass {
    fill: var(--glass);
    fill-opacity: 0.3;
    stroke: var(--glass);
    stroke-width: 1;
  }
  .stalk-wall {
    fill: url(#cut-hatch);
    stroke: var(--metal-edge);
    stroke-width: 0.8;
  }
  .bore {
    fill: var(--color-base-200);
  }
  .sensor {
    fill: var(--color-primary);
  }
  .gap {
    stroke: var(--color-error);
    stroke-dasharray: 3 4;
    stroke-width: 1.2;
  }
  .gap-mark {
    fill: var(--color-base-200);
    stroke: var(--color-error);
    stroke-width: 1.2;
  }
  .mark {
    fill: var(--color-primary);
    fill-opacity: 0.09;
    stroke: var(--color-primary);
    stroke-width: 1.4;
  }
  .faulty .mark {
    fill-opacity: 0;
    stroke: var(--color-error);
    stroke-dasharray: 5 3;
  }
  .selected.faulty .mark {
    fill-opacity: 0.09;
  }
</style>
