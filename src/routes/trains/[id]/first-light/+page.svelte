<script lang="ts">
  import FirstLightStage from '$lib/first-light/FirstLightStage.svelte';
</script>

<FirstLightStage />
