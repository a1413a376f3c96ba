<script lang="ts">
  import LogStage from '$lib/log/LogStage.svelte';
</script>

<LogStage />
