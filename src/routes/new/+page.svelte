<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import type { Train } from '@lodestone/core/train';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import { createTrain } from '$lib/train/transport.ts';
  import NewTrain from '$lib/trains/NewTrain.svelte';
  import NotesStart from '$lib/trains/NotesStart.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';
  import { onMount } from 'svelte';

  const WAYS = [
    { href: '/new', words: 'In three lines', notes: false },
    { href: '/new?from=notes', words: 'From notes', notes: true }
  ];
  const { data } = $props();
  const fromNotes = $derived(page.url.searchParams.get('from') === 'notes');
  const drawer = provideDrawer(new Drawer());
  onMount(() => drawer.open());

  // Made once, so that pressing the button again after a lost reply does not make a second train.
  const saveId = crypto.randomUUID();

  async function create(train: Train) {
    const stored = await createTrain(saveId, train);
    await goto(`/trains/${stored.id}/build`);
  }
</script>

<svelte:head><title>New train · Lodestone</title></svelte:head>
<TopBar />
<main class="mx-auto max-w-5xl px-6 py-8">
  <h1 class="text-2xl font-semibold">Start a train</h1>
  <p class="text-muted mt-1 mb-4 max-w-prose">
    {#if fromNotes}
      Paste what you have written down. The reading of each piece is shown beside it, and can be changed.
    {:else}
      Telescope, corrector, camera: three lines give a first answer. Pick or type; everything can be changed later.
    {/if}
    Drop a train document anywhere to import it.
  </p>
  <nav class="join mb-6" aria-label="Ways to start">
    {#each WAYS as { href, words, notes } (href)}
      <a
        {href}
        class={['btn btn-sm join-item', notes === fromNotes ? 'btn-primary' : 'btn-outline']}
        aria-current={notes === fromNotes ? 'page' : undefined}>{words}</a
      >
    {/each}
  </nav>
  {#if fromNotes}
    <NotesStart oncreate={create} />
  {:else}
    <NewTrain hosts={data.hosts} oncreate={create} />
  {/if}
</main>
