<script lang="ts">
  import { nameOf } from '@lodestone/core';
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
  }
  const { layers, x, axisY, pxAcross, widthPx }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const { facts } = $derived(train.assessment);
  const halfMm = $derived(facts.light?.halfDiagonalMm ?? 0);
  const fieldMm = $derived(layers.share * halfMm);
  const shapes = $derived(layers.on.flatMap((layer) => layer.shapes(facts, fieldMm)));

  /** Words that would run into each other say nothing: the first few, each on a line of its own. */
  const MOST_WORDS = 4;
  const LINE_PX = 14;
  const LETTER_PX = 6;
  const words = $derived.by(() => {
    const stops = layers.on.flatMap((layer) => layer.stops(facts, fieldMm)).slice(0, MOST_WORDS);
    const placed: { stop: (typeof stops)[number]; atX: number; atY: number; anchor: 'start' | 'end' }[] = [];
    for (const stop of stops) {
      const atX = x(stop.alongMm);
      const room = stop.words.length * LETTER_PX;
      const anchor = atX + room + 12 > widthPx ? 'end' : 'start';
      let atY = axisY - stop.acrossMm * pxAcross + 4;
      const meets = () =>
        placed.some((each) => Math.abs(each.atY - atY) < LINE_PX && Math.abs(each.atX - atX) < room + 40);
      while (meets()) atY += LINE_PX;
      placed.push({ stop, atX: atX + (anchor === 'end' ? -8 : 12), atY, anchor });
    }
    return placed;
  });

  const pointX = $derived(x(facts.axis.sensorMm));
  const pointY = $derived(axisY - fieldMm * pxAcross);

  /** One press moves the point so far, mm. */
  const STEP_MM = 0.5;
  const FINE_MM = 0.1;

  let held = $state(false);
  function onpointerdown(event: PointerEvent) {
    if (event.button !== 0) return;
    event.stopPropagation();
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    held = true;
  }
  function onpointermove(event: PointerEvent) {
    const svg = (event.currentTarget as SVGElement).ownerSVGElement;
    if (!held || !svg || halfMm === 0) return;
    layers.moveTo((axisY - (event.clientY - svg.getBoundingClientRect().top)) / pxAcross / halfMm);
  }
  function onkeydown(event: KeyboardEvent) {
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    const to = { Home: 0, End: 1 }[event.key];
    if (by === undefined && to === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    if (to !== undefined) layers.moveTo(to);
    else if (by !== undefined) layers.moveTo(layers.share + (by * (event.shiftKey ? FINE_MM : STEP_MM)) / halfMm);
  }
  const stopHere = (event: Event) => event.stopPropagation();
</script>

<g class="pointer-events-none" aria-hidden="true" data-layers={layers.on.map(({ id }) => id).join(' ')}>
  <Shapes {shapes} {x} {axisY} {pxAcross} />
  {#each words as { stop, atX, atY, anchor } (`${stop.at} ${stop.words}`)}
    <text
      class={['word', stop.bad && 'bad']}
      x={atX}
      y={atY}
      text-anchor={anchor}
      data-stop={nameOf(train.shown, stop.at)}>{stop.words}</text
    >
  {/each}
</g>
{#if layers.has('light') && facts.light}
  <!-- The point of the sensor that the second cone goes to. -->
  <g
    class="handle"
    role="slider"
    tabindex="0"
    aria-label="Point of the sensor, along its diagonal"
    aria-orientation="vertical"
    aria-valuemin={-halfMm}
    aria-valuemax={halfMm}
    aria-valuenow={fieldMm}
    aria-valuetext="{display.length(Math.abs(fieldMm), 1)} from the middle"
    data-field-point
    {onpointerdown}
    {onpointermove}
    onpointerup={() => (held = false)}
    onpointercancel={() => (held = false)}
    {onkeydown}
    onmousedown={stopHere}
    ontouchstart={stopHere}
  >
    <rect class="hit" x={pointX - 12} y={pointY - 12} width="24" height="24" />
    <circle class="knob" cx={pointX} cy={pointY} r={held ? 7 : 5.5} />
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
  .handle {
    cursor: ns-resize;
    touch-action: none;
  }
  .handle:focus-visible {
    outline: none;
  }
  .handle:focus-visible .knob {
    stroke: var(--color-base-content);
    stroke-width: 2.5;
  }
  .hit {
    fill: transparent;
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
