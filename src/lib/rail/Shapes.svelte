<script lang="ts">
  import type { Shape, ShapePoint } from '@lodestone/core/shape';
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
  .seam {
    fill: none;
    stroke: var(--metal-edge);
    stroke-width: 1.2;
  }
  .piece-off {
    fill: none;
    stroke: var(--color-base-content);
    stroke-opacity: 0.75;
    stroke-width: 1;
    stroke-dasharray: 2 3;
  }
  .sensor {
    fill: var(--color-primary);
  }
  .cone {
    fill: var(--glass);
    fill-opacity: 0.12;
    stroke: var(--glass);
    stroke-width: 0.9;
    stroke-dasharray: 6 3;
  }
  .cone-field {
    fill: var(--color-primary);
    fill-opacity: 0.14;
    stroke: var(--color-primary);
    stroke-width: 1.1;
  }
  .rim {
    fill: var(--color-base-200);
    stroke: var(--color-base-content);
    stroke-width: 0.8;
  }
  .rim-cut {
    fill: var(--color-error);
    stroke: var(--color-error);
    stroke-width: 1.4;
  }
  .guide-beam {
    fill: var(--glass);
    fill-opacity: 0.16;
    stroke: var(--glass);
    stroke-width: 0.9;
  }
  .guide-path {
    fill: none;
    stroke: var(--beam-axis);
    stroke-width: 0.9;
    stroke-dasharray: 10 3 2 3;
  }
  .guide-range {
    fill: var(--metal);
    fill-opacity: 0.55;
    stroke: var(--metal-edge);
    stroke-width: 0.8;
    stroke-dasharray: 2 2;
  }
  .weight {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1.2;
  }
  .weight-all {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2.4;
  }
  .should-be {
    fill: none;
    stroke: var(--color-success);
    stroke-width: 2;
    stroke-dasharray: 5 3;
  }
  .is-here {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  .gap {
    fill: none;
    stroke: var(--color-error);
    stroke-dasharray: 3 4;
    stroke-width: 1.2;
  }
</style>
