<script lang="ts">
  import { page } from '$app/state';
  import { reasonOf } from '$lib/api/reason.ts';
  import { onMount, untrack } from 'svelte';
  import type { BuildRecord } from '$lib/api/records.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { fetchRevision } from '$lib/train/transport.ts';
  import { useOffline } from '$lib/ui/offline/offline.svelte.ts';
  import { useAssembled } from '$lib/workbench/assembled.svelte.ts';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import ArrowLeftRight from '@lucide/svelte/icons/arrow-left-right';
  import GitCompareArrows from '@lucide/svelte/icons/git-compare-arrows';
  import PackageCheck from '@lucide/svelte/icons/package-check';
  import Split from '@lucide/svelte/icons/split';
  import { daysOfChanges } from './changes.ts';
  import FlatsCard from './FlatsCard.svelte';
  import { History } from './history.svelte.ts';
  import HistoryPanel from './HistoryPanel.svelte';
  import { fetchHistory, fetchStates, sendName } from './historyTransport.ts';
  import NightsPanel from './NightsPanel.svelte';
  import VariantDialog from './VariantDialog.svelte';
  import { fetchRecords } from './transport.ts';

  const train = useTrain();
  /** Of another's train the parts are in another drawer: it is neither packed nor changed over to from here. */
  const isGuest = (page.data as { sharedBy?: string }).sharedBy !== undefined;
  const assembled = useAssembled();
  const offline = useOffline();
  const frame = new Frame({ folds: true });

  let records = $state.raw<readonly BuildRecord[]>();
  let failure = $state<string>();
  let variant = $state(false);

  async function load() {
    try {
      records = await fetchRecords(train.id);
      failure = undefined;
    } catch (error) {
      failure = reasonOf(error);
    }
  }
  onMount(() => void load());
  // Marked as assembled just now, here or in another tab: there is one record more.
  $effect(() => {
    if (assembled.current) void load();
  });

  const history = new History(train, {
    history: (before) => fetchHistory(train.id, before),
    states: (of) => fetchStates(train.id, of),
    revision: (number) => fetchRevision(train.id, number),
    name: (number, name) => sendName(train.id, number, name)
  });
  /** Days on which something of the train itself was changed. */
  const days = $derived(daysOfChanges(history.sittings ?? [], history.states));
  // Saved just now, here or elsewhere: there is one state more. Once the server is back, what was kept is read anew.
  $effect(() => {
    void offline.keptAt;
    if (train.savedAt !== '') untrack(() => void history.load());
  });
</script>

<StageFrame {frame} layout="log">
  <div class="grid items-start gap-3 lg:grid-cols-[minmax(0,1fr)_22rem]">
    <div class="grid gap-3">
      {#if failure !== undefined}
        <section class="panel p-4" aria-label="Records">
          <p class="text-warning">The records cannot be read just now: {failure}</p>
          <button class="btn btn-outline btn-sm mt-2" onclick={() => void load()}>Try again</button>
        </section>
      {:else if records?.length === 0}
        <section class="panel p-4" aria-label="Records">
          <p class="text-muted max-w-prose">
            Nothing was finished yet. Put the train together in <a class="link" href="/trains/{train.id}/assemble"
              >Assemble</a
            >, or mark it as assembled at the top: a record then keeps what was built, with its readings, and cannot
            change any more.
          </p>
        </section>
      {/if}
      <HistoryPanel {history} records={records ?? []} onchanged={() => void load()} />
    </div>
    <div class="grid content-start gap-3 max-lg:order-first">
      <NightsPanel {days} />
      {#if !isGuest}
        <section class="panel grid gap-2 p-4" aria-label="What now">
          <h2 class="text-base font-semibold">What now</h2>
          <a class="btn btn-outline btn-sm justify-start" href="/pack?of={train.id}"
            ><PackageCheck size={14} />Pack for it</a
          >
          <a class="btn btn-outline btn-sm justify-start" href="/changeover?from={train.id}"
            ><ArrowLeftRight size={14} />Change over to another train</a
          >
          <button class="btn btn-outline btn-sm justify-start" onclick={() => (variant = true)}
            ><Split size={14} />Make a variant before buying</button
          >
          <a class="btn btn-outline btn-sm justify-start" href="/compare?of=train:{train.id}"
            ><GitCompareArrows size={14} />Compare it with others</a
          >
        </section>
      {/if}
      <FlatsCard />
    </div>
  </div>
</StageFrame>
<VariantDialog bind:open={variant} />

<style>
  :global(.stage.log) {
    grid-template-areas: 'verdict' 'rail' '.';
  }
  /* A state that is looked at is seen on it, however far down the line it stands. */
  :global(.stage.log > .area-rail) {
    position: sticky;
    top: 0.25rem;
    z-index: 20;
  }
</style>
