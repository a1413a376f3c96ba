<script lang="ts">
  import BuildStage from '$lib/build/BuildStage.svelte';
</script>

<BuildStage />
