<script lang="ts">
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { useAssembled } from '$lib/workbench/assembled.svelte.ts';
  import { dayOf, timeInWords } from '$lib/ui/time.ts';
  import type { Bench } from './bench.svelte.ts';

  /** Everything is closed: what is written down of it. */
  const { bench }: { bench: Bench } = $props();
  const train = useTrain();
  const assembled = useAssembled();
  const notices = useNotices();
  const uid = $props.id();

  /** Reopening begins a new record: its parts are free, and every step is to be done again. */
  async function reopen() {
    if (assembled.current && !(await assembled.apart())) return;
    notices.complain(bench.startAgain());
  }
</script>

<p class="text-success text-xl font-semibold">Everything is put together.</p>
<p class="mt-1">
  Every joint is closed. What was read on the way counts in the sum above.{bench.seconds > 0
    ? ` It took ${timeInWords(bench.seconds)}.`
    : ''}
</p>
{#if assembled.current && !assembled.changedSince}
  <p class="mt-3" data-finished>
    Finished {dayOf(assembled.current.assembledAt)}, and its parts are in no other train. The record, and room for
    photos, is <a class="link" href="/trains/{train.id}/log">in the log</a>.
  </p>
  <button class="btn btn-outline mt-3" disabled={assembled.busy} onclick={() => void reopen()}
    >Take it apart again</button
  >
{:else}
  <label class="mt-3 block text-sm" for="{uid}-note">Note for the record: serial numbers, tight joints</label>
  <textarea id="{uid}-note" class="textarea mt-1 w-full max-w-xl" rows="3" maxlength="4000" bind:value={assembled.note}
  ></textarea>
  <div class="mt-2 flex flex-wrap gap-2">
    <button class="btn btn-primary btn-lg" disabled={assembled.busy} onclick={() => void assembled.mark()}
      >Finish and keep a record</button
    >
    <button class="btn btn-ghost btn-lg" onclick={() => notices.complain(bench.startAgain())}>Start again</button>
  </div>
{/if}
