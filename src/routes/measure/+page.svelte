<script lang="ts">
  import { browser } from '$app/environment';
  import MeasureScreen from '$lib/drawer/MeasureScreen.svelte';
  import { MEASURE } from '$lib/drawer/words.ts';
  import TopBar from '$lib/ui/TopBar.svelte';

  function wanted(): string[] {
    try {
      const stored: unknown = JSON.parse((browser && sessionStorage.getItem(MEASURE)) || '[]');
      return Array.isArray(stored) ? stored.filter((each) => typeof each === 'string') : [];
    } catch {
      return [];
    }
  }
  const partIds = wanted();
  const TURN = `${MEASURE}.turn`;
  const begin = (browser && sessionStorage.getItem(TURN)) || undefined;
</script>

<svelte:head><title>Measure · Lodestone</title></svelte:head>
<TopBar here="drawer" />
<MeasureScreen {partIds} {begin} onturn={(partId) => sessionStorage.setItem(TURN, partId)} />
