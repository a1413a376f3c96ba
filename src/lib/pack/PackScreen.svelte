<script lang="ts">
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import Printer from '@lucide/svelte/icons/printer';
  import { onMount } from 'svelte';
  import PackTrain from './PackTrain.svelte';

  interface Props {
    trains: readonly StoredTrain[];
    chosen: readonly string[];
    onchoose: (trainIds: readonly string[]) => void;
  }
  const { trains, chosen, onchoose }: Props = $props();
  const drawer = provideDrawer(new Drawer());
  onMount(() => drawer.open());

  let round = $state<'packed' | 'leaving'>('packed');
  const ROUNDS = [
    ['packed', 'Packing'],
    ['leaving', 'Leaving']
  ] as const;
  const along = $derived(chosen.flatMap((id) => trains.filter((train) => train.id === id)));
  const left = $derived(trains.filter(({ id }) => !chosen.includes(id)));
</script>

<div class="mx-auto max-w-5xl p-4">
  <div class="flex flex-wrap items-center justify-between gap-3">
    <h1 class="text-xl font-semibold">What comes along</h1>
    <div class="flex flex-wrap items-center gap-2 print:hidden">
      <div class="flex" role="group" aria-label="Which round">
        {#each ROUNDS as [key, words] (key)}
          <button
            class={['btn font-normal', round === key ? 'btn-neutral' : 'btn-ghost']}
            aria-pressed={round === key}
            title={key === 'packed' ? 'Ticked off at home' : 'Ticked off again when everything goes back into the car'}
            onclick={() => (round = key)}>{words}</button
          >
        {/each}
      </div>
      {#if left.length > 0}
        <select
          class="select w-56"
          aria-label="Take another train along"
          value=""
          onchange={({ currentTarget: { value } }) => value !== '' && onchoose([...chosen, value])}
        >
          <option value="">Take another train …</option>
          {#each left as { id, document } (id)}<option value={id}>{document.name}</option>{/each}
        </select>
      {/if}
      {#if along.length > 0}
        <button
          class="btn btn-outline btn-square"
          aria-label="Print the list"
          title="Print the list"
          onclick={() => print()}><Printer size={15} /></button
        >
      {/if}
    </div>
  </div>
  {#if along.length === 0}
    <p class="text-muted mt-6 max-w-prose">
      Choose the trains that go along. The list has every part with its tin, filters by channel, the rings for a
      distance that turns out otherwise, tools, cables, and which joints are still to be closed there.
    </p>
  {/if}
  <div class={['mt-3 grid items-start gap-3', along.length > 1 && 'lg:grid-cols-2']}>
    {#each along as stored (stored.id)}
      <PackTrain {stored} {round} onaway={() => onchoose(chosen.filter((id) => id !== stored.id))} />
    {/each}
  </div>
</div>
