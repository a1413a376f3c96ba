<script lang="ts">
  import { goto, replaceState } from '$app/navigation';
  import { page } from '$app/state';
  import { readDrawer, type PartFilter } from '@lodestone/core/drawer';
  import { MEASURE } from '$lib/drawer/words.ts';
  import DrawerScreen from '$lib/drawer/DrawerScreen.svelte';
  import TopBar from '$lib/ui/TopBar.svelte';

  /** The address says what is open, so that it can be kept, and a reload comes back to it. */
  let shown = '';
  function follow(partId: string | undefined, query: string, filter: PartFilter) {
    const said = new URLSearchParams({ ...(query.trim() === '' ? {} : { q: query.trim() }), ...filter });
    const words = said.size === 0 ? '' : `?${said.toString()}`;
    const address = `/drawer${partId === undefined ? '' : `/${encodeURIComponent(partId)}`}${words}`;
    // The first time, the router is not ready and the address is right already.
    if (shown !== '' && shown !== address) replaceState(address, {});
    shown = address;
  }

  /** Filters of the address; words that are none of ours are left out. */
  function filterOf(said: URLSearchParams): PartFilter {
    const filter: PartFilter = {};
    for (const key of ['kind', 'thread', 'state', 'location', 'trainId'] as const) {
      const option = said.get(key);
      if (option) filter[key] = option;
    }
    const measured = said.get('measured');
    if (measured === 'yes' || measured === 'no') filter.measured = measured;
    return filter;
  }

  /** Too many for an address; a reload in the middle finds them again. */
  function measure(partIds: readonly string[]) {
    sessionStorage.setItem(MEASURE, JSON.stringify(partIds));
    void goto('/measure');
  }

  async function example() {
    const { default: file } = await import('$demo/drawer.json');
    const reading = readDrawer(file);
    return reading.ok ? reading.document : [];
  }
</script>

<svelte:head><title>Drawer · Lodestone</title></svelte:head>
<TopBar here="drawer" />
<main>
  <DrawerScreen
    partId={page.params.partId}
    query={page.url.searchParams.get('q') ?? ''}
    filter={filterOf(page.url.searchParams)}
    onshown={follow}
    onmeasure={measure}
    onexample={example}
  />
</main>
