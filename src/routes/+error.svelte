<script lang="ts">
  import { page } from '$app/state';
  import Mark from '$lib/ui/Mark.svelte';
  import { isServerThere, whenThere } from '$lib/ui/reach.ts';
  import { onMount } from 'svelte';

  /** A page that could not be fetched looks like an error of the server: only asking tells the two apart. */
  let away = $state(false);
  onMount(() => {
    let stop: (() => void) | undefined;
    void isServerThere().then((there) => {
      away = !there;
      if (away) stop = whenThere(() => location.reload());
    });
    return () => stop?.();
  });
</script>

<svelte:head><title>{away ? 'Not reachable' : page.status} · Lodestone</title></svelte:head>

<main class="mx-auto max-w-xl px-6 py-24">
  <p class="flex items-center gap-2"><Mark /> Lodestone</p>
  {#if away}
    <h1 class="mt-8 text-2xl font-semibold">The server cannot be reached</h1>
    <p class="text-muted mt-2" role="status">
      This page was not opened before, so it has to be fetched. It opens by itself as soon as the server answers; what
      you changed elsewhere is kept in this browser.
    </p>
  {:else}
    <h1 class="mt-8 text-2xl font-semibold">{page.error?.message}</h1>
    <p class="text-muted mt-2">The server answered {page.status}.</p>
  {/if}
  <p class="mt-6 flex gap-2">
    {#if away}<button class="btn btn-primary btn-sm" onclick={() => location.reload()}>Try now</button>{/if}
    <a class={['btn btn-sm', away ? 'btn-ghost' : 'btn-primary']} href="/">All trains</a>
  </p>
</main>
