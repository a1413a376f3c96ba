<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import CompareScreen from '$lib/compare/CompareScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  const { data } = $props();

  /** The address says what is compared: it can be kept, and sent. */
  function choose(keys: readonly string[]) {
    const said = keys.map((key) => `of=${encodeURIComponent(key)}`).join('&');
    void goto(`${page.url.pathname}?${said}`, { keepFocus: true, noScroll: true });
  }
</script>

<svelte:head><title>Compare · Lodestone</title></svelte:head>
<TopBar here="trains" />
<main>
  <CompareScreen compared={data.compared} missing={data.missing} choices={data.choices} onchoose={choose} />
</main>
