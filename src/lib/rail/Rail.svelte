<script lang="ts">
  import {
    HOST_STUB_MM,
    atOrigin,
    deepestOf,
    offOutlines,
    type LayoutItem,
    type LayoutJoint
  } from '@lodestone/core/shape';
  import { findElement, nameOf } from '@lodestone/core/train';
  import { parseThread, portInWords } from '@lodestone/core/joint';
  import type { Finding } from '@lodestone/core/check';
  import { scaleLinear } from 'd3-scale';
  import { useTrain } from '$lib/train/context.ts';
  import type { Selection } from '$lib/train/session.svelte.ts';
  import { foreseen } from '$lib/train/whatIf.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import GapLimits from './GapLimits.svelte';
  import Hatches from './Hatches.svelte';
  import JointHandle from './JointHandle.svelte';
  import RailPart, { isSlender } from './RailPart.svelte';
  import RailPlanes from './RailPlanes.svelte';
  import RailRuler from './RailRuler.svelte';
  import RailThreads from './RailThreads.svelte';
  import Shapes from './Shapes.svelte';
  import FieldPoint from './FieldPoint.svelte';
  import LayersOver from './LayersOver.svelte';
  import { WORD_ROW_PX, rowsOfWords } from './layerWords.ts';
  import type { LayerView } from './layers.svelte.ts';
  import { faultsById, jointInWords, partInWords } from './railWords.ts';
  import { chooseBy } from './chooseBy.ts';
  import { spread } from './spread.ts';
  import { Steady } from './steady.ts';
  import { Reorder, nearest } from './reorder.svelte.ts';
  import type { RailView } from './view.svelte.ts';
  import type { ZoomControl } from './zoom.ts';

  interface Props {
    view: RailView;
    zoom: ZoomControl;
    onadd: (jointId: string) => void;
    onrefused: (message: string) => void;
    /** A part or a joint was chosen with the pointer. */
    onchosen: () => void;
    /** Something is asked for what is selected: at the pointer, or at what is drawn of it. */
    onmenu: (event: MouseEvent, of: Element) => void;
    /** What lies over the drawing. */
    layers?: LayerView | undefined;
  }
  const { view, zoom, onadd, onrefused, onchosen, onmenu, layers }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const TOP_PX = 54;
  const RULER_PX = 66;
  let heightPx = $state(330);

  const layout = $derived(train.layout);
  const x = $derived(view.x);
  const rulerY = $derived(heightPx - RULER_PX);
  /** Room above the parts for a guider's stalk, and below them before the ruler. */
  const STALK_PX = 16;
  const FOOT_PX = 8;
  /** Words of layers stand above all of it. */
  const wordsPx = $derived(layers?.on.length ? rowsOfWords(view.widthPx) * WORD_ROW_PX : 0);
  const partsTop = $derived(TOP_PX + wordsPx + STALK_PX);
  const deepestMm = $derived(deepestOf(layout));
  const roomPx = $derived(Math.max(rulerY - FOOT_PX - partsTop, 40));
  /** What reaches farthest above it: a layer may go beyond the parts. */
  const highestMm = $derived(
    Math.max(layout.maxRadiusMm, ...(layers?.on ?? []).map(({ reachMm }) => reachMm(train.assessment.facts)))
  );
  const pxAcrossToFit = $derived(roomPx / (highestMm + deepestMm));
  const axisY = $derived(partsTop + (roomPx * highestMm) / (highestMm + deepestMm));
  const pxAcross = $derived(view.trueProportions ? view.pxPerMm : pxAcrossToFit);

  const { selection } = $derived(train);
  const faultyJoints = $derived(faultsById(train.assessment.errors, true));
  const faultyParts = $derived(faultsById(train.assessment.errors, false));
  const said = (faults: ReadonlyMap<string, readonly Finding[]>, id: string) =>
    (faults.get(id) ?? []).map(({ say }) => say(display.unit));

  /** As light meets them, whatever lies over what in the drawing. */
  const readingOrder = $derived([
    'rail-host',
    ...train.shown.elements.flatMap(({ id }) => {
      const joint = layout.joints.some((each) => each.id === id) ? [`rail-joint-${id}`] : [];
      return [...joint, `rail-element-${id}`];
    })
  ]);

  /** Parts of a preview that the document does not have. */
  const ghosts = $derived.by(() => {
    if (!train.preview) return undefined;
    const standing = new Set(train.document.elements.map(({ id }) => id));
    return new Set(train.preview.elements.filter(({ id }) => !standing.has(id)).map(({ id }) => id));
  });

  const isJointSelected = (id: string) => selection.kind === 'joint' && selection.id === id;
  /** What is selected may not be drawn: a preview has no gaps. */
  const activeId = $derived.by(() => {
    if (!('id' in selection)) return 'rail-host';
    const drawn = (selection.kind === 'joint' ? layout.joints : layout.items).some(({ id }) => id === selection.id);
    return drawn ? `rail-${selection.kind}-${selection.id}` : undefined;
  });

  function wordsOf({ id, name, fromMm, toMm }: LayoutItem): string {
    const element = findElement(train.shown, id);
    return element ? partInWords(element, display.length(toMm - fromMm), said(faultyParts, id)) : name;
  }

  const middleOf = ({ fromMm, toMm }: { fromMm: number; toMm: number }) => (x(fromMm) + x(toMm)) / 2;

  /** What a joint is called on the ruler: its thread. */
  function jointLabel({ joint }: LayoutJoint): string {
    const port = joint.sky ?? joint.camera;
    if (!port) return 'not known';
    if ('thread' in port) return parseThread(port.thread)?.designation ?? port.thread;
    return portInWords(port).replace(/ (male|female)$/, '');
  }

  /** Most edits move parts and change one: what only moves keeps its shape, and is not drawn anew. */
  const steady = new Steady<LayoutItem>();
  const drawn = $derived(layout.items.map((item) => ({ item, shape: steady.keep(item.id, atOrigin(item)) })));
  const along = $derived(scaleLinear([0, view.pxPerMm]));

  /** What is too slender to be hit easily lies on top of its neighbours: gaps and shims. */
  const drawingOrder = $derived(
    drawn.toSorted((a, b) => Number(isSlender(a.item, view.pxPerMm)) - Number(isSlender(b.item, view.pxPerMm)))
  );

  /** Labels only where they do not run into the next joint. */
  const LABEL_PX_PER_LETTER = 6.4;
  /** Handles keep a finger's width apart (WCAG 2.5.8); where they have to move, a line leads to their joint. */
  const HANDLE_PX = 24;
  const handles = $derived.by(() => {
    const standing = layout.joints.map((joint) => ({ joint, at: middleOf(joint) }));
    const seen = standing.filter(({ at }) => at >= 0 && at <= view.widthPx);
    // Two rows hold twice as many: every other one stands in the second.
    const rows = seen.length * HANDLE_PX > view.widthPx ? 2 : 1;
    const places = spread(
      seen.map(({ at }) => at),
      HANDLE_PX / rows,
      HANDLE_PX / 2,
      view.widthPx - HANDLE_PX / 2
    );
    const placed = standing.map(({ joint, at }) => {
      const index = seen.findIndex((each) => each.joint === joint);
      return { joint, at, handleX: places[index] ?? at, row: rows === 2 ? Math.max(index, 0) % 2 : 0 };
    });
    return placed.map((handle, index) => {
      const label = jointLabel(handle.joint);
      const room = (placed[index + 1]?.handleX ?? view.widthPx) - handle.handleX;
      const fits = rows === 1 && room > label.length * LABEL_PX_PER_LETTER + 24;
      return { ...handle, rows, label: fits ? label : '' };
    });
  });

  const move = (id: string, before: string) => ({ op: 'move', id, before }) as const;
  /** How the train would stand if the part that is held were let go. */
  const wouldBe = $derived.by(() => {
    const { dragged } = reorder;
    if (!dragged) return undefined;
    const { before } = dragged.place;
    return staysAt(dragged.id, before)
      ? { words: 'stays where it is', bad: false }
      : foreseen(train.assessment, move(dragged.id, before), display.unit);
  });
  /** The joint on its camera side is where it stands already. */
  const staysAt = (id: string, before: string) => {
    const { elements } = train.document;
    return before === id || elements[elements.findIndex((each) => each.id === id) + 1]?.id === before;
  };

  const places = () => handles.map(({ joint, at }) => ({ before: joint.id, x: at }));
  const reorder = new Reorder({
    places,
    onstart: (id) => train.select({ kind: 'element', id }),
    ondrop: (id, before) => {
      if (staysAt(id, before)) return;
      const refusal = train.dispatch(move(id, before), `Move ${nameOf(train.document, id)}`);
      if (refusal) onrefused(refusal);
    }
  });

  let svg: SVGSVGElement;
  $effect(() => {
    view.placeAt = (clientX, clientY) => {
      const { left, top, right, bottom } = svg.getBoundingClientRect();
      const over = clientX >= left && clientX <= right && clientY >= top && clientY <= bottom;
      return over ? nearest(places(), clientX - left) : undefined;
    };
  });

  function choose(what: Selection) {
    train.select(what);
    onchosen();
  }

  /** What is under the pointer is chosen first; the keys ask for what is chosen already. */
  function oncontextmenu(event: MouseEvent) {
    const under = event.target instanceof Element ? event.target.closest('[role=option]') : null;
    const [, kind, id] = /^rail-(host|element|joint)-?(.*)$/.exec(under?.id ?? '') ?? [];
    if (kind === 'host') train.select({ kind });
    else if (kind === 'joint' && id) train.select({ kind, id });
    // What is asked for where several are chosen is asked for all of them.
    else if (kind === 'element' && id && !train.isChosen(id)) train.select({ kind, id });
    onmenu(event, under ?? document.getElementById(activeId ?? '') ?? svg);
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.altKey || event.ctrlKey || event.metaKey || event.shiftKey) return;
    const walks: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, Home: -Infinity, End: Infinity };
    const by = walks[event.key];
    if (by !== undefined) {
      event.preventDefault();
      train.walk(by);
      const { selection: now } = train;
      const item = layout.items.find(({ id }) => 'id' in now && id === now.id);
      if (item) view.reveal(item.fromMm, item.toMm);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      toInspector();
    }
  }

  const toInspector = () =>
    document.getElementById('inspector')?.querySelector<HTMLElement>('input, select, button')?.focus();
</script>

<Hatches />
<div class="relative h-full min-h-0 w-full" bind:clientHeight={heightPx} bind:clientWidth={view.widthPx}>
  <svg
    {@attach zoom.attach}
    bind:this={svg}
    id="rail"
    width={view.widthPx}
    height={heightPx}
    viewBox="0 0 {view.widthPx} {heightPx}"
    role="listbox"
    aria-label="Parts and joints of {train.shown.name}, sky side first"
    aria-orientation="horizontal"
    aria-multiselectable="true"
    aria-activedescendant={activeId}
    aria-owns={readingOrder.join(' ')}
    tabindex="0"
    class="block touch-pan-y select-none"
    data-px-per-mm={view.pxPerMm}
    {onkeydown}
    {oncontextmenu}
  >
    <g
      id="rail-host"
      role="option"
      tabindex="-1"
      aria-selected={selection.kind === 'host'}
      aria-label="Host: {train.shown.host.name}"
      onclick={() => choose({ kind: 'host' })}
      onkeydown={undefined}
    >
      <rect
        class={['host', selection.kind === 'host' && 'chosen']}
        x={x(layout.hostFaceMm - HOST_STUB_MM)}
        y={axisY - layout.hostRadiusMm * pxAcross}
        width={HOST_STUB_MM * view.pxPerMm}
        height={layout.hostRadiusMm * 2 * pxAcross}
      />
      <text class="word" x={x(layout.hostFaceMm - HOST_STUB_MM / 2)} y={axisY + 4} text-anchor="middle">host</text>
    </g>

    {#each drawingOrder as { item, shape } (item.id)}
      <g
        {@attach item.kind === 'camera' ? undefined : reorder.draggable(item.id)}
        id="rail-element-{item.id}"
        role="option"
        tabindex="-1"
        aria-selected={train.isChosen(item.id)}
        aria-label={wordsOf(item)}
        class={['cursor-pointer', reorder.dragged?.id === item.id && 'opacity-50']}
        onclick={(event) => chooseBy(train, event, item.id, onchosen)}
        ondblclick={toInspector}
        onkeydown={undefined}
      >
        <g transform="translate({x(item.fromMm)} 0)">
          <RailPart
            item={shape}
            x={along}
            {axisY}
            {pxAcross}
            selected={train.isChosen(item.id)}
            faulty={faultyParts.has(item.id)}
            ghost={ghosts?.has(item.id) ?? false}
          />
        </g>
      </g>
    {/each}

    <!-- Threads reach into the neighbour, so they are drawn over all bodies. -->
    <g aria-hidden="true" class="pointer-events-none">
      {#each drawn as { item, shape } (item.id)}
        <g transform="translate({x(item.fromMm)} 0)"><RailThreads item={shape} x={along} {axisY} {pxAcross} /></g>
      {/each}
    </g>

    <g aria-hidden="true" class="pointer-events-none">
      <Shapes shapes={offOutlines(layout)} {x} {axisY} {pxAcross} />
      <path class="axis" d="M0 {axisY} H{view.widthPx}" />
      <RailRuler {view} y={rulerY} />
      {#if view.carried}<path class="drop" d="M{view.carried.x} {TOP_PX} V{rulerY}" />{/if}
      {#if reorder.dragged}
        <path class="drop" d="M{reorder.dragged.place.x} {TOP_PX} V{rulerY}" />
        <circle class="drop-knob" cx={reorder.dragged.atX} cy={axisY} r="5" />
      {/if}
    </g>

    {#each handles as { joint, at, handleX, row, rows, label } (joint.id)}
      {@const chosen = isJointSelected(joint.id)}
      {@const faulty = faultyJoints.has(joint.id)}
      <g
        id="rail-joint-{joint.id}"
        role="option"
        tabindex="-1"
        aria-selected={chosen}
        aria-label={jointInWords(train.shown, joint.joint, said(faultyJoints, joint.id))}
        class="cursor-pointer"
        onclick={() => (chosen ? onadd(joint.id) : choose({ kind: 'joint', id: joint.id }))}
        onkeydown={undefined}
      >
        <JointHandle
          x={at}
          {handleX}
          y={rows === 1 ? heightPx - 29 : heightPx - 36 + row * HANDLE_PX}
          topY={axisY - layout.maxRadiusMm * pxAcross}
          bottomY={rulerY + 26}
          {label}
          labelY={heightPx - 25}
          {chosen}
          {faulty}
        />
      </g>
    {/each}

    <g aria-hidden="true" class="pointer-events-none">
      <RailPlanes {view} topY={TOP_PX - 8} bottomY={rulerY} magnifies={!layers?.on.length} />
    </g>
    {#if layers}
      <LayersOver {layers} {x} {axisY} {pxAcross} widthPx={view.widthPx} {heightPx} wordsY={partsTop - STALK_PX - 3} />
    {/if}
  </svg>
  {#if !train.preview}
    <!-- Beside the list, not in it: a slider is no choice of it. -->
    <svg
      class="pointer-events-none absolute inset-0"
      width={view.widthPx}
      height={heightPx}
      viewBox="0 0 {view.widthPx} {heightPx}"
    >
      <GapLimits {view} topY={TOP_PX + 4} {axisY} {onrefused} />
    </svg>
  {/if}
  {#if layers}<FieldPoint {layers} {x} {axisY} {pxAcross} />{/if}
  {#if reorder.dragged && wouldBe}
    <p
      class={['panel pointer-events-none absolute top-8 z-10 px-2 py-1 text-xs shadow-lg', wouldBe.bad && 'text-error']}
      style:left="{Math.max(8, Math.min(reorder.dragged.atX + 12, view.widthPx - 260))}px"
      style:max-width="260px"
      data-would-be
    >
      {wouldBe.words}
    </p>
  {/if}
  <p class="text-muted pointer-events-none absolute top-1.5 right-3 text-xs max-sm:hidden" data-scale-words>
    {#if view.trueProportions}
      true proportions, {view.pxPerMm.toFixed(1)} px/mm
    {:else}
      along {view.pxPerMm.toFixed(1)} px/mm, across {(view.pxPerMm / pxAcross).toFixed(1)} times smaller
    {/if}
  </p>
</div>

<style>
  /* The selection itself is drawn; the part that was clicked needs no second frame. */
  [role='option']:focus {
    outline: none;
  }
  .host {
    fill: var(--metal);
    fill-opacity: 0.35;
    stroke: var(--metal-edge);
    stroke-dasharray: 2 3;
    stroke-width: 0.8;
    cursor: pointer;
  }
  .host.chosen {
    stroke: var(--color-primary);
    stroke-width: 1.4;
    stroke-dasharray: none;
  }
  .word {
    fill: var(--ink-muted);
    font-size: 10.5px;
  }
  .axis {
    stroke: var(--beam-axis);
    stroke-width: 0.7;
    stroke-dasharray: 14 4 3 4;
  }
  .drop {
    stroke: var(--color-primary);
    stroke-width: 2.5;
  }
  .drop-knob {
    fill: var(--color-primary);
  }
</style>
