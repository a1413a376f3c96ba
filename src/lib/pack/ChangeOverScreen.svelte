<script lang="ts">
  import { nameOf, type Train } from '@lodestone/core';
  import { changeOver, type Lying } from '@lodestone/core/assembly';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import { ArrowRight, Printer } from '@lucide/svelte';
  import { onMount } from 'svelte';
  import { SvelteSet } from 'svelte/reactivity';

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
  const ticked = new SvelteSet<string>();

  const jointIn = (train: Train, joint: string): string => {
    const at = train.elements.findIndex(({ id }) => id === joint);
    const before = train.elements.slice(0, at).findLast(({ kind }) => kind !== 'shim');
    return `${before?.name ?? train.host.name} from ${nameOf(train, joint)}`;
  };
  const joinIn = (train: Train, joint: string): string => jointIn(train, joint).replace(' from ', ' to ');
  const partIn = (train: Train, { id }: Lying): string => {
    const element = train.elements.find((each) => each.id === id);
    const number = element && 'partId' in element && element.partId !== undefined ? `${element.partId}, ` : '';
    return `${number}${nameOf(train, id)}`;
  };
</script>

{#snippet steps(title: string, lines: readonly { key: string; words: string; where?: string | null }[])}
  {#if lines.length > 0}
    <section class="mt-5">
      <h2 class="font-semibold">{title}</h2>
      <ol class="mt-1">
        {#each lines as { key, words, where } (key)}
          <li class="border-line border-t">
            <label class="flex min-h-11 items-center gap-3 py-1"
              ><input
                type="checkbox"
                class="checkbox"
                checked={ticked.has(key)}
                onchange={({ currentTarget: { checked } }) => (checked ? ticked.add(key) : ticked.delete(key))}
              /><span class={['min-w-0 flex-1 wrap-anywhere', ticked.has(key) && 'text-muted']}>{words}</span>
              {#if where !== undefined}<span class="text-muted text-sm">{where ?? 'place not known'}</span>{/if}</label
            >
          </li>
        {/each}
      </ol>
    </section>
  {/if}
{/snippet}

<div class="mx-auto max-w-3xl p-4">
  <h1 class="text-xl font-semibold">Change over</h1>
  <div class="mt-3 flex flex-wrap items-center gap-3 print:hidden">
    {#each ['from', 'to'] as const as end (end)}
      {#if end === 'to'}<ArrowRight size={16} class="text-muted" />{/if}
      <select
        class="select w-64"
        aria-label={end === 'from' ? 'The train as it stands' : 'The train it becomes'}
        value={(end === 'from' ? fromId : toId) ?? ''}
        onchange={({ currentTarget: { value } }) =>
          end === 'from' ? onchoose(value, toId ?? '') : onchoose(fromId ?? '', value)}
      >
        <option value="">{end === 'from' ? 'Which train stands there?' : 'Which is it to become?'}</option>
        {#each trains as { id, document } (id)}<option value={id}>{document.name}</option>{/each}
      </select>
    {/each}
    {#if change}
      <button class="btn btn-outline" onclick={() => print()}><Printer size={15} />Print</button>
    {/if}
  </div>
  {#if change && from && to}
    <p class="mt-4 text-lg font-semibold" data-joints={change.joints}>
      {change.joints === 0
        ? change.aside.length === from.elements.length
          ? `${from.name} and ${to.name} share no part: ${from.name} is put away as it stands.`
          : `Nothing has to be opened from ${from.name} to ${to.name}.`
        : `${change.joints} ${change.joints === 1 ? 'joint' : 'joints'} to open from ${from.name} to ${to.name}: no way needs fewer.`}
    </p>
    {@render steps(
      'Open, in this order',
      change.open.toReversed().map((joint) => ({ key: `open ${joint}`, words: `Part ${jointIn(from, joint)}` }))
    )}
    {#if change.keep.length > 0}
      <section class="mt-5">
        <h2 class="font-semibold">Leave together</h2>
        <ul class="mt-1 list-disc pl-5">
          {#each change.keep as run (run.join(' '))}<li>{run.map((id) => nameOf(from, id)).join(' · ')}</li>{/each}
        </ul>
      </section>
    {/if}
    {@render steps(
      'Put away',
      change.aside.map((part) => ({ key: `aside ${part.id}`, words: partIn(from, part), where: part.location }))
    )}
    {@render steps(
      'Fetch',
      change.bring.map((part) => ({ key: `bring ${part.id}`, words: partIn(to, part), where: part.location }))
    )}
    {@render steps(
      'Close, in this order',
      change.close.toReversed().map((joint) => ({ key: `close ${joint}`, words: `Join ${joinIn(to, joint)}` }))
    )}
    <p class="text-muted mt-5">
      How each joint is closed, with its tools and readings, is in <a class="link" href="/trains/{toId}/assemble"
        >Assemble of {to.name}</a
      >.
    </p>
  {:else}
    <p class="text-muted mt-6 max-w-prose">
      From one train to another with the fewest joints opened: what stays together, what goes into which tin, what comes
      out.
    </p>
  {/if}
</div>
