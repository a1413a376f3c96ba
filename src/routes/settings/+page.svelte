<script lang="ts">
  import SettingsScreen from '$lib/settings/SettingsScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  const { data } = $props();
</script>

<svelte:head><title>Settings · Lodestone</title></svelte:head>
<TopBar />
<SettingsScreen room={data.room} kept={data.kept} who={data.who} />
