<script lang="ts">
  import { listed, nameOf } from '@lodestone/core';
  import type { Assembly, HoldConflict } from '$lib/api/drawer.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { assemble, fetchAssembly, takeApart } from '$lib/parts/transport.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { Link, Unlink } from '@lucide/svelte';

  const train = useTrain();
  const drawer = useDrawer();
  const notices = useNotices();
  const commands = useCommands();

  let assembly = $state.raw<Assembly | null>(null);
  let conflicts = $state.raw<readonly HoldConflict[]>([]);
  let refused = $state(false);
  let busy = $state(false);

  // Who holds what is known to the drawer; another tab may have changed it.
  $effect(() => {
    void drawer.uses;
    fetchAssembly(train.id).then(
      (now) => (assembly = now),
      () => undefined
    );
  });

  /** Parts of the plan that the assembled train does not hold, or the other way round. */
  const changedSince = $derived.by(() => {
    if (!assembly) return false;
    const planned = train.document.elements.flatMap((element) =>
      'partId' in element && element.partId !== undefined && drawer.byId.has(element.partId) ? [element.partId] : []
    );
    const held = assembly.holdings.map(({ partId }) => partId);
    return planned.toSorted().join('\n') !== held.toSorted().join('\n');
  });

  async function attempt(work: () => Promise<void>) {
    busy = true;
    await notices.attempt(work);
    await drawer.load();
    busy = false;
  }

  const mark = () =>
    attempt(async () => {
      const revision = await train.settleSaves();
      if (revision === undefined) return notices.complain('Wait until the train is saved.');
      const reply = await assemble(train.id, revision);
      if (reply.kind === 'assembled') {
        assembly = reply.assembly;
        const count = reply.assembly.holdings.length;
        const open = train.document.elements.filter(({ kind }) => kind === 'gap').map(({ name }) => `“${name}”`);
        const still = open.length === 0 ? '' : ` ${listed(open)} ${open.length === 1 ? 'stands' : 'stand'} open still.`;
        notices.say(`Marked as assembled; it holds ${count} ${count === 1 ? 'part' : 'parts'} of the drawer.${still}`, {
          label: 'Undo',
          run: () => void apart()
        });
      } else if (reply.conflicts.length === 0) notices.complain(reply.message);
      else {
        ({ conflicts } = reply);
        refused = true;
      }
    });

  const apart = () =>
    attempt(async () => {
      await takeApart(train.id);
      assembly = null;
      notices.say('Taken apart; its parts are free again.', { label: 'Undo', run: () => void mark() });
    });

  const toggle = () => void (assembly && !changedSince ? apart() : mark());
  commands.register([
    { id: 'assemble', group: 'Train', title: 'Mark as assembled, or as taken apart', key: 'Y', run: toggle }
  ]);
</script>

<button
  class={['btn btn-ghost btn-sm font-normal whitespace-nowrap', assembly ? '' : 'text-muted']}
  disabled={busy}
  data-assembled={assembly !== null}
  title={assembly
    ? `Assembled ${assembly.assembledAt.slice(0, 10)}${changedSince ? '; the plan has changed since' : ''} (Y)`
    : 'Mark as assembled: its parts are then in no other train (Y)'}
  onclick={toggle}
>
  {#if assembly}
    <Link size={14} /><span class="max-lg:sr-only">{changedSince ? 'assembled, plan changed' : 'assembled'}</span>
  {:else}
    <Unlink size={14} /><span class="max-lg:sr-only">not assembled</span>
  {/if}
</button>
{#if assembly && changedSince}
  <button class="btn btn-ghost btn-sm font-normal max-md:hidden" disabled={busy} onclick={() => void apart()}
    >Take apart</button
  >
{/if}

<Modal title="Some parts are elsewhere" bind:open={refused}>
  <p>This train cannot be put together as it is planned:</p>
  <ul class="my-3 grid gap-1">
    {#each conflicts as { partId, elementId, heldBy } (elementId)}
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
