<script lang="ts">
  import { page } from '$app/state';
  import Mark from '$lib/ui/Mark.svelte';
</script>

<svelte:head><title>{page.status} · Lodestone</title></svelte:head>

<main class="mx-auto max-w-xl px-6 py-24">
  <p class="flex items-center gap-2"><Mark /> Lodestone</p>
  <h1 class="mt-8 text-2xl font-semibold">{page.error?.message}</h1>
  <p class="text-muted mt-2">The server answered {page.status}.</p>
  <p class="mt-6"><a class="btn btn-primary btn-sm" href="/">All trains</a></p>
</main>
