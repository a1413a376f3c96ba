<script lang="ts">
  import type { GapElement } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { drag, type D3DragEvent } from 'd3-drag';
  import { select } from 'd3-selection';
  import type { Attachment } from 'svelte/attachments';
  import type { RailView } from './view.svelte.ts';

  interface Props {
    view: RailView;
    topY: number;
    axisY: number;
    onrefused: (message: string) => void;
  }
  const { view, topY, axisY, onrefused }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  /** Limits are dragged in tenths; finer ones are typed. */
  const STEP_MM = 0.1;
  /** Where the handle stands while a gap has no upper limit, mm behind it. */
  const UNLIMITED_MM = 26;

  const gaps = $derived(
    train.document.elements.flatMap((element) => {
      const item = element.kind === 'gap' ? train.layout.items.find(({ id }) => id === element.id) : undefined;
      return item && element.kind === 'gap' ? [{ gap: element, atMm: item.fromMm }] : [];
    })
  );
  const shows = (gap: GapElement): boolean =>
    gap.maxMm !== undefined || (train.selection.kind === 'element' && train.selection.id === gap.id);

  const round = (mm: number): number => Number((Math.round(mm / STEP_MM) * STEP_MM).toFixed(1));

  function setLimit(gap: GapElement, mm: number, run: string) {
    const maxMm = Math.max(gap.minMm ?? 0, round(mm));
    if (maxMm === gap.maxMm) return;
    const refusal = train.dispatch({ op: 'set', at: gap.id, path: ['maxMm'], to: maxMm }, 'Limit the gap', run);
    if (refusal) onrefused(refusal);
  }

  const attachments: Record<string, Attachment<SVGGElement>> = {};
  const draggable = (id: string): Attachment<SVGGElement> =>
    (attachments[id] ??= (element) => {
      let run = '';
      const behaviour = drag<SVGGElement, unknown>()
        .filter((event: MouseEvent) => event.button === 0 && !('touches' in event))
        .container(() => element.ownerSVGElement!)
        .on('start', () => (run = `limit-${id}-${crypto.randomUUID()}`))
        .on('drag', ({ x }: D3DragEvent<SVGGElement, unknown, unknown>) => {
          const entry = gaps.find(({ gap }) => gap.id === id);
          if (entry) setLimit(entry.gap, view.x.invert(x) - entry.atMm, run);
        });
      select(element).call(behaviour);
      return () => select(element).on('.drag', null);
    });

  function onkeydown(event: KeyboardEvent, gap: GapElement) {
    const by = event.key === 'ArrowRight' ? STEP_MM : event.key === 'ArrowLeft' ? -STEP_MM : undefined;
    if (by !== undefined) {
      event.preventDefault();
      event.stopPropagation();
      setLimit(gap, (gap.maxMm ?? UNLIMITED_MM) + by * (event.shiftKey ? 10 : 1), `limit-keys-${gap.id}`);
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      event.stopPropagation();
      const refusal = train.dispatch({ op: 'set', at: gap.id, path: ['maxMm'], to: undefined }, 'Lift the gap’s limit');
      if (refusal) onrefused(refusal);
    }
  }
</script>

{#each gaps as { gap, atMm } (gap.id)}
  {#if shows(gap)}
    {@const left = view.x(atMm)}
    {@const right = view.x(atMm + (gap.maxMm ?? UNLIMITED_MM))}
    <g class={['limit', gap.maxMm === undefined && 'none']}>
      <path class="bracket" d="M{left} {topY + 5} V{topY} H{right} V{topY + 5}" />
      <path class="reach" d="M{right} {topY + 5} V{axisY}" />
      <g
        {@attach draggable(gap.id)}
        class="handle"
        role="slider"
        tabindex="0"
        aria-label="Upper limit of {gap.name}"
        aria-valuemin="0"
        aria-valuemax="10000"
        aria-valuenow={gap.maxMm ?? 10000}
        aria-valuetext={gap.maxMm === undefined ? 'no limit' : display.length(gap.maxMm)}
        onkeydown={(event) => onkeydown(event, gap)}
      >
        <rect class="hit" x={right - 12} y={topY - 12} width="24" height="24" />
        <path class="grip" d="M{right - 4} {topY - 5} h8 v7 l-4 4 l-4 -4 z" />
      </g>
      <text x={right + 9} y={topY + 3}
        >{gap.maxMm === undefined ? 'no limit' : `at most ${display.length(gap.maxMm)}`}</text
      >
    </g>
  {/if}
{/each}

<style>
  .bracket {
    fill: none;
    stroke: var(--ink-muted);
    pointer-events: none;
  }
  .reach {
    stroke: var(--ink-muted);
    stroke-dasharray: 2 4;
    opacity: 0.6;
    pointer-events: none;
  }
  .none .bracket,
  .none .reach {
    stroke-dasharray: 1 3;
  }
  .handle {
    cursor: ew-resize;
    pointer-events: auto;
  }
  .hit {
    fill: transparent;
  }
  .grip {
    fill: var(--color-base-200);
    stroke: var(--color-primary);
    stroke-width: 1.4;
  }
  .handle:focus-visible {
    outline: 2px solid var(--color-primary);
  }
  text {
    fill: var(--ink-muted);
    font-size: 10.5px;
    pointer-events: none;
  }
</style>
