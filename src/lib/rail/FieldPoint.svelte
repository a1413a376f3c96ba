<script lang="ts">
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import PlacedSlider from '$lib/ui/PlacedSlider.svelte';
  import type { ScaleLinear } from 'd3-scale';
  import { fieldOf } from './layerWords.ts';
  import type { LayerView } from './layers.svelte.ts';

  interface Props {
    layers: LayerView;
    x: ScaleLinear<number, number>;
    axisY: number;
    pxAcross: number;
  }
  const { layers, x, axisY, pxAcross }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const { facts } = $derived(train.assessment);
  const halfMm = $derived(facts.light?.halfDiagonalMm ?? 0);
  const fieldMm = $derived(fieldOf(layers, facts));

  /** One press moves the point so far, mm. */
  const STEP_MM = 0.5;
  const FINE_MM = 0.1;
</script>

{#if layers.has('light') && halfMm > 0}
  <PlacedSlider
    id="field-point"
    label="Point of the sensor, along its diagonal"
    orientation="vertical"
    x={x(facts.axis.sensorMm)}
    y={axisY - fieldMm * pxAcross}
    min={-halfMm}
    max={halfMm}
    now={fieldMm}
    text="{display.length(Math.abs(fieldMm), 1)} from the middle"
    bind:held={layers.held}
    ondrag={(_x, y) => layers.moveTo((axisY - y) / pxAcross / halfMm)}
    onstep={(by, fine) => layers.moveTo(layers.share + (by * (fine ? FINE_MM : STEP_MM)) / halfMm)}
    onto={(end) => layers.moveTo(end === 'home' ? 0 : 1)}
  />
{/if}
