<script lang="ts">
  import SignInScreen from '$lib/owners/SignInScreen.svelte';

  const { data } = $props();
</script>

<SignInScreen to={data.to} />
