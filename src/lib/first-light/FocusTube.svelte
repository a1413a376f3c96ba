<script lang="ts" module>
  /** Height of the tube with its words, px. */
  export const TUBE_PX = 92;
</script>

<script lang="ts">
  import type { Plot } from '$lib/charts/plot.ts';
  import { placeWords } from '$lib/charts/words.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import type { FocusAxis } from './focusAxis.ts';

  /** What is moved to focus, under the curve and on its axis: racked in, where it stands, where focus falls, its end. */
  interface Props {
    plot: Plot;
    axis: FocusAxis;
    /** Words for it: draw tube, mirror, focus ring. */
    name: string;
    /** Where it stands, by the last frame. */
    stands: number | undefined;
    best: number | undefined;
    isReached: boolean | undefined;
  }
  const { plot, axis, name, stands, best, isReached }: Props = $props();
  const display = useDisplay();

  const HALF = 17;
  const middle = $derived(plot.bottom + 24 + HALF);
  /** The near end of the drawing lies left of the stop, where it is in sight. */
  const stop = $derived(plot.x(0));
  const [low, high] = $derived(plot.x.domain() as [number, number]);
  const within = (place: number): number => Math.max(plot.left, Math.min(plot.right, plot.x(place)));
  const isShown = (place: number): boolean => place >= low && place <= high;

  const falls = $derived(axis.falls);
  /** The one place focus falls at, where it is known. */
  const falling = $derived(
    falls && Number.isFinite(falls[0]) && Number.isFinite(falls[1]) ? (falls[0] + falls[1]) / 2 : undefined
  );
  /** How far out a place is, where that is known. */
  const lengthAt = (place: number): string | undefined => {
    const mm = axis.mmAt(place);
    return mm === undefined ? undefined : display.length(mm, display.unit === 'mm' ? 1 : 3);
  };
  const outAt = (words: string, place: number): string => {
    const length = lengthAt(place);
    return length === undefined ? words : `${words}, ${length} out`;
  };

  const wanted = $derived(
    [
      best === undefined ? undefined : { at: best, words: outAt('best', best), strong: true },
      falling === undefined
        ? undefined
        : { at: falling, words: outAt('expected', falling), strong: best === undefined },
      stands === undefined || stands === best ? undefined : { at: stands, words: 'now', strong: false },
      { at: 0, words: 'fully in', strong: false },
      axis.farStop === undefined
        ? undefined
        : {
            at: axis.farStop,
            words: ['fully out', lengthAt(axis.farStop)].filter((each) => each !== undefined).join(', '),
            strong: false
          }
    ].filter((each) => each !== undefined)
  );
  const labels = $derived(
    placeWords(
      wanted.filter(({ at }) => isShown(at)).map((each) => ({ ...each, x: plot.x(each.at) })),
      { from: plot.left - 24, to: plot.right + 8, gap: 8 }
    )
  );
</script>

<g data-tube>
  {#if isShown(0)}
    <rect class="body" x={plot.left - 30} y={middle - HALF - 6} width={stop - plot.left + 30} height={2 * HALF + 12} />
  {/if}
  {#if axis.farStop !== undefined}
    <rect
      class="travel"
      x={within(0)}
      y={middle - HALF}
      width={Math.max(0, within(axis.farStop) - within(0))}
      height={2 * HALF}
    />
  {:else}
    <path class="travel" d="M{within(0)} {middle - HALF}H{plot.right}M{within(0)} {middle + HALF}H{plot.right}" />
  {/if}
  {#if stands !== undefined}
    <rect
      class="tube"
      x={isShown(0) ? plot.left - 24 : plot.left}
      y={middle - HALF + 4}
      width={Math.max(0, within(stands) - (isShown(0) ? plot.left - 24 : plot.left))}
      height={2 * HALF - 8}
    />
    {#if isShown(stands)}<path class="end" d="M{plot.x(stands)} {middle - HALF + 1}V{middle + HALF - 1}" />{/if}
  {/if}
  {#if falls}
    <rect
      class={['falls', isReached === false && 'missed']}
      x={within(falls[0])}
      y={middle - HALF - 3}
      width={Math.max(2, within(falls[1]) - within(falls[0]))}
      height={2 * HALF + 6}
    />
    {#if falling !== undefined && isShown(falling)}
      <path
        class={['expected', isReached === false && 'missed']}
        d="M{plot.x(falling)} {middle - HALF - 6}V{middle + HALF + 6}"
      />
    {/if}
  {/if}
  {#each [0, axis.farStop] as place, index (index)}
    {#if place !== undefined && isShown(place)}
      <path class="mark" d="M{plot.x(place)} {middle - HALF - 8}V{middle + HALF + 8}" />
    {/if}
  {/each}
  <text class="inside" x={isShown(0) ? plot.left - 20 : plot.left + 6} y={middle + 4}>{name}</text>
  {#each labels as { words, x, row } (words)}
    {#if row > 0}<path class="leader" d="M{x} {middle + HALF + 8}V{middle + HALF + 10 + row * 14}" />{/if}
  {/each}
  {#each labels as { words, strong, middle: at, row } (words)}
    <text class={['over', { strong }]} x={at} y={middle + HALF + 20 + row * 14} text-anchor="middle">{words}</text>
  {/each}
</g>

<style>
  .inside {
    fill: var(--color-base-content);
  }
  .inside,
  .over {
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 3px;
  }
  .body,
  .tube {
    fill: var(--metal);
    stroke: var(--metal-edge);
  }
  .travel {
    fill: none;
    stroke: var(--metal-edge);
    stroke-dasharray: 4 4;
  }
  .falls {
    fill: var(--color-primary);
    fill-opacity: 0.22;
  }
  .end {
    stroke: var(--color-base-content);
    stroke-width: 2.5;
  }
  .expected {
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  .falls.missed {
    fill: var(--color-error);
  }
  .expected.missed {
    stroke: var(--color-error);
  }
  .mark {
    stroke: var(--metal-edge);
    stroke-width: 1.5;
  }
  .leader {
    stroke: var(--metal-edge);
    stroke-width: 1;
  }
</style>
