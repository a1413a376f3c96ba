<script lang="ts">
  import { assess } from '@lodestone/core/check';
  import { commonScale, layoutOf } from '@lodestone/core/shape';
  import {
    bestOf,
    compared as comparedOf,
    differences,
    rowsByDifference,
    type ComparedRow
  } from '@lodestone/core/compare';
  import { askFile } from '$lib/api/ask.ts';
  import { MOST_COMPARED, type CompareChoice, type ComparedDocument } from '$lib/api/compare.ts';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import Silhouette from '$lib/rail/Silhouette.svelte';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import TryAgain from '$lib/ui/TryAgain.svelte';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronUp from '@lucide/svelte/icons/chevron-up';
  import FileText from '@lucide/svelte/icons/file-text';
  import Star from '@lucide/svelte/icons/star';
  import X from '@lucide/svelte/icons/x';
  import { onMount } from 'svelte';
  import { SvelteMap } from 'svelte/reactivity';
  import { Counts } from './counts.svelte.ts';
  import { fillingOf, type Filling } from './existence.ts';

  interface Props {
    compared: readonly ComparedDocument[];
    /** Keys that name nothing. */
    missing: readonly string[];
    choices: readonly CompareChoice[];
    onchoose: (keys: readonly string[]) => void;
  }
  const { compared, missing, choices, onchoose }: Props = $props();
  const display = useDisplay();
  const notices = useNotices();
  const drawer = provideDrawer(new Drawer());
  onMount(() => drawer.open());

  /** Whether what stands open can be filled, as the finder says, by what is compared. */
  const fillings = new SvelteMap<string, Filling | 'asking' | { failure: string }>();
  let asked = $state(0);
  /** What is compared: a train with open places as the drawer closes it, where it does. */
  const documents = $derived(
    compared.map(({ key, document }) => {
      const filling = fillings.get(key);
      return (typeof filling === 'object' && 'filled' in filling && filling.filled) || document;
    })
  );
  const sides = $derived(documents.map((document) => comparedOf(document, drawer.plain)));
  const layouts = $derived(
    documents.map((document) => {
      const { ledger, facts } = assess(document);
      return layoutOf(document, ledger, facts.axis);
    })
  );
  const scale = $derived(commonScale(layouts));
  const left = $derived(choices.filter(({ key }) => !compared.some((each) => each.key === key)));
  const changes = $derived(
    compared.slice(1).map(({ title }, at) => ({ title, list: differences(documents[0]!, documents[at + 1]!) }))
  );

  // How a gap was filled is told in its row, even where all can be built then.
  const rows = $derived(rowsByDifference(sides, display.unit, fillings.size > 0 ? ['exists'] : []));
  let showsAlike = $state(false);
  const counts = new Counts();
  onMount(() => counts.recall());

  const remove = (key: string) => onchoose(compared.flatMap((each) => (each.key === key ? [] : [each.key])));
  const add = (key: string) => key !== '' && onchoose([...compared.map((each) => each.key), key]);

  $effect(() => {
    if (!drawer.isRead) return;
    void asked;
    const parts = drawer.plain;
    const asking = new AbortController();
    for (const { key, document } of compared) {
      if (!document.elements.some(({ kind }) => kind === 'gap')) continue;
      fillings.set(key, 'asking');
      fillingOf(document, parts, display.unit, asking.signal).then(
        (filling) => fillings.set(key, filling),
        (error: Error) => asking.signal.aborted || fillings.set(key, { failure: error.message })
      );
    }
    return () => asking.abort();
  });

  const print = () =>
    notices.attempt(async () =>
      saveFile(
        await askFile('/api/comparison', {
          trains: compared.map(({ title }, at) => ({ title, document: documents[at] })),
          counts: counts.list
        }),
        `${compared.map(({ document }) => document.name).join(', ')} side by side.pdf`
      )
    );
</script>

{#snippet line(row: ComparedRow)}
  {@const best = counts.has(row.id) ? bestOf(row, sides) : undefined}
  <tr class="border-line border-t" data-row={row.id}>
    <th scope="row" class="text-muted py-1.5 pr-4 font-normal">
      <span class="flex items-center justify-between gap-2"
        >{row.title}
        {#if row.better && compared.length > 1}
          <button
            class={['btn btn-ghost btn-xs btn-square print:hidden', counts.has(row.id) && 'text-primary']}
            title="It counts: {row.better} is better"
            aria-label="{row.title} counts: {row.better} is better"
            aria-pressed={counts.has(row.id)}
            onclick={() => counts.toggle(row.id)}
            ><Star size={13} fill={counts.has(row.id) ? 'currentColor' : 'none'} /></button
          >
        {/if}</span
      >
    </th>
    {#each sides as side, at (compared[at]!.key)}
      {@const filling = row.id === 'exists' ? fillings.get(compared[at]!.key) : undefined}
      {@const cell = row.cell(side, display.unit)}
      <td class={['py-1.5 pr-4 align-top', best === at && 'text-success font-semibold', cell === null && 'text-muted']}>
        {cell ?? 'not known'}
        {#if best === at}<span class="sr-only">, the better</span>{/if}
        {#if filling === 'asking'}
          <span class="text-muted block text-sm">The finder is looking …</span>
        {:else if filling && 'failure' in filling}
          <TryAgain message={filling.failure} onagain={() => asked++} />
        {:else if filling}
          <span class={['block text-sm', filling.can ? 'text-success' : 'text-warning']} data-filling={filling.can}
            >{filling.can ? 'Its gaps are closed here ' : 'Open as it is: '}{filling.say}.</span
          >
        {/if}
      </td>
    {/each}
  </tr>
{/snippet}

<div class="mx-auto max-w-7xl p-4">
  <div class="flex flex-wrap items-center justify-between gap-3">
    <h1 class="text-xl font-semibold">Side by side</h1>
    <div class="flex flex-wrap items-center gap-2 print:hidden">
      {#if compared.length < MOST_COMPARED && left.length > 0}
        <select
          class="select select-sm w-64"
          aria-label="Add to comparison"
          value=""
          onchange={({ currentTarget }) => add(currentTarget.value)}
        >
          <option value="">Add to comparison …</option>
          {#each left as { key, title } (key)}<option value={key}>{title}</option>{/each}
        </select>
      {/if}
      {#if compared.length > 0}
        <button class="btn btn-outline btn-sm" onclick={() => void print()}><FileText size={14} />PDF</button>
      {/if}
    </div>
  </div>
  {#if missing.length > 0}
    <p class="text-warning mt-2" role="alert">
      {missing.length === 1 ? 'One of them no longer exists.' : `${missing.length} of them no longer exist.`}
    </p>
  {/if}
  {#if compared.length === 0}
    <p class="text-muted mt-6 max-w-prose">
      Choose what is to be laid on one rail: trains, variants of them, or what was built. The first is what the others
      are compared with.
    </p>
  {:else}
    <ul class="mt-3 grid gap-0" aria-label="On one rail">
      {#each compared as { key, title, href }, at (key)}
        <li
          class="border-line grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-3 border-b py-2"
          data-compared={key}
        >
          <h2 class="min-w-0 wrap-anywhere"><a class="link-quiet font-semibold" {href}>{title}</a></h2>
          <button
            class="btn btn-ghost btn-sm btn-square print:hidden"
            aria-label="Remove {title}"
            onclick={() => remove(key)}><X size={14} /></button
          >
          <div class="col-span-full mt-1 h-16 sm:h-24">
            <Silhouette layout={layouts[at]!} {...scale} across={0.13} label="{title}, to scale" />
          </div>
        </li>
      {/each}
    </ul>
    <div class="mt-4 overflow-x-auto">
      <table class="w-full text-left">
        <caption class="sr-only">What there is to compare</caption>
        <thead>
          <tr>
            <td class="w-48"></td>
            {#each compared as { key, title } (key)}<th
                scope="col"
                class="min-w-40 pr-4 pb-1 align-bottom wrap-anywhere">{title}</th
              >{/each}
          </tr>
        </thead>
        <tbody>
          {#each rows.differ as row (row.id)}{@render line(row)}{/each}
        </tbody>
        {#if rows.alike.length > 0}
          <tbody>
            <tr class="border-line border-t">
              <td colspan={compared.length + 1} class="py-1">
                <button
                  class="btn btn-ghost btn-sm font-normal print:hidden"
                  aria-expanded={showsAlike}
                  onclick={() => (showsAlike = !showsAlike)}
                  >{#if showsAlike}<ChevronUp size={14} />{:else}<ChevronDown size={14} />{/if}{rows.alike.length}
                  {rows.alike.length === 1 ? 'row is' : 'rows are'} alike</button
                >
              </td>
            </tr>
            {#if showsAlike}
              {#each rows.alike as row (row.id)}{@render line(row)}{/each}
            {/if}
          </tbody>
        {/if}
      </table>
    </div>
    {#each changes as { title, list }, at (at)}
      <section class="mt-5">
        <h2 class="font-semibold wrap-anywhere">From {compared[0]!.title} to {title}</h2>
        {#if list.length === 0}
          <p class="text-muted">The same parts, set alike.</p>
        {:else}
          <ul class="mt-1 list-disc pl-5">
            {#each list as { id, say } (id)}<li>{say(display.unit)}.</li>{/each}
          </ul>
        {/if}
      </section>
    {/each}
  {/if}
</div>
