<script lang="ts">
  import { effectsOf, hoursByEvening, seasonOfTrains } from '@lodestone/core/nights';
  import type { NightOf } from '@lodestone/core/nights';
  import { reasonOf } from '$lib/api/reason.ts';
  import { counted } from '$lib/ui/size.ts';
  import { hoursInWords } from '$lib/ui/time.ts';
  import { onMount } from 'svelte';
  import { fetchDaysOfChanges } from './changes.ts';
  import EffectList from './EffectList.svelte';
  import SeasonChart from './SeasonChart.svelte';

  /** The nights of all trains on one page: how many, how long, through which filters, and what changes did to them. */
  interface Props {
    trains: readonly { id: string; name: string; nights: readonly NightOf[] }[];
  }
  const { trains }: Props = $props();

  const days = $derived(trains.flatMap(({ nights }) => nights.map(({ on }) => on)).sort());
  let from = $state<string>();
  let to = $state<string>();
  const first = $derived(from || days[0] || '');
  const last = $derived(to || days.at(-1) || '');
  const season = $derived(seasonOfTrains(trains, first, last));

  /** Days on which each train was changed, once they are known. */
  let changes = $state.raw<ReadonlyMap<string, readonly string[]>>();
  let failure = $state<string>();
  async function readChanges() {
    failure = undefined;
    try {
      changes = new Map(
        await Promise.all(
          trains.map(async ({ id, nights }) => {
            const evenings = nights.map(({ on }) => on).sort();
            return [id, await fetchDaysOfChanges(id, evenings[0] ?? '', evenings.at(-1) ?? '')] as const;
          })
        )
      );
    } catch (error) {
      failure = reasonOf(error);
    }
  }
  onMount(() => void readChanges());

  const effects = $derived(
    trains
      .flatMap(({ id, name, nights }) =>
        effectsOf(nights, changes?.get(id) ?? []).map((effect) => ({ ...effect, train: name }))
      )
      .filter(({ on }) => on >= first && on <= last)
      .sort((a, b) => b.on.localeCompare(a.on))
  );
  const lanes = $derived(
    season.trains.map(({ id, name }) => ({
      name,
      evenings: hoursByEvening(trains.find((each) => each.id === id)?.nights ?? []).filter(
        ([on]) => on >= first && on <= last
      ),
      changes: (changes?.get(id) ?? []).filter((on) => on >= first && on <= last)
    }))
  );

  const filters = (of: readonly [string, number][]): string =>
    of.map(([filter, each]) => `${filter} ${hoursInWords(each)}`).join(', ');
</script>

<main class="mx-auto max-w-4xl px-6 py-8">
  <h1 class="text-2xl font-semibold">Season</h1>
  {#if days.length === 0}
    <p class="text-muted mt-4 max-w-prose">
      No night is written down yet. Open the log of a <a class="link" href="/">train</a> and write one down: hours, guiding,
      seeing, and what was wrong. Nights of all trains are then added up here.
    </p>
  {:else}
    <div class="mt-4 flex flex-wrap items-end gap-3">
      <label class="grid gap-0.5 text-sm"
        >From the evening of
        <input
          class="input input-sm"
          type="date"
          max={last}
          value={first}
          onchange={({ currentTarget }) => (from = currentTarget.value)}
        /></label
      >
      <label class="grid gap-0.5 text-sm"
        >to that of
        <input
          class="input input-sm"
          type="date"
          min={first}
          value={last}
          onchange={({ currentTarget }) => (to = currentTarget.value)}
        /></label
      >
      {#if from || to}
        <button class="btn btn-ghost btn-sm" onclick={() => (from = to = undefined)}>All nights</button>
      {/if}
    </div>
    {#if season.nights === 0}
      <p class="text-muted mt-5" data-season-of-trains>No night was written down in that time.</p>
    {:else}
      <p class="mt-5 text-xl font-semibold" data-season-of-trains>
        {counted(season.nights, 'night')} with {counted(season.trains.length, 'train')}, {hoursInWords(season.hours)}
      </p>
      <div class="mt-3"><SeasonChart {lanes} /></div>
      <table class="mt-5 w-full text-sm">
        <thead class="text-muted text-left text-xs"
          ><tr
            ><th scope="col" class="font-normal">Train</th><th scope="col" class="text-right font-normal">Nights</th><th
              scope="col"
              class="px-4 text-right font-normal">Hours</th
            ><th scope="col" class="font-normal">By filter</th></tr
          ></thead
        >
        <tbody>
          {#each season.trains as { id, name, season: own } (id)}
            <tr class="border-line border-t align-baseline" data-train={name}>
              <th scope="row" class="py-1.5 pr-4 text-left font-normal wrap-break-word"
                ><a class="link" href="/trains/{id}/log">{name}</a></th
              >
              <td class="text-right">{own.nights}</td>
              <td class="px-4 text-right whitespace-nowrap">{hoursInWords(own.hours)}</td>
              <td>{filters(own.byFilter)}</td>
            </tr>
          {/each}
          {#if season.trains.length > 1}
            <tr class="border-line border-t align-baseline" data-train="all">
              <th scope="row" class="py-1.5 text-left font-semibold">All</th>
              <td class="text-right">{season.nights}</td>
              <td class="px-4 text-right whitespace-nowrap">{hoursInWords(season.hours)}</td>
              <td>{filters(season.byFilter)}</td>
            </tr>
          {/if}
        </tbody>
      </table>
      <h2 class="mt-6 font-semibold">Before and after a change</h2>
      {#if failure !== undefined}
        <p class="text-warning mt-1 text-sm">The changes cannot be read just now: {failure}</p>
        <button class="btn btn-outline btn-sm mt-2" onclick={() => void readChanges()}>Try again</button>
      {:else if changes === undefined}
        <p class="text-muted mt-1 text-sm" role="status">Reading what was changed …</p>
      {:else if effects.length === 0}
        <p class="text-muted mt-1 max-w-prose text-sm">
          Nothing to compare yet. It needs a change of a train, and on each side of it two nights with the same figure:
          guiding or HFR.
        </p>
      {:else}
        <div class="mt-1"><EffectList {effects} /></div>
      {/if}
    {/if}
  {/if}
</main>
