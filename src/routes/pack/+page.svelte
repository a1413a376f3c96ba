<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import PackScreen from '$lib/pack/PackScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  const { data } = $props();
  const choose = (trainIds: readonly string[]) =>
    void goto(`/pack?${trainIds.map((id) => `of=${encodeURIComponent(id)}`).join('&')}`, {
      keepFocus: true,
      noScroll: true
    });
</script>

<svelte:head><title>Packing · Lodestone</title></svelte:head>
<TopBar here="trains" />
<main>
  <PackScreen trains={data.trains} chosen={page.url.searchParams.getAll('of')} onchoose={choose} />
</main>
