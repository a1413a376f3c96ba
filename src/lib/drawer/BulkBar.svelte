<script lang="ts">
  import { STATE_WORDS, tidyLocation, type Part, type PartState } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import Tag from '@lucide/svelte/icons/tag';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';

  interface Props {
    parts: readonly Part[];
    onclear: () => void;
    onlabels: () => void;
    onremove: () => void;
    onmeasure: () => void;
  }
  const { parts, onclear, onlabels, onremove, onmeasure }: Props = $props();
  const drawer = useDrawer();
  const notices = useNotices();
  let place = $state('');

  const many = $derived(`${parts.length} ${parts.length === 1 ? 'part' : 'parts'}`);

  function change(label: string, with_: (part: Part) => Part) {
    const refusal = drawer.change(label, parts.map(with_));
    if (refusal) notices.complain(refusal);
    else notices.sayDone(drawer, `${label}.`);
  }

  function move(event: SubmitEvent) {
    event.preventDefault();
    const location = tidyLocation(place);
    change(`Move ${many} to ${location || 'nowhere'}`, (part) => ({ ...part, location }));
    place = '';
  }

  function mark(value: string) {
    if (value === '') return;
    if (value === 'to-buy') return change(`Mark ${many} to buy`, (part) => ({ ...part, owned: false }));
    const state = value as PartState;
    change(`Mark ${many} ${STATE_WORDS[state]}`, (part) => ({ ...part, owned: true, state }));
  }
</script>

<div
  class="border-line flex flex-wrap items-center gap-1.5 border-t px-3 py-2"
  role="group"
  aria-label="For the chosen parts"
>
  <span class="font-semibold">{many} chosen</span>
  <button class="btn btn-ghost btn-xs btn-square" aria-label="Choose none" onclick={onclear}><X size={14} /></button>
  <form class="flex gap-1" onsubmit={move}>
    <input
      class="input input-sm w-24"
      bind:value={place}
      list="places"
      maxlength="200"
      placeholder="Tin 2"
      aria-label="New place"
    />
    <button class="btn btn-outline btn-sm">Move there</button>
  </form>
  <select
    class="select select-sm w-26"
    aria-label="New state"
    value=""
    onchange={({ currentTarget }) => {
      mark(currentTarget.value);
      currentTarget.value = '';
    }}
  >
    <option value="">Mark as …</option>
    {#each Object.entries(STATE_WORDS) as [state, words] (state)}<option value={state}>{words}</option>{/each}
    <option value="to-buy">to buy</option>
  </select>
  <button class="btn btn-outline btn-sm" onclick={onmeasure}>Measure</button>
  <button class="btn btn-outline btn-sm" onclick={onlabels}><Tag size={14} />Labels</button>
  <button class="btn btn-ghost btn-sm" onclick={onremove}><Trash2 size={14} />Delete</button>
</div>
