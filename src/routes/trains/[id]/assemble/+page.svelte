<script lang="ts">
  import AssembleStage from '$lib/assemble/AssembleStage.svelte';
</script>

<AssembleStage />
