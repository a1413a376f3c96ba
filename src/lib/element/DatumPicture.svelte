<script lang="ts" module>
  import type { Corrector } from '@lodestone/core/train';

  export type Datum = NonNullable<Corrector['datum']>;

  /** The three planes, where each stands in the picture, px, and what it is called. */
  const PLANES: readonly { datum: Datum; x: number; words: string }[] = [
    { datum: 'last-surface', x: 66, words: 'last lens surface' },
    { datum: 'shoulder', x: 80, words: 'shoulder' },
    { datum: 'thread-tip', x: 102, words: 'thread tip' }
  ];
</script>

<script lang="ts">
  import { countedFrom } from '@lodestone/core/length';
  import type { Port } from '@lodestone/core/train';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import Fold from '$lib/ui/Fold.svelte';

  /** The planes a back focus may be counted from, drawn; one of them is chosen, and the others say what it is from there. */
  interface Props {
    datum: Datum;
    /** The published figure, from the plane that is chosen. */
    backFocusMm?: number | undefined;
    datumOffsetMm?: number | undefined;
    /** The corrector's camera face. */
    port?: Port | undefined;
    /** What the corrector is called, in a question to whoever sells it. */
    name?: string | undefined;
    onchoose: (datum: Datum) => void;
  }
  const { datum, backFocusMm, datumOffsetMm, port, name, onchoose }: Props = $props();
  const display = useDisplay();
  const notices = useNotices();
  let group: SVGSVGElement;

  const SENSOR_X = 268;
  const ROW_TOP = 92;
  const ROW_PX = 22;

  /** What the same sensor is from a plane; undefined where the length between the planes is not known. */
  const from = (plane: Datum): number | undefined =>
    countedFrom(
      plane,
      {
        datum,
        ...(backFocusMm === undefined ? {} : { backFocusMm }),
        ...(datumOffsetMm === undefined ? {} : { datumOffsetMm })
      },
      port
    );

  function onkeydown(event: KeyboardEvent) {
    const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const now = PLANES.findIndex((each) => each.datum === datum);
    const next = PLANES[(now + by + PLANES.length) % PLANES.length]!;
    onchoose(next.datum);
    group.querySelector<SVGGElement>(`[data-datum="${next.datum}"]`)?.focus();
  }

  const question = $derived(
    `Is the back focus${backFocusMm === undefined ? '' : ` of ${display.length(backFocusMm)}`} of ${name ?? 'this corrector'} measured from the shoulder behind its thread, from the tip of that thread, or from its last lens surface?`
  );
  const copy = () =>
    notices.attempt(async () => {
      await navigator.clipboard.writeText(question);
      notices.say('The question was copied.');
    });
</script>

<div class="grid gap-1">
  <svg
    bind:this={group}
    viewBox="0 0 280 160"
    class="block w-full max-w-sm"
    role="radiogroup"
    aria-label="Measured from"
    data-datum-picture
  >
    <g aria-hidden="true">
      <path class="metal" d="M8 16 H80 V34 H102 V58 H8 Z" />
      <path class="thread" d="M80 34 l3.6 4 l3.6 -4 l3.6 4 l3.6 -4 l3.6 4 l3.6 -4" />
      <path class="glass" d="M32 58 Q44 70 46 84 H66 Q64 70 52 58 Z" />
      <path class="axis" d="M0 84 H280" />
      <path class="sensor" d="M{SENSOR_X} 40 V84" />
      <text class="word" x={SENSOR_X - 5} y="38" text-anchor="end">sensor</text>
    </g>
    {#each PLANES as plane, index (plane.datum)}
      {@const chosen = plane.datum === datum}
      {@const y = ROW_TOP + index * ROW_PX}
      {@const mm = from(plane.datum)}
      <g
        role="radio"
        aria-checked={chosen}
        aria-label="the {plane.words}{mm === undefined ? '' : `, ${display.length(mm)}`}"
        tabindex={chosen ? 0 : -1}
        data-datum={plane.datum}
        class={['plane', chosen && 'chosen']}
        onclick={() => onchoose(plane.datum)}
        {onkeydown}
      >
        <rect class="reach" x="1" y={y + 1} width="278" height={ROW_PX - 2} rx="4" />
        <path class="from" d="M{plane.x} 10 V{y + ROW_PX - 5}" />
        <path class="to" d="M{plane.x} {y + 11} H{SENSOR_X} m-5 -3 l5 3 l-5 3 M{plane.x + 5} {y + 8} l-5 3 l5 3" />
        <text x={(plane.x + SENSOR_X) / 2} y={y + 15} text-anchor="middle"
          >{plane.words}{mm === undefined ? '' : ` ${display.number(mm)}`}</text
        >
      </g>
    {/each}
  </svg>
  <Fold title="Only “edge”, “top”, “end” or “back” is stated" titleClass="text-muted text-xs">
    <p class="text-muted text-xs">
      Each of these words was seen to mean any of the three. Until you know, the same figure may be wrong by the length
      of the thread, or by the depth of the glass. Ask whoever sells it:
    </p>
    <p class="border-line mt-1 border-l-2 pl-2 text-xs">{question}</p>
    <button type="button" class="btn btn-outline btn-xs mt-1" onclick={() => void copy()}>Copy the question</button>
  </Fold>
</div>

<style>
  .metal {
    fill: var(--metal);
    fill-opacity: 0.55;
    stroke: var(--metal-edge);
    stroke-width: 0.8;
  }
  .thread {
    fill: none;
    stroke: var(--metal-edge);
    stroke-width: 1;
  }
  .glass {
    fill: var(--glass);
    fill-opacity: 0.35;
    stroke: var(--glass);
    stroke-width: 0.8;
  }
  .axis {
    stroke: var(--beam-axis);
    stroke-width: 0.7;
    stroke-dasharray: 14 4 3 4;
  }
  .sensor {
    stroke: var(--color-base-content);
    stroke-width: 2.5;
  }
  text {
    font-size: 11px;
    fill: var(--ink-muted);
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 5px;
  }
  .plane {
    cursor: pointer;
  }
  .plane:focus-visible {
    outline: none;
  }
  .plane:focus-visible .reach {
    stroke: var(--color-primary);
    stroke-width: 1.5;
  }
  .reach {
    fill: transparent;
  }
  .plane:hover .reach {
    fill: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
  .from,
  .to {
    pointer-events: none;
    fill: none;
    stroke: var(--ink-muted);
    stroke-width: 0.9;
  }
  .from {
    stroke-dasharray: 2 3;
  }
  .chosen .from,
  .chosen .to {
    stroke: var(--color-primary);
    stroke-width: 1.6;
    stroke-dasharray: none;
  }
  .chosen text {
    fill: var(--color-base-content);
    font-weight: 600;
  }
</style>
