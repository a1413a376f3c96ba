<script lang="ts">
  import FirstLightStage from '$lib/firstlight/FirstLightStage.svelte';
</script>

<FirstLightStage />
