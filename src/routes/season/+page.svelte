<script lang="ts">
  import SeasonScreen from '$lib/log/SeasonScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  const { data } = $props();
</script>

<svelte:head><title>Season · Lodestone</title></svelte:head>
<TopBar here="trains" />
<SeasonScreen trains={data.trains} />
