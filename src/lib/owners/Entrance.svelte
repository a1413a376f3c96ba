<script lang="ts">
  import Mark from '$lib/ui/Mark.svelte';
  import type { Snippet } from 'svelte';

  /** What stands round the forms by which one gets in: nothing of the application is shown yet. */
  interface Props {
    title: string;
    children: Snippet;
  }
  const { title, children }: Props = $props();
</script>

<svelte:head><title>{title} · Lodestone</title></svelte:head>
<main class="mx-auto grid min-h-dvh max-w-sm content-center gap-4 px-6 py-8">
  <p class="flex items-center gap-2 font-semibold"><Mark />Lodestone</p>
  <h1 class="text-2xl font-semibold">{title}</h1>
  {@render children()}
</main>
