<script lang="ts">
  import { HOST_STUB_MM, JOINT_CODES, jointName, parseThread, portInWords, type LayoutJoint } from '@lodestone/core';
  import { useTrain } from '$lib/train/context.ts';
  import type { Selection } from '$lib/train/session.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { drag, type D3DragEvent } from 'd3-drag';
  import { select } from 'd3-selection';
  import type { Attachment } from 'svelte/attachments';
  import Inset from './Inset.svelte';
  import RailPart, { depthFactor, isSlender } from './RailPart.svelte';
  import RailThreads from './RailThreads.svelte';
  import type { RailView } from './view.svelte.ts';
  import type { ZoomControl } from './zoom.ts';

  interface Props {
    view: RailView;
    zoom: ZoomControl;
    onadd: (jointId: string) => void;
    onrefused: (message: string) => void;
  }
  const { view, zoom, onadd, onrefused }: Props = $props();
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
  /** What reaches farthest below the axis: a wheel's carousel hangs lower than its body. */
  const deepestMm = $derived(
    Math.max(layout.hostRadiusMm, ...layout.items.map(({ kind, outerRadiusMm }) => outerRadiusMm * depthFactor(kind)))
  );
  const roomPx = $derived(Math.max(rulerY - FOOT_PX - TOP_PX - STALK_PX, 40));
  const pxAcrossToFit = $derived(roomPx / (layout.maxRadiusMm + deepestMm));
  const axisY = $derived(TOP_PX + STALK_PX + (roomPx * layout.maxRadiusMm) / (layout.maxRadiusMm + deepestMm));
  const pxAcross = $derived(view.trueProportions ? view.pxPerMm : pxAcrossToFit);
  const graduations = $derived(view.graduations(display.unit === 'mm' ? 1 : 25.4));

  const figures = $derived(graduations.filter(({ figure }) => figure !== undefined));
  const TICK_PX = [4, 7, 10];
  /** All lines of one rank as one path: there are hundreds, and every edit may move them. */
  const ticks = (wanted: 0 | 1 | 2) =>
    graduations
      .filter(({ rank }) => rank === wanted)
      .map(({ mm }) => `M${x(mm).toFixed(2)} ${rulerY}v${TICK_PX[wanted]}`)
      .join('');

  const { selection } = $derived(train);
  const faults = $derived(train.assessment.report.problems.filter(({ severity }) => severity === 'error'));
  const faultyJoints = $derived(new Set(faults.filter(({ code }) => JOINT_CODES.has(code)).map(({ at }) => at)));
  const faultyParts = $derived(new Set(faults.filter(({ code }) => !JOINT_CODES.has(code)).map(({ at }) => at)));

  const residualMm = $derived(train.assessment.report.residualMm);
  const sensorX = $derived(x(layout.sensorMm));
  const requiredX = $derived(layout.requiredMm === null ? undefined : x(layout.requiredMm));
  /** Below this many pixels the eye no longer judges the residual on the drawing itself. */
  const INSET_BELOW_PX = 14;
  const showInset = $derived(requiredX !== undefined && Math.abs(sensorX - requiredX) < INSET_BELOW_PX);
  /** Where the stated datum lies, when it is not the shoulder. */
  const datumOffset = $derived(train.assessment.report.required.datumMm ?? 0);

  const isSelected = (kind: Selection['kind'], id: string) =>
    selection.kind === kind && 'id' in selection && selection.id === id;
  const activeId = $derived('id' in selection ? `rail-${selection.kind}-${selection.id}` : 'rail-host');

  const middleOf = ({ fromMm, toMm }: { fromMm: number; toMm: number }) => (x(fromMm) + x(toMm)) / 2;

  /** What a joint is called on the ruler: its thread. */
  function jointLabel({ joint }: LayoutJoint): string {
    const port = joint.sky ?? joint.camera;
    if (!port) return 'not known';
    if ('thread' in port) return parseThread(port.thread)?.designation ?? port.thread;
    return portInWords(port).replace(/ (male|female)$/, '');
  }

  /** What is too slender to be hit easily lies on top of its neighbours: gaps and shims. */
  const drawingOrder = $derived(
    layout.items.toSorted((a, b) => Number(isSlender(a, view.pxPerMm)) - Number(isSlender(b, view.pxPerMm)))
  );

  /** Labels only where they do not run into the next joint. */
  const LABEL_PX_PER_LETTER = 6.4;
  const handles = $derived.by(() => {
    let lastRow0 = -Infinity;
    return layout.joints.map((joint, index) => {
      const at = middleOf(joint);
      const crowded = at - lastRow0 < 17;
      if (!crowded) lastRow0 = at;
      const next = layout.joints[index + 1];
      const label = jointLabel(joint);
      const room = next ? middleOf(next) - at : view.widthPx - at;
      return { joint, at, row: crowded ? 1 : 0, label: room > label.length * LABEL_PX_PER_LETTER + 24 ? label : '' };
    });
  });

  /** While a part is dragged: where the pointer is, and the joint it would go to. */
  let dragged = $state.raw<{ id: string; atPx: number; before: string | null; lineX: number }>();

  function dropPlace(atPx: number) {
    const nearest = layout.joints.reduce((best, joint) =>
      Math.abs(middleOf(joint) - atPx) < Math.abs(middleOf(best) - atPx) ? joint : best
    );
    return { before: nearest.id, lineX: middleOf(nearest) };
  }

  const draggable = (id: string): Attachment<SVGGElement> => {
    return (element) => {
      const behaviour = drag<SVGGElement, unknown>()
        .clickDistance(4)
        .filter((event: MouseEvent) => event.button === 0 && !event.ctrlKey && !(event instanceof TouchEvent))
        .on('start', () => train.select({ kind: 'element', id }))
        .on('drag', (event: D3DragEvent<SVGGElement, unknown, unknown>) => {
          dragged = { id, atPx: event.x, ...dropPlace(event.x) };
        })
        .on('end', () => {
          if (!dragged) return;
          const { before } = dragged;
          dragged = undefined;
          const name = train.document.elements.find((each) => each.id === id)?.name ?? id;
          if (before === id) return;
          const refusal = train.dispatch({ op: 'move', id, before }, `Move ${name}`);
          if (refusal) onrefused(refusal);
        });
      select(element).call(behaviour);
      return () => select(element).on('.drag', null);
    };
  };

  function onkeydown(event: KeyboardEvent) {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
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
      document.getElementById('inspector')?.querySelector<HTMLElement>('input, select, button')?.focus();
    }
  }
</script>

<div class="relative h-full min-h-0 w-full" bind:clientHeight={heightPx} bind:clientWidth={view.widthPx}>
  <svg
    {@attach zoom.attach}
    id="rail"
    width={view.widthPx}
    height={heightPx}
    viewBox="0 0 {view.widthPx} {heightPx}"
    role="listbox"
    aria-label="Parts and joints of {train.document.name}, sky side first"
    aria-orientation="horizontal"
    aria-activedescendant={activeId}
    tabindex="0"
    class="block touch-pan-y select-none"
    data-px-per-mm={view.pxPerMm}
    {onkeydown}
  >
    <defs aria-hidden="true">
      <pattern id="cut-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="6" height="6" class="hatch-ground" />
        <path d="M0 0 V6" class="hatch-line" />
      </pattern>
      <pattern
        id="cut-hatch-fine"
        width="3.5"
        height="3.5"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(-45)"
      >
        <rect width="4" height="4" class="hatch-ground" />
        <path d="M0 0 V4" class="hatch-line" />
      </pattern>
    </defs>

    <g
      id="rail-host"
      role="option"
      tabindex="-1"
      aria-selected={selection.kind === 'host'}
      aria-label="Host: {train.document.host.name}"
      onclick={() => train.select({ kind: 'host' })}
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

    {#each drawingOrder as item (item.id)}
      <g
        {@attach item.kind === 'camera' ? undefined : draggable(item.id)}
        id="rail-element-{item.id}"
        role="option"
        tabindex="-1"
        aria-selected={isSelected('element', item.id)}
        aria-label="{item.name}, {item.kind === 'gap' ? 'open' : display.length(item.toMm - item.fromMm)}"
        class={['cursor-pointer', dragged?.id === item.id && 'opacity-50']}
        onclick={() => train.select({ kind: 'element', id: item.id })}
        onkeydown={undefined}
      >
        <RailPart
          {item}
          {x}
          {axisY}
          {pxAcross}
          selected={isSelected('element', item.id)}
          faulty={faultyParts.has(item.id)}
        />
      </g>
    {/each}

    <!-- Threads reach into the neighbour, so they are drawn over all bodies. -->
    <g aria-hidden="true" class="pointer-events-none">
      {#each layout.items as item (item.id)}<RailThreads {item} {x} {axisY} {pxAcross} />{/each}
    </g>

    <g aria-hidden="true" class="pointer-events-none">
      <path class="axis" d="M0 {axisY} H{view.widthPx}" />
      <path class="datum" d="M{x(0)} {TOP_PX - 8} V{rulerY}" />
      {#if sensorX - x(0) > 150}
        <text class="plane-word" x={x(0)} y={TOP_PX - 13} text-anchor="middle">
          {layout.items.some(({ counts }) => !counts) ? 'shoulder' : 'host’s face'}
        </text>
      {/if}
      {#if Math.abs(datumOffset) > 1e-9}
        <path class="datum stated" d="M{x(datumOffset)} {TOP_PX + 4} V{rulerY}" />
        <text class="plane-word" x={x(datumOffset)} y={TOP_PX} text-anchor="start">stated datum</text>
      {/if}

      {#if requiredX !== undefined}
        <rect
          class="tolerance"
          x={x(layout.requiredMm! - (layout.toleranceMm ?? 0))}
          y={TOP_PX - 8}
          width={2 * (layout.toleranceMm ?? 0) * view.pxPerMm}
          height={rulerY - TOP_PX + 8}
        />
        {#if residualMm !== null && !showInset}
          <rect
            class="residual"
            data-residual
            x={Math.min(sensorX, requiredX)}
            y={rulerY - 34}
            width={Math.abs(requiredX - sensorX)}
            height="20"
          />
          <text class="residual-word" x={(sensorX + requiredX) / 2} y={rulerY - 20} text-anchor="middle">
            {Math.abs(requiredX - sensorX) > 34 ? display.number(Math.abs(residualMm)) : ''}
          </text>
        {/if}
        <path class="should-be" data-plane="required" d="M{requiredX} {TOP_PX - 8} V{rulerY}" />
        {#if !showInset}
          <text
            class="should-be-word"
            x={requiredX + (requiredX >= sensorX ? 5 : -5)}
            y={TOP_PX - 13}
            text-anchor={requiredX >= sensorX ? 'start' : 'end'}>should be here</text
          >
        {/if}
      {/if}
      <path class="is-here" data-plane="sensor" d="M{sensorX} {TOP_PX - 8} V{rulerY}" />
      <text
        class="is-here-word"
        x={sensorX + (requiredX !== undefined && requiredX >= sensorX ? -5 : 5)}
        y={TOP_PX - 13}
        text-anchor={requiredX !== undefined && requiredX >= sensorX ? 'end' : 'start'}>sensor is here</text
      >

      <path class="ruler" d="M0 {rulerY} H{view.widthPx}" />
      <path class="tick" d={ticks(0)} />
      <path class="tick strong" d={ticks(1) + ticks(2)} />
      {#each figures as { mm, figure }, index (index)}
        <text class="word" x={x(mm)} y={rulerY + 21} text-anchor="middle">{figure}</text>
      {/each}
      {#if dragged}
        <path class="drop" d="M{dragged.lineX} {TOP_PX} V{rulerY}" />
        <circle class="drop-knob" cx={dragged.atPx} cy={axisY} r="5" />
      {/if}
    </g>

    {#each handles as { joint, at, row, label } (joint.id)}
      {@const chosen = isSelected('joint', joint.id)}
      {@const faulty = faultyJoints.has(joint.id)}
      <g
        id="rail-joint-{joint.id}"
        role="option"
        tabindex="-1"
        aria-selected={chosen}
        aria-label="Joint {jointName(train.document, joint.joint)}{faulty ? ', does not close' : ''}"
        class="cursor-pointer"
        onclick={() => (chosen ? onadd(joint.id) : train.select({ kind: 'joint', id: joint.id }))}
        onkeydown={undefined}
      >
        {#if faulty}
          <path class="refused" d="M{at} {axisY - layout.maxRadiusMm * pxAcross} V{rulerY + 24}" />
        {/if}
        {#if chosen}<path class="joint-line" d="M{at} {TOP_PX} V{rulerY + 28}" />{/if}
        <circle class="reach" cx={at} cy={heightPx - 29 + row * 17} r="12" />
        <circle
          class={['handle', chosen && 'chosen', faulty && 'faulty']}
          cx={at}
          cy={heightPx - 29 + row * 17}
          r={chosen ? 8 : 6}
        />
        {#if chosen}
          <path class="plus" d="M{at - 4} {heightPx - 29 + row * 17} h8 M{at} {heightPx - 33 + row * 17} v8" />
        {:else if faulty}
          <path class="cross" d="M{at - 2.5} {heightPx - 31.5 + row * 17} l5 5 m0 -5 l-5 5" />
        {/if}
        {#if label}<text class={['word', chosen && 'chosen-word']} x={at + 13} y={heightPx - 25}>{label}</text>{/if}
      </g>
    {/each}

    {#if showInset}
      <g aria-hidden="true" class="pointer-events-none">
        <Inset
          x={Math.max(8, Math.min(sensorX - 232, view.widthPx - 210))}
          y={rulerY - 84}
          sensorMm={layout.sensorMm}
          requiredMm={layout.requiredMm!}
          toleranceMm={layout.toleranceMm ?? 0}
        />
      </g>
    {/if}
  </svg>
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
  .hatch-ground {
    fill: var(--metal-cut);
  }
  .hatch-line {
    stroke: var(--metal-hatch);
    stroke-width: 1.4;
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
  .chosen-word {
    fill: var(--color-primary);
  }
  .axis {
    stroke: var(--beam-axis);
    stroke-width: 0.7;
    stroke-dasharray: 14 4 3 4;
  }
  .datum {
    stroke: var(--color-base-content);
    stroke-width: 1.3;
  }
  .datum.stated {
    stroke-dasharray: 2 3;
  }
  .plane-word {
    fill: var(--color-base-content);
    font-size: 11px;
  }
  .tolerance {
    fill: var(--color-success);
    fill-opacity: 0.14;
  }
  .should-be {
    stroke: var(--color-success);
    stroke-width: 1.6;
    stroke-dasharray: 5 4;
  }
  .should-be-word {
    fill: var(--color-success);
    font-size: 11px;
  }
  .is-here {
    stroke: var(--color-primary);
    stroke-width: 1.6;
  }
  .is-here-word {
    fill: var(--color-primary);
    font-size: 11px;
  }
  .residual {
    fill: var(--color-error);
    fill-opacity: 0.28;
  }
  .residual-word {
    fill: var(--color-base-content);
    font-size: 12px;
    font-weight: 600;
  }
  .ruler {
    stroke: var(--color-base-300);
  }
  .tick {
    stroke: var(--color-base-300);
    stroke-width: 0.8;
  }
  .tick.strong {
    stroke: var(--ink-muted);
  }
  .reach {
    fill: transparent;
  }
  .handle {
    fill: var(--color-base-200);
    stroke: var(--ink-muted);
  }
  .handle.chosen {
    fill: var(--color-primary);
    stroke: var(--color-primary);
  }
  .handle.faulty {
    stroke: var(--color-error);
    stroke-width: 1.5;
  }
  .plus {
    stroke: var(--color-primary-content);
    stroke-width: 1.6;
  }
  .cross {
    stroke: var(--color-error);
    stroke-width: 1.4;
  }
  .refused {
    stroke: var(--color-error);
    stroke-width: 2;
    stroke-dasharray: 7 4;
  }
  .joint-line {
    stroke: var(--color-primary);
    stroke-width: 1;
    stroke-dasharray: 1 3;
  }
  .drop {
    stroke: var(--color-primary);
    stroke-width: 2.5;
  }
  .drop-knob {
    fill: var(--color-primary);
  }
</style>
