<script lang="ts">
  import JoinScreen from '$lib/owners/JoinScreen.svelte';
</script>

<JoinScreen />
