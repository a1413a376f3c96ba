<script lang="ts">
  import { combineMeasurements, disagreement, type Measurement } from '@lodestone/core/drawer';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import DrawerAside from '$lib/parts/DrawerAside.svelte';
  import { tellOf } from '$lib/parts/told.svelte.ts';
  import SyncMark from '$lib/sync/SyncMark.svelte';
  import Hatches from '$lib/rail/Hatches.svelte';
  import PartDrawing from '$lib/rail/PartDrawing.svelte';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import { ArrowLeft, ArrowRight, TriangleAlert } from '@lucide/svelte';
  import { onMount } from 'svelte';
  import { Instrument } from './instrument.svelte.ts';
  import ReadingField from './ReadingField.svelte';
  import SeriesPlot from './SeriesPlot.svelte';
  import { facesInShort } from './words.ts';

  interface Props {
    /** Parts to measure, in turn; all of them when left out. */
    partIds: readonly string[];
  }
  const { partIds }: Props = $props();
  const drawer = provideDrawer(new Drawer());
  const instrument = new Instrument();
  const display = useDisplay();
  const notices = useNotices();
  const commands = useCommands();
  tellOf(drawer, notices);
  onMount(() => {
    instrument.recall();
    return drawer.open();
  });

  /** A series of repeats before the next part comes. */
  let repeats = $state(1);
  let at = $state(0);
  let taken = $state(0);
  let field = $state<ReadingField>();

  const queue = $derived(partIds.length > 0 ? partIds.flatMap((id) => drawer.byId.get(id)?.part ?? []) : drawer.plain);
  const part = $derived(queue[Math.min(at, queue.length - 1)]);
  const combined = $derived(part && combineMeasurements(part.measurements));
  const apart = $derived(part && disagreement(part));
  const done = $derived(queue.filter(({ measurements }) => measurements.length > 0).length);

  function go(by: number) {
    taken = 0;
    at = Math.min(queue.length - 1, Math.max(0, at + by));
  }

  function keep(made: Measurement): string | undefined {
    if (!part) return 'There is no part to measure.';
    const refusal = drawer.change(`Measure ${part.partId}`, [{ ...part, measurements: [...part.measurements, made] }]);
    if (refusal !== undefined) return refusal;
    taken++;
    if (taken >= repeats) {
      if (at < queue.length - 1) go(1);
      else notices.say('That was the last one.');
    }
    return undefined;
  }

  /** A part's number, typed or read from its label, goes to that part. */
  function goTo(words: string): boolean {
    const id = words.slice(words.lastIndexOf('/') + 1).toLowerCase();
    const found = queue.findIndex(({ partId }) => partId.toLowerCase() === decodeURIComponent(id));
    if (found < 0) return false;
    taken = 0;
    at = found;
    return true;
  }

  commands.register([
    { id: 'next-part', group: 'Measure', title: 'Next part', key: 'PageDown', run: () => go(1) },
    { id: 'previous-part', group: 'Measure', title: 'Previous part', key: 'PageUp', run: () => go(-1) },
    {
      id: 'take-reading',
      group: 'Measure',
      title: 'Read the simulated caliper',
      key: 'Ctrl+Enter',
      run: () => void field?.fromCaliper()
    },
    {
      id: 'undo',
      group: 'Measure',
      title: 'Undo the last reading',
      key: 'Ctrl+Z',
      enabled: () => drawer.undoLabel !== undefined,
      run: () => {
        const stays = drawer.undo();
        if (stays !== undefined) notices.complain(stays);
      }
    }
  ]);
</script>

<Hatches />
<DrawerAside />
<main class="mx-auto grid max-w-3xl gap-4 px-4 py-5">
  <div class="flex items-center justify-between gap-3">
    <h1 class="text-xl font-semibold">Measure</h1>
    <div class="flex items-center gap-4">
      {#if drawer.everRead}
        <SyncMark status={drawer.status} aside={drawer.aside.length} onretry={() => drawer.saveNow()} />
      {/if}
      <a class="link-quiet" href="/drawer">Back to the drawer</a>
    </div>
  </div>
  {#if part}
    <div
      class="bg-base-300 h-1 rounded"
      role="progressbar"
      aria-valuenow={done}
      aria-valuemin="0"
      aria-valuemax={queue.length}
      aria-label="Parts measured"
    >
      <svg width="100%" height="4" aria-hidden="true"
        ><rect class="done" width="{(100 * done) / queue.length}%" height="4" rx="2" /></svg
      >
    </div>
    <section class="panel grid gap-4 p-5 sm:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]" aria-label="Part between the jaws">
      <div class="min-w-0">
        <p class="text-muted text-xs">{at + 1} of {queue.length}, {part.location || 'place not known'}</p>
        <h2 class="text-3xl font-semibold" data-measuring={part.partId}>{part.partId}</h2>
        <p>{part.element.name}</p>
        <p class="text-muted text-xs">{facesInShort(part).join(' → ')}</p>
        <div class="mt-3"><PartDrawing element={part.element} widthPx={280} heightPx={110} pxPerMm={6} /></div>
        <div class="mt-2 flex gap-2">
          <button class="btn btn-outline btn-sm" disabled={at === 0} onclick={() => go(-1)}
            ><ArrowLeft size={14} />Before</button
          >
          <button class="btn btn-outline btn-sm" disabled={at >= queue.length - 1} onclick={() => go(1)}
            >Next<ArrowRight size={14} /></button
          >
        </div>
      </div>
      <div class="grid min-w-0 content-start gap-3">
        <ReadingField bind:this={field} {instrument} partId={part.partId} large onreading={keep} onwords={goTo} />
        <p class="text-muted">
          Published {display.length(part.element.lengthMm)}{#if combined}, measured
            <span class="text-base-content font-semibold">{display.length(combined.lengthMm)}</span>
            ±{display.length(combined.expandedMm, display.unit === 'mm' ? 3 : 5)} from {combined.readings}{/if}.
        </p>
        {#if apart !== undefined}
          <p class="text-warning flex gap-1.5">
            <TriangleAlert size={15} class="mt-0.5 shrink-0" />The published length is wrong.
          </p>
        {/if}
        {#if combined}<SeriesPlot {part} />{/if}
      </div>
    </section>
    <details class="text-sm">
      <summary class="cursor-pointer">Instrument and repeats</summary>
      <div class="mt-2 grid grid-cols-3 gap-3">
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">Instrument</span>
          <input
            class="input input-sm w-full"
            maxlength="200"
            value={instrument.name}
            onchange={({ currentTarget: { value } }) =>
              instrument.take(value.trim() || 'Caliper', instrument.maxErrorMm)}
          />
        </label>
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">May be wrong by ±, {display.unit}</span>
          <input
            class="input input-sm w-full text-right"
            inputmode="decimal"
            value={numberText(instrument.maxErrorMm, display.unit)}
            onchange={({ currentTarget }) => {
              const parsed = parseNumber(currentTarget.value, display.unit);
              if (parsed.ok && parsed.parsed !== undefined && parsed.parsed >= 0 && parsed.parsed <= 100) {
                instrument.take(instrument.name, parsed.parsed);
              } else currentTarget.value = numberText(instrument.maxErrorMm, display.unit);
            }}
          />
        </label>
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">Readings of each part</span>
          <select class="select select-sm w-full" bind:value={repeats}>
            {#each [1, 2, 3, 5] as count (count)}<option value={count}>{count}</option>{/each}
          </select>
        </label>
      </div>
    </details>
    <p class="text-muted text-xs">
      Take the parts in turn and type only what the caliper shows; Enter keeps it and brings the next. A part’s number
      goes to that part. Close the jaws and press “Zero check” before you begin.
    </p>
  {:else if !drawer.everRead}
    <p class="text-muted" role="status">
      {drawer.isAway ? 'The drawer cannot be reached; trying again …' : 'Reading the drawer …'}
    </p>
  {:else}
    <p class="text-muted">
      There is nothing to measure here. <a class="link-quiet" href="/drawer">Choose parts in the drawer</a> first.
    </p>
  {/if}
</main>

<style>
  .done {
    fill: var(--color-primary);
  }
</style>
