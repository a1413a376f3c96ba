<script lang="ts">
  import { filledInWords } from '@lodestone/core/check';
  import { nameOf } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import type { ScaleLinear } from 'd3-scale';
  import { WORD_ROW_PX, fieldOf, layerWords } from './layerWords.ts';
  import type { LayerView } from './layers.svelte.ts';
  import Shapes from './Shapes.svelte';

  interface Props {
    layers: LayerView;
    x: ScaleLinear<number, number>;
    axisY: number;
    pxAcross: number;
    widthPx: number;
    heightPx: number;
    /** Where the row of words stands that is nearest to the parts, px. */
    wordsY: number;
  }
  const { layers, x, axisY, pxAcross, widthPx, heightPx, wordsY }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const { facts } = $derived(train.assessment);
  const rests = $derived(filledInWords(facts, display.unit));
  const fieldMm = $derived(fieldOf(layers, facts));
  const shapes = $derived(layers.on.flatMap((layer) => layer.shapes(facts, fieldMm)));

  const stops = $derived(layers.on.flatMap((layer) => layer.stops(facts, fieldMm)));
  const words = $derived(layerWords(stops, x, widthPx));

  const pointX = $derived(x(facts.axis.sensorMm));
  const pointY = $derived(axisY - fieldMm * pxAcross);
  const knobWord = $derived(display.length(Math.abs(fieldMm), 1));
</script>

<g class="pointer-events-none" aria-hidden="true" data-layers={layers.on.map(({ id }) => id).join(' ')}>
  <Shapes {shapes} {x} {axisY} {pxAcross} />
  {#each words as { stop, leadX, row } (`${stop.at} ${stop.words}`)}
    {@const atY = axisY - stop.acrossMm * pxAcross}
    <path class={['lead', stop.bad && 'bad']} d="M{leadX} {wordsY - row * WORD_ROW_PX + 3} L{x(stop.alongMm)} {atY}" />
    <circle class={['end', stop.bad && 'bad']} cx={x(stop.alongMm)} cy={atY} r="2" />
  {/each}
  {#each words as { stop, middle, row } (`${stop.at} ${stop.words}`)}
    <text
      class={['word', stop.bad && 'bad']}
      x={middle}
      y={wordsY - row * WORD_ROW_PX}
      text-anchor="middle"
      data-stop={nameOf(train.shown, stop.at)}>{stop.words}</text
    >
  {/each}
</g>
{#if layers.on.length > 0 && rests !== undefined}
  <!-- What is drawn is the filled train; the rail shows its gaps closed. -->
  <text class="word" x="10" y={heightPx - 8} data-once-filled>
    {layers.on.map(({ title }) => title).join(', ')}: {rests}
  </text>
{/if}
{#if layers.has('light') && facts.light}
  <g class="pointer-events-none" aria-hidden="true">
    <circle class="knob" cx={pointX} cy={pointY} r={layers.held ? 7 : 5.5} />
    <rect class="knob-ground" x={pointX + 8} y={pointY - 8} width={knobWord.length * 6.2 + 7} height="16" rx="3" />
    <text class="knob-word" x={pointX + 11} y={pointY + 4}>{knobWord}</text>
  </g>
{/if}

<style>
  .word {
    fill: var(--color-base-content);
    font-size: 11px;
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 3px;
    stroke-linejoin: round;
  }
  .word.bad {
    fill: var(--color-error);
    font-weight: 600;
  }
  .lead {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 0.8;
  }
  .end {
    fill: var(--color-base-content);
  }
  .lead.bad {
    stroke: var(--color-error);
  }
  .end.bad {
    fill: var(--color-error);
  }
  .knob {
    fill: var(--color-primary);
    stroke: var(--color-base-200);
    stroke-width: 1.5;
  }
  .knob-word {
    fill: var(--color-primary);
    font-size: 11px;
  }
  .knob-ground {
    fill: var(--color-base-200);
  }
</style>
