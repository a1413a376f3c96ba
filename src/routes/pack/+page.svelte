<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import PackScreen from '$lib/pack/PackScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  const { data } = $props();
  function choose(trainIds: readonly string[], isByPlace: boolean) {
    const said = new URLSearchParams([...trainIds.map((id) => ['of', id]), ...(isByPlace ? [['by', 'place']] : [])]);
    void goto(`/pack?${said.toString()}`, { keepFocus: true, noScroll: true });
  }
</script>

<svelte:head><title>Packing · Lodestone</title></svelte:head>
<TopBar here="trains" />
<main>
  <PackScreen
    trains={data.trains}
    chosen={page.url.searchParams.getAll('of')}
    isByPlace={page.url.searchParams.get('by') === 'place'}
    onchoose={choose}
  />
</main>
