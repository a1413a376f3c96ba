<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import ChangeOverScreen from '$lib/pack/ChangeOverScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  const { data } = $props();
  const named = (end: string) => page.url.searchParams.get(end) ?? undefined;
  const choose = (fromId: string, toId: string) =>
    void goto(`/changeover?${new URLSearchParams({ from: fromId, to: toId }).toString()}`, { keepFocus: true });
</script>

<svelte:head><title>Change over · Lodestone</title></svelte:head>
<TopBar here="trains" />
<main>
  <ChangeOverScreen trains={data.trains} fromId={named('from')} toId={named('to')} onchoose={choose} />
</main>
