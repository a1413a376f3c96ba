<script lang="ts">
  import { lineThrough } from '$lib/charts/plot.ts';
  import { formatted } from '$lib/api/day.ts';
  import { dayOf, hoursInWords } from '$lib/ui/time.ts';
  import { scaleLinear } from 'd3-scale';
  import { dayTicks } from './ticks.ts';

  /** Evenings of several trains on one line of days, a lane each: how long each was, and when the train was changed. */
  interface Props {
    lanes: readonly {
      name: string;
      evenings: readonly (readonly [on: string, hours: number])[];
      /** Days on which the train was changed. */
      changes: readonly string[];
    }[];
  }
  const { lanes }: Props = $props();

  let width = $state(720);
  const FOOT = 22;
  const TITLE = 18;
  const LANE = 66;
  const DAY_MS = 86_400_000;
  const at = (day: string): number => Date.parse(day);

  const days = $derived(lanes.flatMap(({ evenings }) => evenings.map(([on]) => at(on))));
  const x = $derived(
    scaleLinear([Math.min(...days) - DAY_MS, Math.max(...days) + DAY_MS], [6, Math.max(7, width - 6)])
  );
  const height = $derived(FOOT + LANE * lanes.length);
  const longest = $derived(Math.max(0, ...lanes.flatMap(({ evenings }) => evenings.map(([, hours]) => hours))));
  const tall = $derived(scaleLinear([0, longest || 1], [0, LANE - TITLE - 10]));
  /** As wide as a day, where that can still be seen. */
  const bar = $derived(Math.max(3, Math.min(14, x(DAY_MS) - x(0) - 1)));
  const HALF_WORD = 22;
  const ticks = $derived(
    dayTicks(...(x.domain() as [number, number]), Math.max(2, Math.floor(width / 90))).filter(
      (tick) => x(tick) > HALF_WORD && x(tick) < width - HALF_WORD
    )
  );
  const exposed = (hours: number): string => (hours === 0 ? 'no exposure' : hoursInWords(hours));
</script>

<div class="w-full overflow-hidden" bind:clientWidth={width}>
  <svg
    class="chart block"
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    role="img"
    aria-label="Hours of each evening by train, and days on which the train was changed"
  >
    {#each ticks as tick (tick)}
      <path
        class="grid"
        d={lineThrough([
          [x(tick), 0],
          [x(tick), height - FOOT]
        ])}
      />
      <text x={x(tick)} y={height - 6} text-anchor="middle"
        >{formatted(new Date(tick).toISOString(), { day: 'numeric', month: 'short', timeZone: 'UTC' })}</text
      >
    {/each}
    {#each lanes as { name, evenings, changes }, index (index)}
      {@const foot = (index + 1) * LANE}
      <text class="name" x="6" y={foot - LANE + TITLE - 4}>{name}</text>
      <path class="axis" d="M0 {foot}H{width}" />
      {#each evenings as [on, hours] (on)}
        <rect
          class="evening"
          x={x(at(on)) - bar / 2}
          width={bar}
          y={foot - Math.max(2, tall(hours))}
          height={Math.max(2, tall(hours))}><title>{dayOf(on)}: {exposed(hours)}</title></rect
        >
      {/each}
      {#each changes as on (on)}
        <path class="change" d="M{x(at(on))} {foot + 1}v{TITLE - LANE}"><title>{dayOf(on)}: changed</title></path>
      {/each}
    {/each}
  </svg>
  <p class="text-muted mt-1 text-xs">
    {longest > 0
      ? `The taller, the longer: up to ${hoursInWords(longest)}.`
      : 'No exposure was written down.'}{lanes.some(({ changes }) => changes.length > 0)
      ? ' A dashed line: that day the train was changed.'
      : ''}
  </p>
  <div class="sr-only">
    <table>
      <caption>Evenings by train</caption>
      <thead><tr><th scope="col">Train</th><th scope="col">Evening</th><th scope="col">Exposure</th></tr></thead>
      <tbody>
        {#each lanes as { name, evenings, changes }, index (index)}
          {#each evenings as [on, hours] (on)}
            <tr><td>{name}</td><td>{dayOf(on)}</td><td>{exposed(hours)}</td></tr>
          {/each}
          {#each changes as on (on)}<tr><td>{name}</td><td>{dayOf(on)}</td><td>changed</td></tr>{/each}
        {/each}
      </tbody>
    </table>
  </div>
</div>

<style>
  .name {
    fill: var(--color-base-content);
    font-size: 12px;
  }
  .axis {
    stroke: var(--color-line);
  }
  .evening {
    fill: var(--color-primary);
  }
  .change {
    stroke: var(--color-base-content);
    stroke-width: 1.5;
    stroke-dasharray: 3 3;
  }
</style>
