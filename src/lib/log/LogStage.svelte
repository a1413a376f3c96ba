<script lang="ts">
  import { reasonOf } from '$lib/api/reason.ts';
  import { onMount } from 'svelte';
  import type { BuildRecord } from '$lib/api/records.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { useAssembled } from '$lib/workbench/assembled.svelte.ts';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import ArrowLeftRight from '@lucide/svelte/icons/arrow-left-right';
  import GitCompareArrows from '@lucide/svelte/icons/git-compare-arrows';
  import PackageCheck from '@lucide/svelte/icons/package-check';
  import Split from '@lucide/svelte/icons/split';
  import FlatsCard from './FlatsCard.svelte';
  import RecordCard from './RecordCard.svelte';
  import VariantDialog from './VariantDialog.svelte';
  import { fetchRecords } from './transport.ts';

  const train = useTrain();
  const notices = useNotices();
  const assembled = useAssembled();
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

  /** Of the last saved state, by number: every one is kept. */
  let back = $state('');
  const lastRevision = $derived(records?.[0]?.revision);
  function compareBack(event: SubmitEvent) {
    event.preventDefault();
    const number = Number(back);
    if (!Number.isInteger(number) || number < 1) return notices.complain('Revisions are counted from 1.');
    location.assign(`/compare?of=revision:${train.id}:${number}&of=train:${train.id}`);
  }
</script>

<StageFrame {frame} layout="log">
  <div class="grid items-start gap-3 lg:grid-cols-[minmax(0,1fr)_22rem]">
    <section class="panel p-4" aria-label="Records">
      <h2 class="mb-1 text-base font-semibold">As built</h2>
      {#if failure !== undefined}
        <p class="text-warning">The records cannot be read just now: {failure}</p>
        <button class="btn btn-outline btn-sm mt-2" onclick={() => void load()}>Try again</button>
      {:else if records === undefined}
        <p class="text-muted">Reading the records …</p>
      {:else if records.length === 0}
        <p class="text-muted max-w-prose">
          Nothing was finished yet. Put the train together in <a class="link" href="/trains/{train.id}/assemble"
            >Assemble</a
          >, or mark it as assembled at the top: a record then keeps what was built, with its readings, and cannot
          change any more.
        </p>
      {:else}
        {#each records as record (record.id)}<RecordCard {record} onchanged={() => void load()} />{/each}
      {/if}
    </section>
    <div class="grid content-start gap-3">
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
        <form class="flex items-end justify-between gap-2 text-sm" onsubmit={compareBack}>
          <label class="flex items-center gap-2"
            >Compare with revision
            <input
              class="input input-sm w-24"
              inputmode="numeric"
              bind:value={back}
              placeholder={String(lastRevision ?? 1)}
            /></label
          >
          <button class="btn btn-outline btn-sm">Compare</button>
        </form>
      </section>
      <FlatsCard />
    </div>
  </div>
</StageFrame>
<VariantDialog bind:open={variant} />

<style>
  :global(.stage.log) {
    grid-template-areas: 'verdict' 'rail' '.';
  }
</style>
