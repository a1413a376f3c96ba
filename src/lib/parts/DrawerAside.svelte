<script lang="ts">
  import SetAside from '$lib/sync/SetAside.svelte';
  import { useDrawer } from './drawer.svelte.ts';

  const drawer = useDrawer();
</script>

<SetAside
  aside={drawer.aside}
  oninsist={(entry) => drawer.insist(entry)}
  onletgo={(entry) => drawer.letGo(entry)}
  insistWords={(entry) => (drawer.isNumberTaken(entry) ? 'Add it under the next free number' : undefined)}
/>
