<script lang="ts">
  import { KINDS, isElementKind } from '@lodestone/core/train';
  import { STATE_WORDS, type PartFilter } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import type { DrawerView } from './view.svelte.ts';

  const { view }: { view: DrawerView } = $props();
  const drawer = useDrawer();

  const stateWords: Readonly<Record<string, string>> = { ...STATE_WORDS, 'to-buy': 'to buy' };
  const byCount = (counts: Map<string, number>) => [...counts].sort(([, a], [, b]) => b - a);
  const trains = $derived([...new Map(drawer.uses.map(({ trainId, trainName }) => [trainId, trainName]))]);

  const kindWords = (kind: string) => (isElementKind(kind) ? KINDS[kind].words : kind);
  const ALIKE_MOST = 8;
  let allThreads = $state(false);
</script>

{#snippet choice(key: keyof PartFilter, option: string, words: string, depth = 0)}
  {@const count = view.left[key].get(option) ?? 0}
  <button
    class={['choice', view.filter[key] === option && 'on', count === 0 && 'opacity-60']}
    style:padding-left={depth > 0 ? `${0.5 + depth * 0.8}rem` : undefined}
    aria-pressed={view.filter[key] === option}
    onclick={() => view.narrow(key, option)}
  >
    <span class="truncate">{words}</span><span class="text-muted">{count}</span>
  </button>
{/snippet}

<div class="grid gap-4 text-xs">
  {#if view.isNarrowed}
    <button class="btn btn-outline btn-sm font-normal" onclick={() => view.widen()}>Show all parts</button>
  {/if}
  <section>
    <h2>Places</h2>
    {#each view.places as { path, name, depth } (path)}
      {@render choice('location', path, name, depth)}
    {:else}
      <p class="text-muted px-2">No part has a place yet.</p>
    {/each}
  </section>
  <section>
    <h2>State</h2>
    {#each byCount(view.facets.state) as [state] (state)}
      {@render choice('state', state, stateWords[state] ?? state)}
    {/each}
    {#each byCount(view.facets.measured) as [measured] (measured)}
      {@render choice('measured', measured, measured === 'yes' ? 'measured' : 'only published')}
    {/each}
  </section>
  {#if trains.length > 0}
    <section>
      <h2>Used in</h2>
      {#each trains as [trainId, name] (trainId)}
        {@render choice('trainId', trainId, name)}
      {/each}
    </section>
  {/if}
  <section>
    <h2>Threads</h2>
    {#each byCount(view.facets.thread).slice(0, allThreads ? undefined : ALIKE_MOST) as [thread] (thread)}
      {@render choice('thread', thread, thread)}
    {/each}
    {#if view.facets.thread.size > ALIKE_MOST}
      <button class="choice text-muted" aria-expanded={allThreads} onclick={() => (allThreads = !allThreads)}
        >{allThreads ? 'Only the usual ones' : `All ${view.facets.thread.size} threads`}</button
      >
    {/if}
  </section>
  <section>
    <h2>Kinds</h2>
    {#each byCount(view.facets.kind) as [kind] (kind)}
      {@render choice('kind', kind, kindWords(kind))}
    {/each}
  </section>
</div>

<style>
  h2 {
    padding: 0 0.5rem 0.15rem;
    font-weight: 600;
  }
  .choice {
    display: flex;
    width: 100%;
    justify-content: space-between;
    gap: 0.5rem;
    border-left: 2px solid transparent;
    min-height: 1.5rem;
    align-items: center;
    padding: 0.16rem 0.5rem;
    text-align: left;
  }
  .choice:hover {
    background: color-mix(in srgb, var(--color-neutral) 45%, transparent);
  }
  .choice.on {
    border-left-color: var(--color-primary);
    color: var(--color-primary);
    font-weight: 600;
  }
</style>
