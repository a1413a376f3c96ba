<script lang="ts">
  import { changeOver } from '@lodestone/core/assembly';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import Printer from '@lucide/svelte/icons/printer';
  import ChangePicture from './ChangePicture.svelte';
  import TrainCards from '$lib/rail/TrainCards.svelte';
  import ChangeSteps from '$lib/workbench/ChangeSteps.svelte';
  import { onMount } from 'svelte';

  interface Props {
    trains: readonly StoredTrain[];
    fromId: string | undefined;
    toId: string | undefined;
    onchoose: (fromId: string, toId: string) => void;
  }
  const { trains, fromId, toId, onchoose }: Props = $props();
  const drawer = provideDrawer(new Drawer());
  onMount(() => drawer.open());

  const from = $derived(trains.find(({ id }) => id === fromId)?.document);
  const to = $derived(trains.find(({ id }) => id === toId)?.document);
  const change = $derived(
    from && to ? changeOver(from, to, (partId) => drawer.byId.get(partId)?.part.location || null) : undefined
  );
</script>

<div class="mx-auto max-w-6xl p-4">
  <h1 class="text-xl font-semibold">Change over</h1>
  <div class="mt-3 flex flex-wrap items-center gap-3 print:hidden">
    {#each ['from', 'to'] as const as end (end)}
      {#if end === 'to'}<ArrowRight size={16} class="text-muted" />{/if}
      <select
        class="select w-64"
        aria-label={end === 'from' ? 'Current train' : 'Next train'}
        value={(end === 'from' ? fromId : toId) ?? ''}
        onchange={({ currentTarget: { value } }) =>
          end === 'from' ? onchoose(value, toId ?? '') : onchoose(fromId ?? '', value)}
      >
        <option value="">{end === 'from' ? 'Current train' : 'Next train'}</option>
        {#each trains as { id, document } (id)}<option value={id}>{document.name}</option>{/each}
      </select>
    {/each}
    {#if change}
      <button class="btn btn-outline" onclick={() => print()}><Printer size={15} />Print</button>
    {/if}
  </div>
  {#if change && from && to}
    <p class="mt-4 text-lg font-semibold" data-joints={change.joints}>
      {change.shared === 0
        ? `${from.name} and ${to.name} share no part. Put ${from.name} away assembled.`
        : change.joints === 0
          ? `Nothing to open from ${from.name} to ${to.name}.`
          : `${change.joints} ${change.joints === 1 ? 'joint' : 'joints'} to open from ${from.name} to ${to.name}: ${change.exhausted ? 'no way needs fewer' : 'the fewest found, not every way was looked at'}.`}
    </p>
    <section class="panel mt-3 p-3" aria-label="Both trains"><ChangePicture {from} {to} {change} /></section>
    {#key `${fromId} ${toId}`}<div class="max-w-3xl"><ChangeSteps {from} {to} {change} /></div>{/key}
    <p class="text-muted mt-5">
      How each joint is closed, with its tools and readings, is in <a class="link" href="/trains/{toId}/assemble"
        >Assemble of {to.name}</a
      >.
    </p>
  {:else}
    <p class="mt-4 mb-2 max-w-prose">
      {from
        ? `${from.name} is set up. Choose the next train.`
        : 'Choose the train that is set up, then the next one. The plan opens the fewest joints: what stays assembled, what goes into which tin, what comes out.'}
    </p>
    {#if trains.length > 1}
      <TrainCards
        {trains}
        label={from ? 'Next train' : 'Current train'}
        chosen={from && fromId !== undefined ? [fromId] : []}
        onpick={(id) => (from && id !== fromId ? onchoose(fromId ?? '', id) : onchoose(id, toId ?? ''))}
      />
    {:else}
      <p class="text-muted">It takes two trains: <a class="link" href="/new">begin another</a>.</p>
    {/if}
  {/if}
</div>
