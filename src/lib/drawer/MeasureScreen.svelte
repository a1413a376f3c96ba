<script lang="ts">
  import InstrumentFields from '$lib/calipers/InstrumentFields.svelte';
  import { combineMeasurements, disagreement, type Measurement, type Part } from '@lodestone/core/drawer';
  import { detachablesOf } from '@lodestone/core/train';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import DrawerAside from '$lib/parts/DrawerAside.svelte';
  import { tellOf } from '$lib/parts/told.svelte.ts';
  import SyncMark from '$lib/sync/SyncMark.svelte';
  import Later from '$lib/ui/Later.svelte';
  import Hatches from '$lib/rail/Hatches.svelte';
  import PartDrawing from '$lib/rail/PartDrawing.svelte';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import ArrowLeft from '@lucide/svelte/icons/arrow-left';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import ScanLine from '@lucide/svelte/icons/scan-line';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import { onMount, tick, untrack } from 'svelte';
  import { Instrument } from '$lib/calipers/instrument.svelte.ts';
  import ReadingField from './ReadingField.svelte';
  import SeriesPlot from './SeriesPlot.svelte';
  import { facesInShort } from './words.ts';

  interface Props {
    /** Parts to measure, in turn; all of them when left out. */
    partIds: readonly string[];
    /** The part that was between the jaws last, in this tab. */
    begin?: string | undefined;
    /** Another part is between the jaws. */
    onturn?: (partId: string) => void;
  }
  const { partIds, begin, onturn }: Props = $props();
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
  /** What was kept last: it can be taken back whatever was done since. */
  let kept = $state.raw<{ partId: string; lengthMm: number; step: string; warning: string }>();

  const queue = $derived(partIds.length > 0 ? partIds.flatMap((id) => drawer.byId.get(id)?.part ?? []) : drawer.plain);
  const part = $derived(queue[Math.min(at, queue.length - 1)]);
  const combined = $derived(part && combineMeasurements(part.measurements));
  const piecesOn = $derived(part ? detachablesOf(part.element).filter(({ on }) => on) : []);
  const apart = $derived(part && disagreement(part));
  const done = $derived(queue.filter(({ measurements }) => measurements.length > 0).length);

  const lastKept = $derived(kept && drawer.stands(kept.step) ? kept : undefined);

  let scanning = $state(false);
  const scanner = () => import('$lib/labels/ScanLabel.svelte');
  /** What lies between the jaws says itself which part it is. */
  function turnTo({ partId }: Part): string | undefined {
    if (!goTo(partId)) return `${partId} is not among the parts to measure.`;
    void tick().then(() => field?.focus());
    return undefined;
  }

  let begun = false;
  $effect(() => {
    if (begun || !part) return;
    begun = true;
    untrack(() => {
      at = Math.max(0, begin === undefined ? 0 : queue.findIndex(({ partId }) => partId === begin));
      void tick().then(() => field?.focus());
    });
  });
  $effect(() => {
    const turn = part?.partId;
    if (begun && turn !== undefined) onturn?.(turn);
  });

  function go(by: number) {
    taken = 0;
    at = Math.min(queue.length - 1, Math.max(0, at + by));
    field?.focus();
  }

  function takeBack() {
    // Once it is taken back, nothing is the last any more.
    const last = lastKept;
    if (!last) return;
    notices.complain(drawer.takeBack(last.step));
    const found = queue.findIndex(({ partId }) => partId === last.partId);
    if (found >= 0) at = found;
    taken = 0;
    kept = undefined;
    field?.focus();
  }

  /** Said of the part that was just left: it is no longer on the screen. */
  function warningOf(measured: Part): string {
    if (combineMeasurements(measured.measurements)?.contradicts) return 'instruments contradict each other';
    return disagreement(measured) === undefined ? '' : 'the published length is wrong';
  }

  function keep(made: Measurement): string | undefined {
    if (!part) return 'There is no part to measure.';
    const measured = { ...part, measurements: [...part.measurements, made] };
    const refusal = drawer.change(`Measure ${part.partId}`, [measured]);
    if (refusal !== undefined) return refusal;
    const step = drawer.lastStep;
    if (step !== undefined) {
      kept = { partId: part.partId, lengthMm: made.lengthMm, step, warning: warningOf(measured) };
    }
    taken++;
    if (taken >= repeats) {
      if (at < queue.length - 1) go(1);
      else notices.say('That was the last one.');
    }
    return undefined;
  }

  /** A number out of an address has its marks written as `%20`; one that was typed may have any. */
  function plainOf(text: string): string {
    try {
      return decodeURIComponent(text);
    } catch {
      return text;
    }
  }

  /** A part's number, typed or read from its label, goes to that part. */
  function goTo(words: string): boolean {
    const id = plainOf(words.slice(words.lastIndexOf('/') + 1)).toLowerCase();
    const found = queue.findIndex(({ partId }) => partId.toLowerCase() === id);
    if (found < 0) return false;
    taken = 0;
    at = found;
    return true;
  }

  commands.register([
    { id: 'next-part', group: 'Measure', title: 'Next part', key: 'PageDown', run: () => go(1) },
    { id: 'previous-part', group: 'Measure', title: 'Previous part', key: 'PageUp', run: () => go(-1) },
    {
      id: 'scan',
      group: 'Measure',
      title: 'Read a label with the camera',
      key: 'Shift+L',
      run: () => (scanning = true)
    },
    {
      id: 'take-reading',
      group: 'Measure',
      title: 'Read the caliper',
      enabled: () => instrument.driver?.read !== undefined,
      key: 'Ctrl+Enter',
      run: () => void field?.fromCaliper()
    },
    {
      id: 'undo',
      group: 'Measure',
      title: 'Undo the last reading',
      key: 'Ctrl+Z',
      enabled: () => drawer.undoLabel !== undefined,
      run: undo
    }
  ]);

  /** The last reading, where it was the last thing done; else whatever was. */
  function undo() {
    if (lastKept && lastKept.step === drawer.lastStep) takeBack();
    else notices.complain(drawer.undo());
  }

  /** Digits typed where nothing is being typed are a reading: a caliper that sends its readings as keys. */
  function onkeydown(event: KeyboardEvent) {
    const target = event.target as HTMLElement | null;
    const elsewhere = target?.matches('input, select, textarea, [contenteditable]') ?? false;
    if (elsewhere || event.ctrlKey || event.metaKey || event.altKey || !/^[0-9]$/.test(event.key)) return;
    field?.focus();
  }
</script>

<svelte:window onkeydowncapture={onkeydown} />
<Hatches />
<DrawerAside />
<main class="mx-auto grid max-w-3xl gap-4 px-4 py-5">
  <div class="flex items-center justify-between gap-3">
    <h1 class="text-xl font-semibold">Measure</h1>
    <div class="flex items-center gap-4">
      {#if drawer.isRead}
        <SyncMark status={drawer.status} aside={drawer.aside.length} onretry={() => drawer.saveNow()} />
      {/if}
      <a class="link-quiet inline-flex min-h-6 items-center" href="/drawer">Back to the drawer</a>
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
        {#if piecesOn.length > 0}
          <p class="text-warning mt-1 text-sm" data-pieces>
            Measure it without {piecesOn
              .map(({ name, lengthMm }) => `${name} (${display.length(lengthMm)})`)
              .join(' and ')}: its length is kept without it.
          </p>
        {/if}
        <div class="mt-3"><PartDrawing element={part.element} widthPx={280} heightPx={110} pxPerMm={6} /></div>
        <div class="mt-2 flex gap-2">
          <button class="btn btn-outline btn-sm" disabled={at === 0} onclick={() => go(-1)}
            ><ArrowLeft size={14} />Before</button
          >
          <button class="btn btn-outline btn-sm" disabled={at >= queue.length - 1} onclick={() => go(1)}
            >Next<ArrowRight size={14} /></button
          >
          <button
            class="btn btn-ghost btn-sm"
            title="Read a label with the camera (Shift L)"
            onclick={() => (scanning = true)}><ScanLine size={14} />Label</button
          >
        </div>
      </div>
      <div class="grid min-w-0 content-start gap-3">
        <ReadingField bind:this={field} {instrument} {part} large onreading={keep} onwords={goTo} onundo={undo} />
        {#if lastKept}
          <p class="flex flex-wrap items-center gap-2" data-kept>
            <span
              >Kept: {lastKept.partId}
              <span class="font-semibold">{display.length(lastKept.lengthMm)}</span>{#if lastKept.warning},
                <span class="text-warning">{lastKept.warning}</span>{/if}</span
            >
            <button type="button" class="btn btn-sm btn-ghost" onclick={takeBack}>Take it back</button>
          </p>
        {/if}
        <p class="text-muted">
          Published {display.length(part.element.lengthMm)}{#if combined}, measured
            <span class="text-base-content font-semibold">{display.length(combined.lengthMm)}</span>
            ±{display.length(combined.expandedMm, display.unit === 'mm' ? 3 : 5)} from {combined.readings}{/if}.
        </p>
        {#if combined?.contradicts}
          <p class="text-warning flex gap-1.5">
            <TriangleAlert size={15} class="mt-0.5 shrink-0" />Instruments contradict each other: measure it again.
          </p>
        {:else if apart !== undefined}
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
        <InstrumentFields {instrument} />
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
  {:else if !drawer.isRead}
    <p class="text-muted" role="status">
      {drawer.isAway ? 'The drawer cannot be reached; trying again …' : 'Reading the drawer …'}
    </p>
  {:else}
    <p class="text-muted">
      There is nothing to measure here. <a class="link-quiet" href="/drawer">Choose parts in the drawer</a> first.
    </p>
  {/if}
</main>

{#if scanning}
  <Later
    load={scanner}
    of={{
      hint: 'Hold the label of the part between the jaws before the camera.',
      onfound: turnTo,
      onclose: () => (scanning = false)
    }}
  />
{/if}

<style>
  .done {
    fill: var(--color-primary);
  }
</style>
