<script lang="ts">
  /**
   * The star-shape map: the face with a frame on its sensor, a whisker through each zone whose stars are stretched
   * together, through single stars where one looks closer, and loupes that lie where one puts them.
   */
  import FaceRing from '$lib/face/FaceRing.svelte';
  import PlacedSlider from '$lib/ui/PlacedSlider.svelte';
  import FramePicture from './FramePicture.svelte';
  import Loupe from './Loupe.svelte';
  import type { MapState } from './map.svelte.ts';
  import { stretchWords } from '@lodestone/core/frame';
  import { zonesOf, type FrameSummary } from '@lodestone/core/frame';
  import type { Pixels } from '$lib/frames/pixels.ts';
  import { MapView } from './view.svelte.ts';
  import { needlesOf, placeOf, whiskersOf, type Whiskers } from './whiskers.ts';
  import { untrack } from 'svelte';

  /** What is shown of a frame. */
  interface Shown {
    name: string;
    state: string;
    summary: FrameSummary | undefined;
    pixels: Pixels | undefined;
  }
  interface Props {
    frame: Shown;
    other: Shown | undefined;
    map: MapState;
    /** What the stars say is not shown: it is asked for. */
    isQuiz?: boolean;
  }
  const { frame, other, map, isQuiz = false }: Props = $props();
  const { view } = $derived(map);
  const uid = $props.id();
  /** Single stars have their whiskers where so much is looked at. */
  const NEAR = 2.5;
  /** Sizes that differ by less are not worth a ring. */
  const TOLD = 0.08;

  const summary = $derived(frame.summary);
  $effect.pre(() => {
    if (!summary) return;
    view.widthPx = summary.widthPx;
    view.heightPx = summary.heightPx;
  });

  $effect(() => {
    if (!summary || !map.loupesShown) return;
    const measured = summary.stars.filter(({ saturated, snr }) => !saturated && snr > 30);
    const stars = measured.map((star) => {
      const [x, y] = placeOf(star, summary);
      return { x: x / summary.widthPx, y: y / summary.heightPx, light: star.snr };
    });
    untrack(() => map.findStars(stars));
  });

  const compared = $derived(other?.summary && summary && isAlike(other.summary, summary) ? other : undefined);
  const after = $derived(compared?.state === 'read' ? compared.pixels : undefined);
  const isNear = $derived(map.single || view.scale > NEAR * view.fitScale);
  const zones = $derived(summary && !isQuiz ? zonesOf(summary, map.without) : []);
  const apart = $derived(
    map.sizes ? zones.filter(({ isSizeApart, size }) => isSizeApart && Math.abs(size - 1) > TOLD) : []
  );
  const linesOf = (of: FrameSummary) => ({
    needles: needlesOf(of === summary ? zones : zonesOf(of, map.without), of, map.factor),
    single: isNear ? whiskersOf(of, map.factor, map.without) : undefined
  });
  const lines = $derived(summary && map.whiskers && !isQuiz ? linesOf(summary) : undefined);
  const otherLines = $derived(compared?.summary && map.whiskers && !isQuiz ? linesOf(compared.summary) : undefined);
  /** Where the frames part on the screen. */
  const splitX = $derived(view.left + map.split * view.widthPx * view.scale);

  function isAlike(a: { widthPx: number; heightPx: number }, b: { widthPx: number; heightPx: number }): boolean {
    return a.widthPx === b.widthPx && a.heightPx === b.heightPx;
  }

  function percentApart(size: number): string {
    const percent = Math.round(100 * (size - 1));
    return `${percent < 0 ? '−' : '+'}${Math.abs(percent)} %`;
  }
  const shortName = (name: string): string => (name.length > 34 ? `${name.slice(0, 32)}…` : name);

  // Two fingers zoom, one moves.
  let held = $state.raw<readonly { id: number; x: number; y: number }[]>([]);
  const at = (event: PointerEvent | WheelEvent | MouseEvent, box: Element) => {
    const { left, top } = box.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  function onpointerdown(event: PointerEvent & { currentTarget: Element }) {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    held = [...held, { id: event.pointerId, ...at(event, event.currentTarget) }];
  }
  function onpointermove(event: PointerEvent & { currentTarget: Element }) {
    const before = held.find(({ id }) => id === event.pointerId);
    if (!before) return;
    const now = at(event, event.currentTarget);
    const still = held.find(({ id }) => id !== event.pointerId);
    if (still) {
      const apart = (p: { x: number; y: number }) => Math.max(10, Math.hypot(p.x - still.x, p.y - still.y));
      view.zoom(apart(now) / apart(before), still.x, still.y);
    } else view.pan(now.x - before.x, now.y - before.y);
    held = held.map((each) => (each.id === event.pointerId ? { ...each, ...now } : each));
  }
  const onpointerup = (event: PointerEvent) => (held = held.filter(({ id }) => id !== event.pointerId));
  const STEP_PX = 60;
  function onkeydown(event: KeyboardEvent) {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const by = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (by) view.pan(by[0]! * STEP_PX, by[1]! * STEP_PX);
    else if (event.key === '+' || event.key === '=') view.zoom(1.4);
    else if (event.key === '-') view.zoom(1 / 1.4);
    else if (event.key === '0') view.whole();
    else return;
    event.preventDefault();
  }
  /** The wheel is ours over the map; told so, it may not scroll the page. */
  const wheel = (box: HTMLElement) => {
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      const { x, y } = at(event, box);
      view.zoom(Math.exp(-Math.max(-200, Math.min(200, event.deltaY)) / 300), x, y);
    };
    box.addEventListener('wheel', turn, { passive: false });
    return () => box.removeEventListener('wheel', turn);
  };
  const words = $derived.by(() => {
    if (!summary) return 'Star-shape map';
    if (isQuiz) return `A frame to judge: ${frame.name}`;
    const { radial } = summary.field;
    const corners = radial
      ? `, corner elongation ${Math.abs(radial.corner).toFixed(2)} ${stretchWords(radial.corner)}`
      : '';
    const stretched = zones.filter(({ isStretched }) => isStretched).length;
    return `Star-shape map of ${frame.name}: ${summary.field.count} stars${corners}; ${stretched} of ${zones.length} zones stretched beyond chance`;
  });
  const clipLeft = (element: HTMLElement) => {
    element.style.clipPath = `inset(0 0 0 ${Math.max(0, splitX)}px)`;
  };
</script>

<div
  class="map relative h-full min-h-0 w-full overflow-hidden"
  bind:clientWidth={view.boxWidth}
  bind:clientHeight={view.boxHeight}
  style:--box-width={view.boxWidth}
  style:--box-height={view.boxHeight}
  {@attach wheel}
>
  <svg class="pointer-events-none absolute inset-0" width={view.boxWidth} height={view.boxHeight} aria-hidden="true">
    <g
      transform="translate({view.left + (view.widthPx * view.scale) / 2} {view.top + (view.heightPx * view.scale) / 2})"
    >
      <FaceRing radiusPx={(Math.hypot(view.widthPx, view.heightPx) / 2) * MapView.RING * view.scale} />
    </g>
    <rect
      class="dark"
      x={view.left}
      y={view.top}
      width={view.widthPx * view.scale}
      height={view.heightPx * view.scale}
    />
  </svg>
  {#snippet picture(pixels: Pixels)}
    <FramePicture
      {pixels}
      scale={view.scale}
      left={view.left}
      top={view.top}
      width={view.boxWidth}
      height={view.boxHeight}
    />
  {/snippet}
  {#if map.image}
    {#if frame.pixels && frame.state === 'read'}{@render picture(frame.pixels)}{/if}
    {#if after}
      <div class="absolute inset-0" {@attach clipLeft}>{@render picture(after)}</div>
    {/if}
  {/if}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <svg
    id="star-map"
    class="absolute inset-0 block touch-none select-none"
    width={view.boxWidth}
    height={view.boxHeight}
    role="application"
    aria-label="{words}. Arrow keys move, plus and minus zoom, 0 shows all of it."
    tabindex="0"
    data-scale={view.scale.toFixed(4)}
    {onpointerdown}
    {onpointermove}
    {onpointerup}
    onpointercancel={onpointerup}
    ondblclick={(event) => {
      const { x, y } = at(event, event.currentTarget);
      map.addLoupe((x - view.left) / view.scale / view.widthPx, (y - view.top) / view.scale / view.heightPx);
    }}
    {onkeydown}
  >
    <defs>
      <clipPath id="{uid}-right"
        ><rect
          x={compared ? splitX : -1}
          y="0"
          width={Math.max(0, view.boxWidth - splitX)}
          height={view.boxHeight}
        /></clipPath
      >
      <clipPath id="{uid}-left"
        ><rect x="0" y="0" width={compared ? Math.max(0, splitX) : view.boxWidth} height={view.boxHeight} /></clipPath
      >
    </defs>
    <rect
      class="sensor"
      x={view.left}
      y={view.top}
      width={view.widthPx * view.scale}
      height={view.heightPx * view.scale}
    />
    {#snippet strokes(of: Whiskers, thickness: string)}
      <path class="shade {thickness}" d={of.outward + of.circling} />
      <path class="whisker circling {thickness}" d={of.circling} data-whiskers="circling" />
      <path class="whisker outward {thickness}" d={of.outward} data-whiskers="outward" />
    {/snippet}
    {#snippet drawn(of: typeof lines, clip: string)}
      {#if of}
        <g clip-path="url(#{uid}-{clip})">
          <g transform="translate({view.left} {view.top}) scale({view.scale})">
            {#if of.single}{@render strokes(of.single, 'thin')}{/if}
            {@render strokes(of.needles, 'thick')}
          </g>
          {#each of.needles.calm as { x, y }, index (index)}
            <circle class="calm" cx={view.left + x * view.scale} cy={view.top + y * view.scale} r="2.2" data-calm />
          {/each}
        </g>
      {/if}
    {/snippet}
    {@render drawn(lines, 'left')}
    {#if compared}{@render drawn(otherLines, 'right')}{/if}
    {#each apart as { x, y, size, sizeStandard, fwhmPx, count }, index (index)}
      {@const [cx, cy] = [view.left + x * view.scale, view.top + y * view.scale]}
      {@const radius = Math.max(6, Math.min(30, 14 * (1 + 1.2 * (size - 1))))}
      <g class={['size', size > 1 ? 'larger' : 'smaller']} data-size>
        <circle {cx} {cy} r={radius} />
        <text x={cx} y={cy + radius + 11} text-anchor="middle">{percentApart(size)}</text>
        <title>{fwhmPx.toFixed(2)} px, {percentApart(size)} ± {Math.round(100 * sizeStandard)} %, {count} stars</title>
      </g>
    {/each}
    {#if summary?.field.opticalCentre && map.whiskers && !isQuiz}
      {@const half = Math.hypot(view.widthPx, view.heightPx) / 2}
      {@const { x, y } = summary.field.opticalCentre}
      <g
        transform="translate({view.left + (view.widthPx / 2 + x * half) * view.scale} {view.top +
          (view.heightPx / 2 - y * half) * view.scale})"
      >
        <path class="centre" d="M-9 0H-3M3 0H9M0 -9V-3M0 3V9" />
      </g>
    {/if}
    {#if compared}
      <path class="split" d="M{splitX} {view.top}V{view.top + view.heightPx * view.scale}" />
      {@const captionY = Math.max(16, view.top - 8)}
      <text class="caption" x={splitX - 8} y={captionY} text-anchor="end">{shortName(frame.name)}</text>
      <text class="caption" x={splitX + 8} y={captionY}>{shortName(compared.name)}</text>
    {/if}
  </svg>
  {#if frame.pixels && frame.state === 'read' && map.loupesShown}
    {#each map.loupes as loupe, index (loupe.id)}
      <Loupe
        {loupe}
        number={index + 1}
        {view}
        pixels={!map.both && after && loupe.x > map.split ? after : frame.pixels}
        other={map.both && after ? { pixels: after, from: map.split } : undefined}
        onmove={(x, y) => map.moveLoupe(loupe, x, y)}
        onremove={() => map.removeLoupe(loupe)}
      />
    {/each}
  {/if}
  {#if compared}
    <PlacedSlider
      id="frame-split"
      label="Left {frame.name}, right {compared.name}"
      orientation="horizontal"
      x={splitX}
      y={view.top + (view.heightPx * view.scale) / 2}
      heightPx={Math.min(view.boxHeight, view.heightPx * view.scale)}
      min={0}
      max={100}
      now={Math.round(map.split * 100)}
      ondrag={(x) => map.moveSplit((x - view.left) / view.scale / view.widthPx)}
      onstep={(by, fine) => map.moveSplit(map.split + by * (fine ? 0.005 : 0.02))}
      onto={(end) => map.moveSplit(end === 'home' ? 0 : 1)}
    />
  {/if}
</div>

<style>
  .map {
    background: var(--color-base-100);
  }
  /* Pixels are drawn for the screen; a sheet of A4 or Letter is some 690 px wide. */
  @media print {
    .map {
      width: calc(var(--box-width) * 1px);
      height: calc(var(--box-height) * 1px);
      zoom: min(1, 690 / var(--box-width));
    }
  }
  #star-map {
    cursor: grab;
  }
  #star-map:active {
    cursor: grabbing;
  }
  .dark {
    fill: #000;
  }
  .sensor {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 1.4;
  }
  .shade {
    fill: none;
    stroke: #000;
    stroke-opacity: 0.55;
    stroke-width: 4;
    vector-effect: non-scaling-stroke;
  }
  .whisker {
    fill: none;
    stroke-width: 1.4;
    vector-effect: non-scaling-stroke;
  }
  .shade.thick {
    stroke-width: 6.4;
    stroke-linecap: round;
  }
  .whisker.thick {
    stroke-width: 3.4;
  }
  .circling.thick {
    stroke-dasharray: 7 3;
  }
  .calm {
    fill: var(--ink-muted);
    stroke: #000;
    stroke-opacity: 0.55;
  }
  .outward {
    stroke: var(--whisker-outward);
  }
  .circling {
    stroke: var(--whisker-circling);
    stroke-dasharray: 3 2.5;
  }
  .size circle {
    fill: none;
  }
  .size.smaller circle {
    stroke: var(--whisker-circling);
    stroke-dasharray: 3 2.5;
    stroke-width: 2;
  }
  .size.larger circle {
    stroke: var(--whisker-outward);
    stroke-width: 2.2;
  }
  .size.larger text {
    fill: var(--whisker-outward);
  }
  .size.smaller text {
    fill: var(--whisker-circling);
  }
  .size text {
    stroke: #000;
    stroke-opacity: 0.6;
    stroke-width: 2.5;
    paint-order: stroke;
    font-size: 11px;
  }
  .centre {
    stroke: var(--whisker-outward);
    stroke-width: 1.6;
  }
  .caption {
    fill: var(--color-base-content);
    font-size: 12px;
  }
  .split {
    stroke: var(--color-primary);
    stroke-width: 2;
  }
</style>
