<script lang="ts">
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import FocusPicture from './FocusPicture.svelte';
  import { starOf, type Mover } from './guide.ts';
  import KeptRuns from './KeptRuns.svelte';
  import type { FocusSession } from './run.svelte.ts';
  import type { Simulator } from './simulator.svelte.ts';

  /** The run in hand as a curve, what it comes to, and the runs that were kept. */
  interface Props {
    session: FocusSession;
    simulator: Simulator;
    mover: Mover;
    /** Position of the next frame, where one is asked for. */
    next: number | undefined;
    /** Number of the frame that was pointed at, from 0. */
    chosen: number | undefined;
  }
  let { session, simulator, mover, next, chosen = $bindable() }: Props = $props();
  const train = useTrain();
  const notices = useNotices();

  const { answer, points } = $derived(session);
  const headline = $derived(
    answer.bestPosition === null || answer.standard === null
      ? 'No best position yet'
      : `Best at ${answer.bestPosition.toFixed(0)} ±${(2 * answer.standard).toFixed(0)}, ${answer.minHfrPx?.toFixed(2)} px`
  );
  const state = $derived(
    points.length === 0
      ? undefined
      : answer.enough
        ? 'Enough: another frame does not improve it.'
        : (answer.why ?? 'Another frame would narrow it.')
  );
  const point = $derived(chosen === undefined ? undefined : points[chosen]);
  const leftOut = $derived(answer.left.find(({ index }) => index === chosen));
</script>

<div class="flex flex-wrap items-baseline justify-between gap-x-4">
  <h2 class="text-base font-semibold" data-focus-answer>{headline}</h2>
  <label class="text-muted flex items-center gap-1.5 text-xs"
    >filter
    <input
      class="input input-xs w-24"
      placeholder="none"
      maxlength="200"
      value={session.run.filter ?? ''}
      onchange={({ currentTarget }) => notices.complain(session.setFilter(currentTarget.value.trim()))}
    /></label
  >
</div>
{#if state}
  <p class="text-muted text-sm">{state} {answer.left.length > 0 ? `${answer.left.length} excluded.` : ''}</p>
{/if}
<div class="relative mt-2 min-h-80 flex-1">
  <FocusPicture {session} {mover} {next} bind:chosen />
</div>
{#if chosen !== undefined && point}
  <p class="text-sm">
    Frame {chosen + 1}: {starOf(point)} at {point.position}{leftOut ? `, excluded: ${leftOut.why}` : ''}.
  </p>
{/if}
{#if session.measured}
  {@const { steps, standard } = session.measured}
  <p class="mt-1 flex flex-wrap items-center gap-2 text-sm" data-backlash>
    Out and in differ by {steps.toFixed(0)} ±{(2 * standard).toFixed(0)} steps: the backlash.
    {#if Math.round(steps) !== session.backlash}
      <button class="btn btn-outline btn-xs" onclick={() => notices.complain(session.keepBacklash(steps))}
        >Keep it</button
      >
    {/if}
  </p>
{/if}
<KeptRuns {session} />
{#if simulator.state}
  <p class="text-muted mt-1 text-xs">
    Simulated focuser: counts {simulator.state.position}, {simulator.state.umPerStep} µm a step, to {simulator.state
      .lastStep}.
  </p>
{/if}
{#if session.umPerStep === undefined}
  <p class="text-muted mt-1 text-xs">
    With what a step moves stated, <a
      class="link-quiet"
      href="/trains/{train.id}/build"
      onclick={() => train.select({ kind: 'host' })}>in the host</a
    >, steps follow the depth of focus.
  </p>
{/if}
