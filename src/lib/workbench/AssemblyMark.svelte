<script lang="ts">
  import { dayOf } from '$lib/ui/time.ts';
  import { nameOf } from '@lodestone/core/train';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import Link from '@lucide/svelte/icons/link';
  import Unlink from '@lucide/svelte/icons/unlink';
  import { useAssembled } from './assembled.svelte.ts';

  const train = useTrain();
  const drawer = useDrawer();
  const assembled = useAssembled();

  // Who holds what is known to the drawer; another tab may have changed it.
  $effect(() => {
    void drawer.uses;
    void assembled.refresh();
  });

  const { current, changedSince } = $derived(assembled);
  const toggle = () => void (current && !changedSince ? assembled.apart() : assembled.mark());
  useCommands().register([
    { id: 'assemble', group: 'Train', title: 'Mark as assembled, or as taken apart', key: 'Y', run: toggle }
  ]);
</script>

<button
  class={['btn btn-ghost btn-sm font-normal whitespace-nowrap', current ? '' : 'text-muted']}
  disabled={assembled.busy}
  data-assembled={current !== null}
  title={current
    ? `Assembled ${dayOf(current.assembledAt)}${changedSince ? '; the plan has changed since' : ''} (Y)`
    : 'Mark as assembled: its parts are then in no other train (Y)'}
  onclick={toggle}
>
  {#if current}
    <Link size={14} /><span class="max-lg:sr-only">{changedSince ? 'assembled, plan changed' : 'assembled'}</span>
  {:else}
    <Unlink size={14} /><span class="max-lg:sr-only">not assembled</span>
  {/if}
</button>
{#if current && changedSince}
  <button
    class="btn btn-ghost btn-sm font-normal max-md:hidden"
    disabled={assembled.busy}
    onclick={() => void assembled.apart()}>Take apart</button
  >
{/if}

<Modal title="Mark it as assembled all the same?" bind:open={assembled.asked}>
  <ul class="my-2 grid list-disc gap-1 pl-5" data-doubts>
    {#each assembled.doubts as doubt, index (index)}<li>{doubt}</li>{/each}
  </ul>
  <p class="text-muted">The record keeps this state. It cannot be changed afterwards.</p>
  <div class="mt-4 flex flex-wrap justify-end gap-2">
    <button class="btn btn-ghost" onclick={() => (assembled.asked = false)}>Not yet</button>
    <button class="btn btn-primary" onclick={() => void assembled.mark(true)}>Mark as assembled</button>
  </div>
</Modal>

<Modal title="Some parts are elsewhere" bind:open={assembled.refused}>
  <p>This train cannot be put together as it is planned:</p>
  <ul class="my-3 grid gap-1">
    {#each assembled.conflicts as { partId, elementId, heldBy } (elementId)}
      <li>
        <span class="font-semibold">{partId}</span>, {nameOf(train.document, elementId)}:
        {#if heldBy.length > 0}
          in
          {#each heldBy as { trainId, trainName }, index (trainId)}{index > 0 ? ', ' : ''}<a
              class="link-quiet"
              href="/trains/{trainId}/build">{trainName}</a
            >{/each}, which is assembled
        {:else}
          the drawer has fewer of it than this train uses
        {/if}
      </li>
    {/each}
  </ul>
  <p class="text-muted">Take the other train apart first, or replace these parts.</p>
</Modal>
