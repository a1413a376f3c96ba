<script lang="ts">
  import CheckStage from '$lib/check/CheckStage.svelte';
</script>

<CheckStage />
