<script lang="ts">
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Printer from '@lucide/svelte/icons/printer';
  import { onMount, untrack } from 'svelte';
  import { SvelteMap } from 'svelte/reactivity';
  import { Packer, type Round } from './packer.svelte.ts';
  import PackPlaces from './PackPlaces.svelte';
  import PackTrain from './PackTrain.svelte';
  import TrainCards from '$lib/rail/TrainCards.svelte';

  interface Props {
    trains: readonly StoredTrain[];
    chosen: readonly string[];
    /** Tin by tin instead of train by train. */
    isByPlace: boolean;
    onchoose: (trainIds: readonly string[], isByPlace: boolean) => void;
  }
  const { trains, chosen, isByPlace, onchoose }: Props = $props();
  const display = useDisplay();
  const drawer = provideDrawer(new Drawer());
  onMount(() => drawer.open());

  let round = $state<Round>('packed');
  const ROUNDS = [
    ['packed', 'Going out', 'Ticked off at home'],
    ['leaving', 'Coming home', 'Ticked off again when everything goes back into the car']
  ] as const;
  const ORDERS = [
    [false, 'by train', 'Each train with its own list'],
    [true, 'by place', 'Tin by tin, for all trains at once']
  ] as const;

  /** Those that come along, each open as long as it does. */
  const open = new SvelteMap<string, { packer: Packer; close: () => void }>();
  $effect(() => {
    const wanted = trains.filter(({ id }) => chosen.includes(id));
    untrack(() => {
      for (const [id, { close }] of open) {
        if (wanted.some((train) => train.id === id)) continue;
        close();
        open.delete(id);
      }
      for (const stored of wanted) {
        if (open.has(stored.id)) continue;
        const packer = new Packer(stored, drawer, () => display.unit);
        open.set(stored.id, { packer, close: packer.train.open() });
      }
    });
  });
  onMount(() => () => open.forEach(({ close }) => close()));

  const along = $derived(chosen.flatMap((id) => open.get(id)?.packer ?? []));
  const left = $derived(trains.filter(({ id }) => !chosen.includes(id)));
  const choose = (ids: readonly string[]) => onchoose(ids, isByPlace);
</script>

<div class="mx-auto max-w-5xl p-4">
  <div class="flex flex-wrap items-center justify-between gap-3">
    <h1 class="text-xl font-semibold">Packing list</h1>
    {#if chosen.length > 0}
      <div class="flex flex-wrap items-center gap-2 print:hidden">
        <div class="flex" role="group" aria-label="Which round">
          {#each ROUNDS as [key, words, title] (key)}
            <button
              class={['btn font-normal', round === key ? 'btn-neutral' : 'btn-ghost']}
              aria-pressed={round === key}
              {title}
              onclick={() => (round = key)}>{words}</button
            >
          {/each}
        </div>
        <div class="flex" role="group" aria-label="Order of the list">
          {#each ORDERS as [places, words, title] (words)}
            <button
              class={['btn font-normal', isByPlace === places ? 'btn-neutral' : 'btn-ghost']}
              aria-pressed={isByPlace === places}
              {title}
              onclick={() => onchoose(chosen, places)}>{words}</button
            >
          {/each}
        </div>
        {#if left.length > 0}
          <select
            class="select w-56"
            aria-label="Add a train"
            value=""
            onchange={({ currentTarget: { value } }) => value !== '' && choose([...chosen, value])}
          >
            <option value="">Add a train …</option>
            {#each left as { id, document } (id)}<option value={id}>{document.name}</option>{/each}
          </select>
        {/if}
        <button
          class="btn btn-outline btn-square"
          aria-label="Print the list"
          title="Print the list"
          onclick={() => print()}><Printer size={15} /></button
        >
      </div>
    {/if}
  </div>
  {#if chosen.length === 0}
    <p class="mt-4 mb-3 max-w-prose">
      Choose the trains to take. The list has every part with its tin, filters by channel, rings for another distance,
      tools, cables, and the joints that are still open.
    </p>
    {#if trains.length > 0}
      <TrainCards {trains} label="Trains to take" onpick={(id) => choose([id])} />
    {:else}
      <p class="text-muted">There is no train yet: <a class="link" href="/new">begin one</a>.</p>
    {/if}
  {:else if isByPlace}
    <div class="mt-3"><PackPlaces packers={along} {round} /></div>
  {:else}
    <div class={['mt-3 grid items-start gap-3', along.length > 1 && 'lg:grid-cols-2']}>
      {#each along as packer (packer.train.id)}
        <PackTrain {packer} {round} onaway={() => choose(chosen.filter((id) => id !== packer.train.id))} />
      {/each}
    </div>
  {/if}
</div>
