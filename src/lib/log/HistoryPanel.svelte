<script lang="ts">
  import { readFocusRun, type FocusPoint } from '@lodestone/core/focus';
  import { MOST_STATES } from '$lib/api/history.ts';
  import type { BuildRecord } from '$lib/api/records.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { dayOf, minuteOf } from '$lib/ui/time.ts';
  import GitCompareArrows from '@lucide/svelte/icons/git-compare-arrows';
  import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
  import X from '@lucide/svelte/icons/x';
  import { onDestroy } from 'svelte';
  import type { History } from './history.svelte.ts';
  import RecordCard from './RecordCard.svelte';
  import ResidualLine from './ResidualLine.svelte';
  import SittingRow from './SittingRow.svelte';
  import { timelineOf, type Happened } from './timeline.ts';

  /** What happened to a train, on one line: its states, what was built of it, focus runs and experiments. */
  interface Props {
    history: History;
    records: readonly BuildRecord[];
    onchanged: () => void;
  }
  const { history, records, onchanged }: Props = $props();
  const train = useTrain();
  const notices = useNotices();
  const display = useDisplay();
  const uid = $props.id();

  const happened = $derived(timelineOf(train.document, history.sittings ?? [], records));
  const attempt = (work: () => Promise<void>): void => void notices.attempt(work);
  const look = (number: number): void => attempt(() => history.look(number));
  onDestroy(() => history.back());

  /** The slider runs ahead of what is read: only where it rests is asked for. */
  const SETTLED_MS = 150;
  let waiting: ReturnType<typeof setTimeout> | undefined;
  function slide(number: number) {
    clearTimeout(waiting);
    history.at = number;
    waiting = setTimeout(() => look(number), SETTLED_MS);
  }
  onDestroy(() => clearTimeout(waiting));

  const looked = $derived(history.looked);
  const number = $derived(looked?.revision.number);
  /** Entries that come at once: so many are drawn within a frame. */
  const PAGE = MOST_STATES / 2;
  /** What is seen of the timeline comes in one go; the rest when it is asked for. */
  let shown = $state(PAGE);
  /** Entries that are added between two frames: more of them make scrolling stick. */
  const AT_ONCE = 5;
  function show(many: number) {
    shown = Math.min(many, shown + AT_ONCE);
    if (shown < many) requestAnimationFrame(() => show(many));
  }
  function older() {
    const wanted = shown + PAGE;
    show(wanted);
    const sittings = happened.slice(0, wanted).flatMap((each) => (each.kind === 'sitting' ? [each.sitting] : []));
    attempt(async () => {
      await history.tell(sittings);
      if (wanted > happened.length && history.more) await history.loadMore();
    });
  }

  function bestOf({ run }: Extract<Happened, { kind: 'run' }>): string {
    const { bestPosition, standard } = readFocusRun(run.points as readonly FocusPoint[], 0, run.maxPosition);
    const frames = `${run.points.length} ${run.points.length === 1 ? 'frame' : 'frames'}`;
    return bestPosition === null || standard === null
      ? `${frames}, no best position yet`
      : `${frames}, best at ${bestPosition.toFixed(0)} ±${(2 * standard).toFixed(0)}`;
  }
  const dated = (at: string): string => (at.length <= 10 ? dayOf(at) : minuteOf(at));
</script>

<section class="panel p-4" aria-label="History">
  <h2 class="text-base font-semibold">History</h2>
  {#if history.failure !== undefined}
    <p class="text-warning">The history cannot be read just now: {history.failure}</p>
    <button class="btn btn-outline btn-sm mt-2" onclick={() => attempt(() => history.load())}>Try again</button>
  {:else if history.sittings === undefined}
    <p class="text-muted">Reading the history …</p>
  {:else}
    {#if history.head > 1}
      <p class="text-muted text-xs">Length error by revision, {display.unit}</p>
      <div class="mt-1 h-36">
        <ResidualLine
          states={history.known}
          first={history.oldest}
          head={history.head}
          at={history.at}
          names={history.names}
        />
      </div>
      <label class="block pr-3 pl-11" for="{uid}-slider">
        <span class="sr-only">State to look at</span>
        <input
          id="{uid}-slider"
          class="range range-primary range-xs w-full"
          type="range"
          min={history.oldest}
          max={history.head}
          value={history.at ?? history.head}
          aria-valuetext="revision {history.at ?? history.head} of {history.head}"
          oninput={({ currentTarget }) => slide(Number(currentTarget.value))}
        />
      </label>
    {/if}
    <div class="min-h-12 pt-1" aria-live="polite">
      {#if looked && number !== undefined}
        <div class="border-primary flex flex-wrap items-center gap-2 rounded border px-3 py-2" data-looked={number}>
          <p class="basis-full">
            <span class="font-semibold">Revision {number}</span>, {minuteOf(looked.revision.savedAt)}: shown on the rail
            above, nothing is changed.
          </p>
          <label class="flex items-center gap-1.5 text-sm"
            >name
            <input
              class="input input-sm w-40"
              maxlength="200"
              placeholder="none"
              value={history.names.get(number) ?? ''}
              onchange={({ currentTarget }) => attempt(() => history.name(number, currentTarget.value))}
            /></label
          >
          <button
            class="btn btn-primary btn-sm"
            onclick={() => {
              notices.complain(history.restore());
              onchanged();
            }}><RotateCcw size={14} />Restore it</button
          >
          <a class="btn btn-outline btn-sm" href="/compare?of=revision:{train.id}:{number}&of=train:{train.id}"
            ><GitCompareArrows size={14} />Compare with now</a
          >
          <button class="btn btn-ghost btn-sm" onclick={history.back}><X size={14} />Back to now</button>
        </div>
      {:else}
        <p class="text-muted text-sm">
          {history.head === 1
            ? 'One state so far. Every change is kept as a state of its own, to look at and to restore.'
            : `${history.head} states are kept. Choose one here, or on the line, to see it on the rail and to restore it.`}
        </p>
      {/if}
    </div>
    <ol class="mt-2 grid gap-1" data-timeline>
      {#each happened.slice(0, shown) as each (each.key)}
        <li class="entry">
          {#if each.kind === 'sitting'}
            <SittingRow {history} sitting={each.sitting} {look} onfailed={attempt} />
          {:else if each.kind === 'record'}
            <div class="pl-7"><RecordCard record={each.record} {onchanged} /></div>
          {:else if each.kind === 'run'}
            <a class="event" href="/trains/{train.id}/first-light">
              <span class="block text-sm"
                >{dated(each.at)}, focus run{each.run.filter ? `, ${each.run.filter}` : ''}</span
              >
              {bestOf(each)}
            </a>
          {:else}
            <a class="event" href="/trains/{train.id}/tune">
              <span class="block text-sm">{dated(each.at)}, experiment</span>
              {each.experiment.spacingMm === undefined
                ? 'spacing not stated'
                : `at ${display.length(each.experiment.spacingMm)}`}{each.experiment.note
                ? `, ${each.experiment.note}`
                : ''}
            </a>
          {/if}
        </li>
      {/each}
    </ol>
    {#if shown < happened.length || history.more}
      <button class="btn btn-ghost btn-sm mt-2" onclick={older}>Earlier</button>
    {/if}
  {/if}
</section>

<style>
  /* What is not in sight is not laid out: a train may have been changed on thousands of days. */
  .entry {
    content-visibility: auto;
    contain-intrinsic-block-size: auto 3.25rem;
  }
  .event {
    display: block;
    padding: 0.3rem 0.5rem;
    margin-left: 1.75rem;
    border-radius: var(--radius-field);
  }
  .event:hover {
    background: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
</style>
