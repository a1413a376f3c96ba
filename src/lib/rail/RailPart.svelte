<script lang="ts" module>
  import type { LayoutItem } from '@lodestone/core/shape';

  /** Least width a pointer can hit, px. */
  const HIT_PX = 10;

  /** Too narrow to be hit where it is drawn. */
  export const isSlender = ({ fromMm, toMm }: LayoutItem, pxPerMm: number): boolean =>
    (toMm - fromMm) * pxPerMm < HIT_PX;
</script>

<script lang="ts">
  import { CAMERA_BODY_BEHIND_MM, partShapes } from '@lodestone/core/shape';
  import type { ScaleLinear } from 'd3-scale';
  import Shapes from './Shapes.svelte';

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
  const outer = $derived(item.outerRadiusMm * pxAcross);
  const pxAlong = $derived(x(1) - x(0));
  /** Width of the body as drawn: a camera goes on behind its sensor. */
  const bodyWidth = $derived(x(item.toMm) - left + (item.kind === 'camera' ? CAMERA_BODY_BEHIND_MM * pxAlong : 0));

  /** Scale below which a dial is marked every five millimetres only, px/mm. */
  const FINE_MARKS_PX = 6;
  const shapes = $derived(partShapes(item, pxAlong > FINE_MARKS_PX ? 1 : 5));
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
  <Shapes {shapes} {x} {axisY} {pxAcross} />
  {#if item.kind === 'gap'}
    <path class="gap-mark" d="M{left} {axisY - 7} l5 7 l-5 7 l-5 -7 z" />
  {:else if selected || faulty}
    <rect class="mark" x={left} y={axisY - outer} width={Math.max(bodyWidth, 1)} height={outer * 2} rx="2" />
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
  .ahead {
    opacity: 0.62;
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
