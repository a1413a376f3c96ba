<script lang="ts">
  import AccountScreen from '$lib/owners/AccountScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  const { data } = $props();
</script>

<svelte:head><title>Account · Lodestone</title></svelte:head>
<TopBar />
<AccountScreen account={data.account} />
