<script lang="ts">
  import TuneStage from '$lib/tune/TuneStage.svelte';
</script>

<TuneStage />
