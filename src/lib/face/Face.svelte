<script lang="ts">
  import { clashesOf } from '@lodestone/core/guide';
  import { faceOf, type FaceOpening } from '@lodestone/core/shape';
  import { filledInWords } from '@lodestone/core/check';
  import { radians } from '@lodestone/core/stats';
  import type { LayerView } from '$lib/rail/layers.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import PlacedSlider from '$lib/ui/PlacedSlider.svelte';
  import FaceRing from './FaceRing.svelte';
  import type { FaceView } from './faceView.svelte.ts';
  import LightOnSensor from './LightOnSensor.svelte';
  import type { Snippet } from 'svelte';

  interface Props {
    view: FaceView;
    layers: LayerView;
    /** What lies behind the sensor, in mm: x to the right, y down. */
    behind?: Snippet<[pxPerMm: number]> | undefined;
    /** How far that reaches, mm. */
    reachMm?: number;
    /** Turn of the camera that is thought of, degrees anticlockwise. */
    turnDeg?: number;
    /** What was selected is to be looked at. */
    onopen: () => void;
  }
  const { view, layers, behind, reachMm = 0, turnDeg = 0, onopen }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  let widthPx = $state(420);
  let heightPx = $state(420);

  const { facts } = $derived(train.assessment);
  const face = $derived(faceOf(facts));
  /** What the face rests on where the train has gaps: it shows the filled train. */
  const rests = $derived(filledInWords(facts, display.unit));

  /** Room outside the ring for its figures, px. */
  const RING_PX = 22;
  /** Room for the layers' names above, px. */
  const TOP_PX = 30;
  const ringMm = $derived(Math.max(face?.radiusMm ?? 30, reachMm));
  const pxPerMm = $derived(Math.max(0.1, (Math.min(widthPx - 24, heightPx - TOP_PX) / 2 - RING_PX) / ringMm));
  const clashes = $derived(facts.guide ? clashesOf(train.shown, facts.guide, turnDeg) : []);
  const at = (deg: number, mm: number) =>
    `${Math.cos(radians(deg)) * mm * pxPerMm} ${-Math.sin(radians(deg)) * mm * pxPerMm}`;

  /** What stands beside the train, from its nearest place to the ring. */
  function sector(atDeg: number, widthDeg: number, fromMm: number): string {
    const [from, to] = [atDeg - widthDeg / 2, atDeg + widthDeg / 2];
    const [inner, outer] = [Math.min(fromMm, ringMm - 1), ringMm];
    const large = widthDeg > 180 ? 1 : 0;
    return `M${at(from, inner)}A${inner * pxPerMm} ${inner * pxPerMm} 0 ${large} 0 ${at(to, inner)}L${at(to, outer)}A${outer * pxPerMm} ${outer * pxPerMm} 0 ${large} 1 ${at(from, outer)}Z`;
  }
  /** The way of the guide camera's middle, with a head where it comes to. */
  function arc(fromDeg: number, byDeg: number): string {
    const radius = ringMm - 2;
    const to = fromDeg + byDeg;
    const sense = byDeg > 0 ? 0 : 1;
    const head = Math.sign(byDeg) * 4;
    return `M${at(fromDeg, radius)}A${radius * pxPerMm} ${radius * pxPerMm} 0 0 ${sense} ${at(to, radius)}M${at(to - head, radius - 2)}L${at(to, radius)}L${at(to - head, radius + 2)}`;
  }
  /** What a plug sweeps while its part is turned as far as the cable lets it, both ways. */
  function turnArc(atDeg: number, slackDeg: number, radiusMm: number): string {
    const large = slackDeg > 90 ? 1 : 0;
    const radius = radiusMm * pxPerMm;
    return `M${at(atDeg - slackDeg, radiusMm)}A${radius} ${radius} 0 ${large} 0 ${at(atDeg + slackDeg, radiusMm)}`;
  }
  const isSelected = (id: string) => train.selection.kind === 'element' && train.selection.id === id;

  /** Everything of one part together: it is chosen as one. */
  const parts = $derived.by(() => {
    const byPart: { id: string; openings: FaceOpening[] }[] = [];
    for (const opening of face?.openings ?? []) {
      const part = byPart.find(({ id }) => id === opening.at);
      if (part) part.openings.push(opening);
      else byPart.push({ id: opening.at, openings: [opening] });
    }
    return byPart;
  });

  /** What the keys walk: from the sensor outward. */
  const walk = $derived.by(() => {
    if (!face) return [];
    const openings = view.has('light') ? parts.map(({ id }) => id).toReversed() : [];
    const prism = view.has('guide') && face.prism ? [face.prism.at] : [];
    return [...new Set([face.camera, ...openings, ...prism])].filter((id) => id !== 'host');
  });

  const activeId = $derived(
    train.selection.kind === 'element' && walk.includes(train.selection.id) ? `face-${train.selection.id}` : undefined
  );

  function onkeydown(event: KeyboardEvent) {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    if (by !== undefined && walk.length > 0) {
      event.preventDefault();
      const now = train.selection.kind === 'element' ? walk.indexOf(train.selection.id) : -1;
      const to = walk[Math.max(0, Math.min(walk.length - 1, now < 0 ? 0 : now + by))]!;
      train.select({ kind: 'element', id: to });
    } else if (event.key === 'Enter') {
      event.preventDefault();
      onopen();
    }
  }
  const choose = (id: string) => train.select({ kind: 'element', id });

  function partWords({ openings }: { openings: readonly FaceOpening[] }): string {
    const narrow = openings.reduce((least, each) => (each.clearMm < least.clearMm ? each : least));
    return `${narrow.words}: ${display.length(narrow.clearMm, 1)} clear${openings.some(({ cuts }) => cuts) ? ', cuts the light' : ''}`;
  }

  /** Words stand round the lower half, each at its own place. */
  const labels = $derived.by(() => {
    const told = parts
      .map(({ id, openings }) => ({ id, opening: openings.find(({ cuts }) => cuts) ?? openings[0]! }))
      .filter(({ id, opening }) => opening.cuts || isSelected(id));
    return told.map(({ id, opening }, index) => {
      const angle = radians(240 + (60 * (index + 0.5)) / Math.max(1, told.length));
      const radius = (opening.clearMm / 2) * (opening.shape === 'square' ? 1.12 : 1);
      return { id, opening, x: radius * Math.cos(angle), y: -radius * Math.sin(angle) };
    });
  });
</script>

<div class="relative h-full min-h-0 w-full" bind:clientWidth={widthPx} bind:clientHeight={heightPx}>
  {#if face}
    <svg
      id="face"
      width={widthPx}
      height={heightPx}
      viewBox="{-widthPx / 2} {-(heightPx + TOP_PX) / 2} {widthPx} {heightPx}"
      role="listbox"
      aria-label="Train seen from the camera, sensor outward"
      aria-activedescendant={activeId}
      tabindex="0"
      class="block select-none"
      data-px-per-mm={pxPerMm}
      {onkeydown}
    >
      <FaceRing radiusPx={ringMm * pxPerMm} />
      {#if behind}<g aria-hidden="true">{@render behind(pxPerMm)}</g>{/if}

      <g
        id="face-{face.camera}"
        role="option"
        tabindex="-1"
        aria-selected={isSelected(face.camera)}
        aria-label="Sensor, {face.sensor.widthMm} × {face.sensor.heightMm} mm"
        class="cursor-pointer"
        onclick={() => choose(face.camera)}
        ondblclick={onopen}
        onkeydown={undefined}
      >
        <rect
          class={['sensor', isSelected(face.camera) && 'chosen', (view.has('framing') || view.has('slots')) && 'clear']}
          x={(-face.sensor.widthMm / 2) * pxPerMm}
          y={(-face.sensor.heightMm / 2) * pxPerMm}
          width={face.sensor.widthMm * pxPerMm}
          height={face.sensor.heightMm * pxPerMm}
        />
      </g>
      {#if view.has('light') && facts.light}
        <LightOnSensor light={facts.light} {view} {layers} {pxPerMm} />
        {#each parts as part (part.id)}
          <g
            id={part.id === face.camera ? undefined : `face-${part.id}`}
            role="option"
            tabindex="-1"
            aria-selected={isSelected(part.id)}
            aria-label={partWords(part)}
            class="cursor-pointer"
            onclick={() => choose(part.id)}
            ondblclick={onopen}
            onkeydown={undefined}
          >
            {#each part.openings as { shape, clearMm, atMm, cuts, what }, index (index)}
              {@const half = (clearMm / 2) * pxPerMm}
              {@const looks = [
                'opening',
                what === 'filter' && 'filter',
                cuts && 'cuts',
                !cuts && what !== 'filter' && 'quiet',
                isSelected(part.id) && 'chosen'
              ]}
              {#if shape === 'round'}
                <circle class={looks} cx={atMm[0] * pxPerMm} cy={-atMm[1] * pxPerMm} r={half} />
              {:else}
                <rect
                  class={looks}
                  x={atMm[0] * pxPerMm - half}
                  y={-atMm[1] * pxPerMm - half}
                  width={2 * half}
                  height={2 * half}
                />
              {/if}
            {/each}
          </g>
        {/each}
      {/if}

      {#if view.has('guide')}
        {#each face.neighbours as { name, atDeg, widthDeg, fromAxisMm }, index (index)}
          {@const angle = radians(atDeg)}
          {@const met = clashes.some((each) => each.name === name)}
          <g aria-hidden="true" class="pointer-events-none" data-neighbour={name}>
            <path class={['neighbour', met && 'cuts']} d={sector(atDeg, widthDeg, fromAxisMm)} />
            <text
              class={['word', met && 'bad']}
              x={Math.cos(angle) * Math.min(fromAxisMm + 4, ringMm) * pxPerMm}
              y={-Math.sin(angle) * Math.min(fromAxisMm + 4, ringMm) * pxPerMm}
              text-anchor="middle">{name}</text
            >
          </g>
        {/each}
        {#if face.prism && Math.abs(turnDeg) > 0.5}
          <!-- What the guide camera sweeps on its way. -->
          <path class="sweep" aria-hidden="true" d={arc(face.prism.atDeg, turnDeg)} data-sweep />
        {/if}
      {/if}
      {#if view.has('cables')}
        {#each face.cables as { at: part, name, atDeg, fromMm, slackDeg, isShort }, index (index)}
          {@const angle = radians(atDeg)}
          <g aria-hidden="true" class="pointer-events-none" data-cable={name}>
            {#if slackDeg !== undefined && slackDeg > 0}
              <path class="slack" d={turnArc(atDeg, Math.min(slackDeg, 179), fromMm + 2)} />
            {/if}
            <path
              class={['cable', isShort && 'cuts', isSelected(part) && 'chosen']}
              d="M{at(atDeg, fromMm)}L{at(atDeg, ringMm)}"
            />
            <circle
              class={['plug', isShort && 'cuts']}
              cx={Math.cos(angle) * fromMm * pxPerMm}
              cy={-Math.sin(angle) * fromMm * pxPerMm}
              r="4"
            />
            <text
              class={['word', isShort && 'bad']}
              x={Math.cos(angle) * (fromMm + 3) * pxPerMm}
              y={-Math.sin(angle) * (fromMm + 3) * pxPerMm - 7}
              text-anchor={Math.cos(angle) < -0.3 ? 'start' : Math.cos(angle) > 0.3 ? 'end' : 'middle'}
              >{name}{isShort ? ', too short' : ''}</text
            >
          </g>
        {/each}
      {/if}
      {#if view.has('guide') && face.prism}
        {@const { at, innerEdgeMm, sideMm, stalkMm, atDeg, shades, field } = face.prism}
        <g
          id={view.has('light') && parts.some(({ id }) => id === at) ? undefined : `face-${at}`}
          role="option"
          tabindex="-1"
          aria-selected={isSelected(at)}
          aria-label="Guide prism, {display.length(innerEdgeMm, 1)} from the axis{shades
            ? ', shades the sensor'
            : ', no shadow'}"
          class="cursor-pointer"
          transform="rotate({90 - atDeg})"
          onclick={() => choose(at)}
          ondblclick={onopen}
          onkeydown={undefined}
          data-prism
        >
          <rect
            class="stalk"
            x={(-sideMm / 5) * pxPerMm}
            y={-Math.min(innerEdgeMm + sideMm + stalkMm, ringMm) * pxPerMm}
            width={(sideMm / 2.5) * pxPerMm}
            height={Math.max(0, Math.min(stalkMm, ringMm - innerEdgeMm - sideMm)) * pxPerMm}
          />
          <rect
            class={['prism', isSelected(at) && 'chosen', shades && 'cuts']}
            x={(-sideMm / 2) * pxPerMm}
            y={-(innerEdgeMm + sideMm) * pxPerMm}
            width={sideMm * pxPerMm}
            height={sideMm * pxPerMm}
          />
          {#if field}
            <rect
              class="guide-field"
              x={(-field.widthMm / 2) * pxPerMm}
              y={-(field.heightMm + field.tallMm / 2) * pxPerMm}
              width={field.widthMm * pxPerMm}
              height={field.tallMm * pxPerMm}
            />
          {/if}
        </g>
        {@const angle = radians(atDeg)}
        {@const middle = innerEdgeMm + sideMm / 2}
        <text
          class={['word', shades && 'bad']}
          x={middle * Math.cos(angle) * pxPerMm + (sideMm / 2) * pxPerMm + 6}
          y={-middle * Math.sin(angle) * pxPerMm + 4}
          aria-hidden="true">{shades ? 'prism shades the sensor' : 'prism, no shadow'}</text
        >
      {/if}
      {#if view.has('light')}
        <g aria-hidden="true">
          {#each labels as { id, opening, x, y } (id)}
            <text class={['word', opening.cuts && 'bad']} x={x * pxPerMm} y={y * pxPerMm + 14} text-anchor="middle"
              >{opening.words} {display.number(opening.clearMm, 1)}</text
            >
          {/each}
        </g>
      {/if}
      {#if rests !== undefined && face}
        <text class="rests" x={10 - widthPx / 2} y={(heightPx - TOP_PX) / 2 - 8} data-once-filled>{rests}</text>
      {/if}
    </svg>
    {#if view.has('light') && view.compared}
      <PlacedSlider
        id="face-split"
        label="Left as it is, right {view.compared.words}"
        orientation="horizontal"
        x={widthPx / 2 + (view.split - 0.5) * face.sensor.widthMm * pxPerMm}
        y={(heightPx + TOP_PX) / 2}
        heightPx={face.sensor.heightMm * pxPerMm}
        min={0}
        max={100}
        now={Math.round(view.split * 100)}
        ondrag={(x) => view.moveSplit((x - widthPx / 2) / pxPerMm / face.sensor.widthMm + 0.5)}
        onstep={(by, fine) => view.moveSplit(view.split + by * (fine ? 0.005 : 0.02))}
        onto={(end) => view.moveSplit(end === 'home' ? 0 : 1)}
      />
    {/if}
  {:else}
    <p class="text-muted grid h-full place-content-center p-6 text-center">
      The sensor is not described, so there is nothing to draw round it: give its width, height and pixel size.
    </p>
  {/if}
</div>

<style>
  .rests {
    fill: var(--color-base-content);
    font-size: 11px;
  }
  [role='option']:focus {
    outline: none;
  }
  .sensor {
    fill: var(--color-base-100);
    stroke: var(--color-primary);
    stroke-width: 1.6;
  }
  .sensor.clear {
    fill-opacity: 0.25;
  }
  .sensor.chosen {
    stroke-width: 3;
  }
  .opening {
    fill: none;
    stroke: var(--metal-edge);
    stroke-width: 1;
    stroke-dasharray: 2 4;
    pointer-events: stroke;
  }
  .opening.quiet {
    opacity: 0.4;
  }
  .opening.quiet.chosen {
    opacity: 1;
  }
  .opening.filter {
    stroke: var(--glass);
    stroke-dasharray: none;
  }
  .opening.cuts {
    stroke: var(--color-error);
    stroke-width: 2;
    stroke-dasharray: 7 4;
  }
  .opening.chosen {
    stroke-width: 3;
    stroke: var(--color-primary);
  }
  .stalk {
    fill: var(--metal);
    stroke: var(--metal-edge);
  }
  .prism {
    fill: var(--glass);
    fill-opacity: 0.35;
    stroke: var(--glass);
    stroke-width: 1.2;
  }
  .prism.cuts {
    stroke: var(--color-error);
    stroke-width: 2;
    stroke-dasharray: 5 3;
  }
  .prism.chosen {
    stroke: var(--color-primary);
    stroke-width: 2.5;
  }
  .neighbour {
    fill: var(--metal-edge);
    fill-opacity: 0.35;
    stroke: var(--metal-edge);
  }
  .neighbour.cuts {
    stroke: var(--color-error);
    stroke-width: 2;
    stroke-dasharray: 6 3;
  }
  .cable {
    stroke: var(--metal-edge);
    stroke-width: 3;
    stroke-linecap: round;
  }
  .cable.chosen {
    stroke: var(--color-primary);
  }
  .plug {
    fill: var(--metal);
    stroke: var(--metal-edge);
  }
  .cable.cuts,
  .plug.cuts {
    stroke: var(--color-error);
  }
  .slack {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 1.4;
    stroke-dasharray: 2 3;
  }
  .sweep {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 1.6;
  }
  .guide-field {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1;
    stroke-dasharray: 3 2;
  }
  .word {
    fill: var(--color-base-content);
    font-size: 11px;
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 3px;
    stroke-linejoin: round;
    pointer-events: none;
  }
  .word.bad {
    fill: var(--color-error);
    font-weight: 600;
  }
</style>
