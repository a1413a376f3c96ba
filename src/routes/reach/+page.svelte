<script lang="ts">
  import ReachScreen from '$lib/drawer/ReachScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';
</script>

<svelte:head><title>What the rings make · Lodestone</title></svelte:head>
<TopBar here="drawer" />
<ReachScreen />
