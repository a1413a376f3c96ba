<script lang="ts">
  import { filledInWords } from '@lodestone/core/check';
  import { nameOf } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import type { ScaleLinear } from 'd3-scale';
  import type { LayerView } from './layers.svelte.ts';
  import Shapes from './Shapes.svelte';

  interface Props {
    layers: LayerView;
    x: ScaleLinear<number, number>;
    axisY: number;
    pxAcross: number;
    widthPx: number;
    heightPx: number;
  }
  const { layers, x, axisY, pxAcross, widthPx, heightPx }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const { facts } = $derived(train.assessment);
  const rests = $derived(filledInWords(facts, display.unit));
  const halfMm = $derived(facts.light?.halfDiagonalMm ?? 0);
  const fieldMm = $derived(layers.share * halfMm);
  const shapes = $derived(layers.on.flatMap((layer) => layer.shapes(facts, fieldMm)));

  /** Words that would run into each other say nothing: the first few, each on a line of its own. */
  const MOST_WORDS = 4;
  const LINE_PX = 14;
  const LETTER_PX = 6;
  const words = $derived.by(() => {
    const stops = layers.on.flatMap((layer) => layer.stops(facts, fieldMm)).slice(0, MOST_WORDS);
    const placed: { stop: (typeof stops)[number]; atX: number; atY: number }[] = [];
    for (const stop of stops) {
      const atX = x(stop.alongMm);
      const room = stop.words.length * LETTER_PX;
      // Toward the sky there is mostly room: at the sensor stand its own words.
      const leftX = Math.max(4, Math.min(atX - room - 7, widthPx - room - 4));
      let atY = axisY - stop.acrossMm * pxAcross + 4;
      const meets = () =>
        placed.some((each) => Math.abs(each.atY - atY) < LINE_PX && Math.abs(each.atX - leftX) < room + 40);
      while (meets()) atY -= LINE_PX;
      placed.push({ stop, atX: leftX, atY });
    }
    return placed;
  });

  const pointX = $derived(x(facts.axis.sensorMm));
  const pointY = $derived(axisY - fieldMm * pxAcross);
</script>

<g class="pointer-events-none" aria-hidden="true" data-layers={layers.on.map(({ id }) => id).join(' ')}>
  <Shapes {shapes} {x} {axisY} {pxAcross} />
  {#each words as { stop, atX, atY } (`${stop.at} ${stop.words}`)}
    <text class={['word', stop.bad && 'bad']} x={atX} y={atY} data-stop={nameOf(train.shown, stop.at)}
      >{stop.words}</text
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
    <text class="knob-word" x={pointX + 11} y={pointY + 4}>{display.length(Math.abs(fieldMm), 1)}</text>
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
  .knob {
    fill: var(--color-primary);
    stroke: var(--color-base-200);
    stroke-width: 1.5;
  }
  .knob-word {
    fill: var(--color-primary);
    font-size: 11px;
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 3px;
  }
</style>
