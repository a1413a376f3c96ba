<script lang="ts" module>
  /** Height of the sensor end with its words, px. */
  export const SENSOR_END_PX = 84;
</script>

<script lang="ts">
  import type { Plot } from '$lib/charts/plot.ts';
  import { placeWords } from '$lib/charts/words.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';

  /**
   * The rail’s sensor end, magnified, on the axis of the chart above it: the sensor where it stands, where it was,
   * where the published and the tuned value put it, and the ring that would bring it to the next try.
   */
  interface Props {
    plot: Plot;
    triedMm: readonly number[];
    publishedMm: number | undefined;
    tunedMm: number | undefined;
    nowMm: number | undefined;
    nextMm: number | undefined;
  }
  const { plot, triedMm, publishedMm, tunedMm, nowMm, nextMm }: Props = $props();
  const display = useDisplay();

  const HALF = 17;
  const WALL = 5;
  const middle = $derived(plot.bottom + 22 + HALF);
  /** Spacings nearer than this, mm, are one. */
  const SAME_MM = 0.005;
  const differs = (a: number | undefined, b: number | undefined): boolean =>
    a === undefined || b === undefined || Math.abs(a - b) >= SAME_MM;

  const ring = $derived(
    nowMm === undefined || nextMm === undefined || !differs(nowMm, nextMm)
      ? undefined
      : { from: Math.min(nowMm, nextMm), to: Math.max(nowMm, nextMm), mm: nextMm - nowMm }
  );
  const ringWords = $derived(
    ring && `${ring.mm > 0 ? '+' : '−'}${display.length(Math.abs(ring.mm), display.unit === 'mm' ? 2 : 4)}`
  );
  const labels = $derived(
    placeWords(
      [
        nowMm === undefined ? undefined : { x: plot.x(nowMm), words: 'sensor', strong: true },
        nextMm === undefined || !differs(nowMm, nextMm) || (nowMm === undefined && !differs(publishedMm, nextMm))
          ? undefined
          : { x: plot.x(nextMm), words: `next${ringWords ? `, ${ringWords}` : ''}`, strong: true },
        tunedMm === undefined ? undefined : { x: plot.x(tunedMm), words: 'tuned', strong: false },
        publishedMm === undefined ? undefined : { x: plot.x(publishedMm), words: 'published', strong: false }
      ].filter((each) => each !== undefined),
      { from: plot.left - 24, to: plot.right + 8, gap: 8 }
    )
  );
</script>

<g data-sensor-end>
  <!-- The camera’s body, which the sensor stands in. -->
  <path
    class="body"
    d="M{plot.left} {middle - HALF - WALL}H{plot.right}v{WALL}H{plot.left}zM{plot.left} {middle +
      HALF}H{plot.right}v{WALL}H{plot.left}z"
  />
  {#each triedMm as mm, index (index)}
    <path class="tried" d="M{plot.x(mm)} {middle - HALF}v{2 * HALF}" />
  {/each}
  {#if publishedMm !== undefined}<path class="published" d="M{plot.x(publishedMm)} {middle - HALF}v{2 * HALF}" />{/if}
  {#if tunedMm !== undefined}<path class="tuned" d="M{plot.x(tunedMm)} {middle - HALF}v{2 * HALF}" />{/if}
  {#if ring}
    <rect
      class="ring"
      x={plot.x(ring.from)}
      y={middle - HALF + 3}
      width={Math.max(2, plot.x(ring.to) - plot.x(ring.from))}
      height={2 * HALF - 6}
      data-next-ring
    />
  {/if}
  {#if nowMm !== undefined}
    <rect class="sensor" x={plot.x(nowMm) - 2} y={middle - HALF + 2} width="4" height={2 * HALF - 4} data-sensor-now />
  {/if}
  {#each labels as { words, strong, middle: at, row } (words)}
    <text class={{ strong }} x={at} y={middle + HALF + WALL + 14 + row * 13} text-anchor="middle">{words}</text>
  {/each}
</g>

<style>
  .body {
    fill: var(--metal);
    stroke: var(--metal-edge);
  }
  .tried {
    stroke: var(--color-primary);
    stroke-opacity: 0.55;
  }
  .published {
    stroke: var(--metal-edge);
    stroke-width: 1.5;
    stroke-dasharray: 2 4;
  }
  .tuned {
    stroke: var(--color-success);
    stroke-width: 1.6;
  }
  .ring {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 1.6;
    stroke-dasharray: 4 3;
  }
  .sensor {
    fill: var(--color-base-content);
  }
</style>
