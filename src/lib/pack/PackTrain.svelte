<script lang="ts">
  import { PACKING_TITLES } from '@lodestone/core/assembly';
  import SyncMark from '$lib/sync/SyncMark.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import type { Packer, Round } from './packer.svelte.ts';
  import PackItem from './PackItem.svelte';

  /** The packing list of one train, group by group. */
  interface Props {
    packer: Packer;
    round: Round;
    onaway: () => void;
  }
  const { packer, round, onaway }: Props = $props();
  const notices = useNotices();
  const uid = $props.id();
  const { train, name } = $derived(packer);
  const left = $derived(packer.left(round));

  let further = $state('');
  function addFurther(event: SubmitEvent) {
    event.preventDefault();
    const refusal = packer.add(further);
    notices.complain(refusal);
    if (refusal === undefined) further = '';
  }
</script>

<section class="panel p-4" aria-label={name} data-pack={name}>
  <div class="flex flex-wrap items-center justify-between gap-2">
    <h2 class="text-lg font-semibold wrap-anywhere">{name}</h2>
    <div class="flex items-center gap-1">
      <span class={left === 0 ? 'text-success font-semibold' : ''} data-left={left}
        >{left === 0 ? 'all there' : `${left} of ${packer.items.length} left`}</span
      >
      <SyncMark
        status={train.status}
        aside={train.aside.length}
        savedAt={train.savedAt}
        onretry={() => train.saveNow()}
      />
      <button class="btn btn-ghost btn-sm btn-square print:hidden" aria-label="Leave {name} at home" onclick={onaway}
        ><X size={14} /></button
      >
    </div>
  </div>
  {#each packer.groups as { group, list } (group)}
    <h3 class="text-muted mt-3 text-sm">{PACKING_TITLES[group]}</h3>
    <ul>
      {#each list as item (item.key)}<PackItem {packer} {item} {round} aside={item.location} />{/each}
    </ul>
  {/each}
  <form class="mt-3 flex flex-wrap gap-2 print:hidden" onsubmit={addFurther}>
    <input
      id="{uid}-further"
      class="input min-w-0 flex-1"
      aria-label="Something else for {name}"
      placeholder="a cap, a cable, a key"
      maxlength="200"
      bind:value={further}
    />
    <button class="btn btn-outline">Add</button>
    <button type="button" class="btn btn-ghost font-normal" onclick={() => notices.complain(packer.beginAgain(round))}
      >Start again</button
    >
  </form>
</section>
