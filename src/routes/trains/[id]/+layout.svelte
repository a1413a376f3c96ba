<script lang="ts">
  import TrainFrame from './TrainFrame.svelte';

  const { data, children } = $props();
</script>

<!-- Another train is another session, not the same one with another document. -->
{#key data.train.id}
  <TrainFrame train={data.train} sharedBy={data.sharedBy}>{@render children()}</TrainFrame>
{/key}
