<script lang="ts">
  import Tour from '$lib/ui/Tour.svelte';
  import { BUILD_TOUR } from './tour.ts';

  const { onend }: { onend: () => void } = $props();
</script>

<Tour steps={BUILD_TOUR} {onend} />
