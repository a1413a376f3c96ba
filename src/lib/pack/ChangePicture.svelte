<script lang="ts">
  import { assess } from '@lodestone/core/check';
  import { CAMERA_BODY_BEHIND_MM, HOST_STUB_MM, layoutOf, type Layout } from '@lodestone/core/shape';
  import { nameOf, type Train } from '@lodestone/core/train';
  import type { ChangeOver, Lying } from '@lodestone/core/assembly';
  import { placeWords } from '$lib/charts/words.ts';
  import { spread } from '$lib/rail/spread.ts';
  import { scaleLinear } from 'd3-scale';
  import { bandsOf, jointsAt } from './changePicture.ts';

  /** Both trains under each other: what stays together joined by bands, joints numbered in their order, parts that leave and come. */
  interface Props {
    from: Train;
    to: Train;
    change: ChangeOver;
  }
  const { from, to, change }: Props = $props();

  let width = $state(900);
  const drawn = (train: Train): Layout => {
    const { ledger, facts } = assess(train);
    return layoutOf(train, ledger, facts.axis);
  };
  const above = $derived(drawn(from));
  const below = $derived(drawn(to));
  const SIDE = 14;
  const NUMBER = 9;
  const ROW = 15;
  /** A part is drawn no lower than this, px. */
  const LEAST_HALF = 5;
  const RAIL_HALF = 34;
  const GAP = 56;

  const startMm = $derived(Math.min(above.hostFaceMm, below.hostFaceMm) - HOST_STUB_MM / 2);
  const endMm = $derived(
    Math.max(...[above, below].map(({ items, sensorMm }) => Math.max(sensorMm, ...items.map(({ toMm }) => toMm)))) +
      CAMERA_BODY_BEHIND_MM
  );
  const x = $derived(scaleLinear([startMm, endMm], [SIDE, Math.max(SIDE + 1, width - SIDE)]));
  const across = $derived(RAIL_HALF / Math.max(above.maxRadiusMm, below.maxRadiusMm));
  const half = (radiusMm: number): number => Math.max(LEAST_HALF, radiusMm * across);

  const labelled = (train: Train, layout: Layout, lying: readonly Lying[]) =>
    placeWords(
      lying.flatMap(({ id, location }) => {
        const item = layout.items.find((each) => each.id === id);
        if (!item) return [];
        const name = nameOf(train, id);
        return [{ id, words: location === null ? name : `${name}, ${location}`, x: x((item.fromMm + item.toMm) / 2) }];
      }),
      { from: 2, to: width - 2, gap: 10 }
    );
  const leaving = $derived(labelled(from, above, change.aside));
  const coming = $derived(labelled(to, below, change.bring));
  const rowsOf = (labels: readonly { row: number }[]): number => Math.max(0, ...labels.map(({ row }) => row + 1));

  const numbers = (layout: Layout, joints: readonly string[]) => {
    const at = jointsAt(layout, joints).map((mm, index) => ({ n: index + 1, x: x(mm) }));
    const sorted = at.toSorted((a, b) => a.x - b.x);
    const spaced = spread(
      sorted.map((each) => each.x),
      2 * NUMBER + 2,
      NUMBER + 1,
      width - NUMBER - 1
    );
    return sorted.map((each, index) => ({ ...each, stands: spaced[index]! }));
  };
  const opened = $derived(numbers(above, change.open));
  const closed = $derived(numbers(below, change.close));

  const aboveAt = $derived(rowsOf(leaving) * ROW + (opened.length > 0 ? 2 * NUMBER + 12 : 6) + RAIL_HALF + 20);
  const belowAt = $derived(aboveAt + 2 * RAIL_HALF + GAP);
  const height = $derived(belowAt + RAIL_HALF + (closed.length > 0 ? 2 * NUMBER + 12 : 6) + rowsOf(coming) * ROW + 20);
  const bands = $derived(bandsOf(change, above, below));
  const gone = $derived(new Set(change.aside.map(({ id }) => id)));
  const fresh = $derived(new Set(change.bring.map(({ id }) => id)));

  const counted = (count: number, one: string, many: string): string => `${count} ${count === 1 ? one : many}`;
  const told = $derived(
    [
      `${from.name} over ${to.name}: ${counted(bands.filter(({ isTogether }) => isTogether).length, 'group stays', 'groups stay')} assembled`,
      `${counted(change.open.length, 'joint', 'joints')} to open`,
      `${counted(change.aside.length, 'part leaves', 'parts leave')}`,
      `${counted(change.bring.length, 'comes', 'come')}`
    ].join(', ')
  );
</script>

{#snippet rail(layout: Layout, at: number, name: string, marked: ReadonlySet<string>, mark: string)}
  <text class="strong" x={SIDE} y={at - RAIL_HALF - 5}>{name}</text>
  <rect
    class="host"
    x={x(startMm)}
    y={at - half(layout.hostRadiusMm)}
    width={x(layout.hostFaceMm) - x(startMm)}
    height={2 * half(layout.hostRadiusMm)}
  />
  {#each layout.items as item (item.id)}
    {#if item.kind !== 'gap'}
      {@const end = item.toMm + (item.kind === 'camera' ? CAMERA_BODY_BEHIND_MM : 0)}
      <rect
        class={['part', marked.has(item.id) && mark]}
        x={x(item.fromMm)}
        y={at - half(item.outerRadiusMm)}
        width={Math.max(1.5, x(end) - x(item.fromMm))}
        height={2 * half(item.outerRadiusMm)}><title>{item.name}</title></rect
      >
    {/if}
  {/each}
  <path class="sensor" d="M{x(layout.sensorMm)} {at - RAIL_HALF}V{at + RAIL_HALF}" />
{/snippet}

<div class="w-full" bind:clientWidth={width}>
  <svg class="chart" {width} {height} viewBox="0 0 {width} {height}" role="img" aria-label={told} data-change-picture>
    {#each bands as { id, from: top, to: bottom, isTogether } (id)}
      <path
        class={['band', isTogether && 'together']}
        d="M{x(top.fromMm)} {aboveAt}H{x(top.toMm)}L{x(bottom.toMm)} {belowAt}H{x(bottom.fromMm)}z"
        data-band={isTogether ? 'together' : 'single'}
      />
    {/each}
    {@render rail(above, aboveAt, from.name, gone, 'leaves')}
    {@render rail(below, belowAt, to.name, fresh, 'comes')}
    {#each opened as { n, x: at, stands } (n)}
      {@const y = aboveAt - RAIL_HALF - 20 - NUMBER}
      <path class="open" d="M{at} {aboveAt + RAIL_HALF}V{aboveAt - RAIL_HALF - 4}L{stands} {y + NUMBER}" />
      <circle class="open" cx={stands} cy={y} r={NUMBER} />
      <text class="number" x={stands} y={y + 4} text-anchor="middle">{n}</text>
    {/each}
    {#each closed as { n, x: at, stands } (n)}
      {@const y = belowAt + RAIL_HALF + 10 + NUMBER}
      <path class="close" d="M{at} {belowAt - RAIL_HALF}V{belowAt + RAIL_HALF + 2}L{stands} {y - NUMBER}" />
      <circle class="close" cx={stands} cy={y} r={NUMBER} />
      <text class="number" x={stands} y={y + 4} text-anchor="middle">{n}</text>
    {/each}
    {#each leaving as { id, words, middle, row } (id)}
      <text
        class="leaves"
        x={middle}
        y={aboveAt - RAIL_HALF - (opened.length > 0 ? 2 * NUMBER + 28 : 22) - row * ROW}
        text-anchor="middle">{words}</text
      >
    {/each}
    {#each coming as { id, words, middle, row } (id)}
      <text
        class="comes"
        x={middle}
        y={belowAt + RAIL_HALF + (closed.length > 0 ? 2 * NUMBER + 26 : 18) + row * ROW}
        text-anchor="middle">{words}</text
      >
    {/each}
  </svg>
</div>
<p class="text-muted mt-1 flex flex-wrap gap-x-5 text-xs" aria-hidden="true">
  <span><span class="key together"></span>stays assembled</span>
  {#if opened.length > 0}<span><span class="key open"></span>joint to open</span>{/if}
  {#if closed.length > 0}<span><span class="key close"></span>joint to close</span>{/if}
  {#if leaving.length > 0}<span><span class="key leaves"></span>put away</span>{/if}
  {#if coming.length > 0}<span><span class="key comes"></span>fetched</span>{/if}
</p>

<style>
  .host {
    fill: var(--metal);
    fill-opacity: 0.4;
  }
  .part {
    fill: var(--metal);
    stroke: var(--metal-edge);
  }
  .part.leaves {
    fill: var(--color-warning);
    fill-opacity: 0.35;
    stroke: var(--color-warning);
    stroke-dasharray: 4 3;
  }
  .part.comes {
    fill: var(--color-success);
    fill-opacity: 0.4;
    stroke: var(--color-success);
  }
  .band {
    fill: var(--color-base-content);
    fill-opacity: 0.05;
  }
  .band.together {
    fill-opacity: 0.13;
  }
  .sensor {
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  path.open,
  path.close {
    fill: none;
    stroke: var(--color-base-content);
    stroke-opacity: 0.7;
  }
  path.open {
    stroke-dasharray: 3 3;
  }
  circle.open {
    fill: var(--color-base-200);
    stroke: var(--color-base-content);
    stroke-dasharray: 3 2;
  }
  circle.close {
    fill: var(--color-base-200);
    stroke: var(--color-base-content);
  }
  text.number {
    fill: var(--color-base-content);
  }
  text.leaves {
    fill: var(--color-warning);
  }
  text.comes {
    fill: var(--color-success);
  }
  .key {
    display: inline-block;
    width: 1rem;
    height: 0.7rem;
    margin-right: 0.35rem;
    vertical-align: -0.05rem;
    border: 1px solid var(--metal-edge);
  }
  .key.together {
    border: 0;
    background: color-mix(in oklab, var(--color-base-content) 18%, transparent);
  }
  .key.open,
  .key.close {
    width: 0.8rem;
    height: 0.8rem;
    border: 1px solid var(--color-base-content);
    border-radius: 50%;
  }
  .key.open {
    border-style: dashed;
  }
  .key.leaves {
    border: 1px dashed var(--color-warning);
  }
  .key.comes {
    border: 1px solid var(--color-success);
    background: color-mix(in oklab, var(--color-success) 40%, transparent);
  }
</style>
