<script lang="ts">
  import type { Sharing } from '@lodestone/core/finder';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { listTrains } from '$lib/train/transport.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import type { Finder } from './finder.svelte.ts';

  const { finder }: { finder: Finder } = $props();
  const train = useTrain();
  const notices = useNotices();

  let others = $state.raw<readonly StoredTrain[]>();
  let otherId = $state('');
  let sharing = $state<Sharing>('apart');

  async function open(event: Event & { currentTarget: HTMLDetailsElement }) {
    if (!event.currentTarget.open || others) return;
    await notices.attempt(async () => {
      others = (await listTrains()).filter(({ id, state }) => id !== train.id && state === 'active');
      otherId = others[0]?.id ?? '';
    });
  }

  function search() {
    const other = others?.find(({ id }) => id === otherId);
    if (other) void finder.searchTogether(other.document, sharing);
  }

  const best = $derived(finder.together?.found.best);
  const partsOf = (index: number): string => {
    const ids = best?.stacks[index]?.gaps.flatMap(({ placed }) => placed.map(({ part }) => part.partId)) ?? [];
    return ids.length === 0 ? 'nothing to put in' : ids.join(' + ');
  };
</script>

<details class="border-line mb-2 border-y py-1 text-xs" ontoggle={open}>
  <summary class="cursor-pointer">Together with another train</summary>
  <div class="mt-1 grid gap-1">
    <select class="select select-xs w-full" aria-label="The other train" bind:value={otherId}>
      {#each others ?? [] as { id, document } (id)}<option value={id}>{document.name}</option>{/each}
    </select>
    <select class="select select-xs w-full" aria-label="What the two are to share" bind:value={sharing}>
      <option value="apart">both can stand assembled: no part twice</option>
      <option value="changeover">changed over with the fewest parts moved</option>
    </select>
    <button class="btn btn-outline btn-xs justify-self-start" disabled={otherId === ''} onclick={search}
      >Find both</button
    >
    {#if finder.together && best}
      <p>
        Here {partsOf(0)}; {finder.together.name}: {partsOf(1)}.
        {finder.together.sharing === 'changeover' ? `${best.moves} parts to move.` : ''}
        <span class="text-muted"
          >{finder.together.found.exhausted ? 'Proven.' : 'Not proven: more stacks fit than were weighed.'}</span
        >
      </p>
    {:else if finder.together}
      <p class="text-error">No way was found to bring both on spec from this drawer.</p>
    {/if}
  </div>
</details>
