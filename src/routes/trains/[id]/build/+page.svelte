<script lang="ts">
  import Workspace from '$lib/build/Workspace.svelte';
</script>

<Workspace />
