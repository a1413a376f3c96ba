<script lang="ts">
  import type { Shape, ShapePoint } from '@lodestone/core';
  import type { ScaleLinear } from 'd3-scale';

  interface Props {
    shapes: readonly Shape[];
    x: ScaleLinear<number, number>;
    axisY: number;
    /** Scale across the axis, px per mm. */
    pxAcross: number;
  }
  const { shapes, x, axisY, pxAcross }: Props = $props();

  /** Marks on a shorter part would only make it dark, px. */
  const GROOVED_PX = 14;
  const LEAST_PX = 1;

  const y = (acrossMm: number) => axisY - acrossMm * pxAcross;
  const at = ([alongMm, acrossMm]: ShapePoint) => `${x(alongMm)} ${y(acrossMm)}`;
  const path = ({ start, runs, closed }: Extract<Shape, { kind: 'outline' }>) =>
    `M${at(start)}${runs.map(({ to, via }) => (via ? `Q${at(via)} ${at(to)}` : `L${at(to)}`)).join('')}${closed ? 'Z' : ''}`;

  const seen = $derived(
    shapes.filter(
      (shape) =>
        shape.role !== 'groove' ||
        shape.kind !== 'outline' ||
        x(shape.runs[0]?.to[0] ?? shape.start[0]) - x(shape.start[0]) > GROOVED_PX
    )
  );
</script>

{#each seen as shape, index (index)}
  {#if shape.kind === 'box'}
    <rect
      class={shape.role}
      x={x(shape.fromMm)}
      y={y(shape.highMm)}
      width={x(shape.toMm) - x(shape.fromMm)}
      height={Math.max((shape.highMm - shape.lowMm) * pxAcross, LEAST_PX)}
      rx={shape.round ? 1.5 : 0}
      data-length={shape.lengthOf}
      >{#if shape.title}<title>{shape.title}</title>{/if}</rect
    >
  {:else}
    <path class={shape.role} d={path(shape)} />
  {/if}
{/each}

<style>
  .outside {
    fill: var(--metal);
    stroke: var(--metal-edge);
    stroke-width: 0.8;
  }
  .groove,
  .dial-mark {
    stroke: var(--metal-groove);
    stroke-width: 0.8;
  }
  .cut,
  .stalk {
    fill: url(#cut-hatch);
    stroke: var(--metal-edge);
    stroke-width: 0.8;
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
  .bore {
    fill: var(--color-base-200);
  }
  .sensor {
    fill: var(--color-primary);
  }
  .gap {
    fill: none;
    stroke: var(--color-error);
    stroke-dasharray: 3 4;
    stroke-width: 1.2;
  }
</style>
