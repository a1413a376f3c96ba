<script lang="ts">
  import { goto } from '$app/navigation';
  import type { Train } from '@lodestone/core/train';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import { createTrain } from '$lib/train/transport.ts';
  import NewTrain from '$lib/trains/NewTrain.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';
  import { onMount } from 'svelte';

  const { data } = $props();
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
  <p class="text-muted mt-1 mb-6">
    Telescope, corrector, camera: three lines give a first answer. Pick or type; everything can be changed later. Drop a
    train document anywhere to import it.
  </p>
  <NewTrain hosts={data.hosts} oncreate={create} />
</main>
