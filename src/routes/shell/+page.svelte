<script lang="ts">
  import TopBar from '$lib/ui/TopBar.svelte';
</script>

<svelte:head><title>Lodestone</title></svelte:head>
<TopBar />
