<script lang="ts">
  import { goto } from '$app/navigation';
  import { nearestQuery, type Part, type PartFilter } from '@lodestone/core/drawer';
  import { askFile } from '$lib/api/ask.ts';
  import { provideDrawer, Drawer } from '$lib/parts/drawer.svelte.ts';
  import DrawerAside from '$lib/parts/DrawerAside.svelte';
  import { tellOf } from '$lib/parts/told.svelte.ts';
  import SyncMark from '$lib/sync/SyncMark.svelte';
  import Later from '$lib/ui/Later.svelte';
  import Hatches from '$lib/rail/Hatches.svelte';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import ContextMenu from '$lib/ui/ContextMenu.svelte';
  import DropZone from '$lib/ui/DropZone.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import { counted } from '$lib/ui/size.ts';
  import Sheet, { type SheetLevel } from '$lib/ui/Sheet.svelte';
  import FileDown from '@lucide/svelte/icons/file-down';
  import FileUp from '@lucide/svelte/icons/file-up';
  import Plus from '@lucide/svelte/icons/plus';
  import Redo2 from '@lucide/svelte/icons/redo-2';
  import Ruler from '@lucide/svelte/icons/ruler';
  import ScanLine from '@lucide/svelte/icons/scan-line';
  import Search from '@lucide/svelte/icons/search';
  import Undo2 from '@lucide/svelte/icons/undo-2';
  import { takeHanded } from '$lib/ui/handover.ts';
  import { onMount, untrack } from 'svelte';
  import BulkBar from './BulkBar.svelte';
  import ImportParts from './ImportParts.svelte';
  import { Instrument } from '$lib/calipers/instrument.svelte.ts';
  import NewPart from './NewPart.svelte';
  import PartList from './PartList.svelte';
  import PartPanel from './PartPanel.svelte';
  import Places from './Places.svelte';
  import { DrawerView } from './view.svelte.ts';

  interface Props {
    /** Part to open, as its label's code names it. */
    partId: string | undefined;
    query: string;
    /** What the list is narrowed down to besides. */
    filter: PartFilter;
    /** The part that is open has changed, so that the address can follow. */
    onshown: (partId: string | undefined, query: string, filter: PartFilter) => void;
    onmeasure: (partIds: readonly string[]) => void;
    onexample: () => Promise<readonly Part[]>;
  }
  const { partId, query, filter, onshown, onmeasure, onexample }: Props = $props();
  const drawer = provideDrawer(new Drawer());
  const view = new DrawerView(drawer);
  const instrument = new Instrument();
  const notices = useNotices();
  const commands = useCommands();

  untrack(() => {
    view.current = partId;
    view.query = query;
    view.filter = filter;
  });
  onMount(() => {
    instrument.recall();
    const handed = takeHanded();
    if (handed) void importer.take(handed);
    return drawer.open();
  });

  let search: HTMLInputElement;
  let importer: ImportParts;
  let importing = $state(false);
  let adding = $state(false);
  let like = $state.raw<Part>();
  let scanning = $state(false);
  const scanner = () => import('$lib/labels/ScanLabel.svelte');
  function show(part: Part) {
    view.query = '';
    view.filter = {};
    view.current = part.partId;
    level = 'half';
    return undefined;
  }
  let placesOpen = $state(false);
  let level = $state<SheetLevel>('peek');
  let partMenu = $state<ContextMenu>();

  const owned = $derived(view.current === undefined ? undefined : drawer.byId.get(view.current));
  const nearest = $derived(view.shown.length === 0 ? nearestQuery(drawer.index, view.query) : undefined);
  const places = $derived([...new Set(drawer.plain.map(({ location }) => location))].filter(Boolean).sort());
  const chosen = $derived([...view.chosen].flatMap((id) => drawer.byId.get(id)?.part ?? []));

  $effect(() => onshown(view.current, view.query, view.filter));
  tellOf(drawer, notices);

  const focusList = () => document.getElementById('part-list')?.focus();
  const openPanel = () =>
    document.getElementById('part-panel')?.querySelector<HTMLElement>('input, select, button')?.focus();

  function add(from?: Part) {
    like = from;
    adding = true;
  }

  function remove() {
    const { subjects } = view;
    if (subjects.length === 0) return;
    const held = subjects.find((part) => drawer.holders(part.partId).length > 0);
    if (held) {
      const train = drawer.holders(held.partId)[0]!.trainName;
      return notices.complain(`${held.partId} is in ${train}, which is put together. Take that apart first.`);
    }
    const planned = [...new Set(subjects.flatMap((part) => drawer.usesOf(part.partId).map((use) => use.trainName)))];
    const what = subjects.length === 1 ? subjects[0]!.partId : `${subjects.length} parts`;
    const index = view.currentIndex;
    drawer.change(
      `Delete ${what}`,
      [],
      subjects.map((part) => part.partId)
    );
    view.chosen.clear();
    view.current = view.shown[Math.min(index, view.shown.length - 1)]?.partId;
    const kept = planned.length > 0 ? ` ${planned.join(', ')} keep${planned.length === 1 ? 's' : ''} what it was.` : '';
    notices.sayDone(drawer, `${what} deleted.${kept}`, () => (view.current = subjects[0]?.partId));
    focusList();
  }

  const MOST_LABELS = 1000;

  const labels = () =>
    notices.attempt(async () => {
      const { subjects } = view;
      if (subjects.length === 0) return notices.complain('Choose the parts to label.');
      if (subjects.length > MOST_LABELS) {
        return notices.complain(
          `Labels are made for ${MOST_LABELS} parts at once, and ${subjects.length} are chosen. Choose fewer.`
        );
      }
      saveFile(
        await askFile('/api/drawer/labels', { partIds: subjects.map((part) => part.partId) }),
        `labels of ${counted(subjects.length, 'part')}.pdf`
      );
    });

  const measure = () => onmeasure((view.chosen.size > 0 ? chosen : view.shown).map((part) => part.partId));

  const tell = (message: string | undefined) => notices.complain(message);

  async function example() {
    tell(drawer.change('Fill the drawer with the example', await onexample()));
  }

  const hasCurrent = () => owned !== undefined;
  commands.register([
    { id: 'search', group: 'Drawer', title: 'Search the drawer', key: '/', run: () => search.select() },
    { id: 'down', group: 'Drawer', title: 'Next part', key: 'ArrowDown', otherKey: 'J', run: () => view.walk(1) },
    { id: 'up', group: 'Drawer', title: 'Previous part', key: 'ArrowUp', otherKey: 'K', run: () => view.walk(-1) },
    {
      id: 'choose',
      group: 'Drawer',
      title: 'Choose the part, or not',
      key: 'X',
      enabled: hasCurrent,
      run: () => view.toggle(view.current ?? '')
    },
    {
      id: 'choose-all',
      group: 'Drawer',
      title: 'Choose all that are shown',
      key: 'Ctrl+A',
      run: () => view.chooseAll()
    },
    { id: 'edit', group: 'Drawer', title: 'Go to the part’s fields', key: 'E', enabled: hasCurrent, run: openPanel },
    { id: 'list', group: 'Drawer', title: 'Go to the list', key: 'G', run: focusList },
    { id: 'add-part', group: 'Drawer', title: 'A new part', key: 'N', run: () => add() },
    {
      id: 'another',
      group: 'Drawer',
      title: 'Another part like this',
      key: 'C',
      enabled: hasCurrent,
      run: () => add(owned?.part)
    },
    { id: 'reach', group: 'Drawer', title: 'What the rings make', run: () => void goto('/reach') },
    { id: 'measure', group: 'Drawer', title: 'Measure what is shown, part by part', key: 'M', run: measure },
    {
      id: 'reading',
      group: 'Drawer',
      title: 'Type a reading of this part',
      key: 'R',
      enabled: hasCurrent,
      run: () => document.getElementById('reading')?.focus()
    },
    {
      id: 'scan',
      group: 'Drawer',
      title: 'Read a label with the camera',
      key: 'Shift+L',
      run: () => (scanning = true)
    },
    { id: 'labels', group: 'Drawer', title: 'Print labels', key: 'B', run: () => void labels() },
    { id: 'delete-part', group: 'Drawer', title: 'Delete', key: 'Delete', within: '#part-list', run: remove },
    {
      id: 'undo',
      group: 'Drawer',
      title: 'Undo',
      key: 'Ctrl+Z',
      enabled: () => drawer.undoLabel !== undefined,
      run: () => tell(drawer.undo())
    },
    {
      id: 'redo',
      group: 'Drawer',
      title: 'Redo',
      key: 'Ctrl+Shift+Z',
      otherKey: 'Ctrl+Y',
      enabled: () => drawer.redoLabel !== undefined,
      run: () => tell(drawer.redo())
    },
    { id: 'import-parts', group: 'Drawer', title: 'Import parts', key: 'I', run: () => (importing = true) }
  ]);

  function onSearchKey(event: KeyboardEvent) {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      view.walk(event.key === 'ArrowDown' ? 1 : -1);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      if (view.currentIndex < 0) view.walk(1);
      focusList();
    } else if (event.key === 'Escape') {
      if (view.query === '') search.blur();
      view.query = '';
    }
  }
</script>

<Hatches />
<DropZone words="Drop a CSV or JSON file of parts here" ondrop={(files) => importer.take(files)} />

<div class="drawer-screen">
  <header class="area-head flex flex-wrap items-center gap-2">
    <h1 class="mr-2 text-xl font-semibold">Drawer</h1>
    <label class="input input-sm w-full max-w-sm">
      <Search size={14} class="text-muted" />
      <input
        bind:this={search}
        bind:value={view.query}
        type="search"
        aria-label="Search the drawer"
        placeholder="m48 f 16.5, tin 2, in Heron"
        autocomplete="off"
        spellcheck="false"
        onkeydown={onSearchKey}
      />
      <kbd class="kbd kbd-xs">/</kbd>
    </label>
    <span class="text-muted text-xs whitespace-nowrap" aria-live="polite">
      {view.shown.length} of {drawer.parts.length}
    </span>
    {#if drawer.isRead}
      <SyncMark status={drawer.status} aside={drawer.aside.length} onretry={() => drawer.saveNow()} />
    {/if}
    {#if drawer.unread !== undefined && drawer.isRead}
      <span class="text-warning text-xs" role="status" title={drawer.unread}>may be out of date</span>
    {/if}
    {#if drawer.unreadable.length > 0}
      <span
        class="text-warning text-xs"
        role="status"
        title={drawer.unreadable.map(({ message }) => message).join('\n')}
      >
        {drawer.unreadable.map(({ partId }) => partId).join(', ')} cannot be read by this version; the JSON export has {drawer
          .unreadable.length === 1
          ? 'it'
          : 'them'}
      </span>
    {/if}
    <div class="ml-auto flex flex-wrap gap-1">
      <button
        class="btn btn-ghost btn-sm btn-square"
        disabled={drawer.undoLabel === undefined}
        title="Undo {drawer.undoLabel ?? ''} (Ctrl Z)"
        aria-label="Undo {drawer.undoLabel ?? ''}"
        onclick={() => tell(drawer.undo())}><Undo2 size={15} /></button
      >
      <button
        class="btn btn-ghost btn-sm btn-square"
        disabled={drawer.redoLabel === undefined}
        title="Redo {drawer.redoLabel ?? ''} (Ctrl Shift Z)"
        aria-label="Redo {drawer.redoLabel ?? ''}"
        onclick={() => tell(drawer.redo())}><Redo2 size={15} /></button
      >
      <button class="btn btn-ghost btn-sm" onclick={() => (importing = true)}><FileUp size={15} />Import</button>
      <a class="btn btn-ghost btn-sm" href="/api/drawer/csv" download><FileDown size={15} />CSV</a>
      <a class="btn btn-ghost btn-sm" href="/api/drawer/document" download><FileDown size={15} />JSON</a>
      <a
        class="btn btn-ghost btn-sm font-normal"
        href="/reach"
        title="Which lengths the rings make, and which they do not">Lengths</a
      >
      <button
        class="btn btn-ghost btn-sm btn-square"
        title="Read a label with the camera (Shift L)"
        aria-label="Read a label"
        onclick={() => (scanning = true)}><ScanLine size={15} /></button
      >
      <button class="btn btn-outline btn-sm" onclick={measure} disabled={view.shown.length === 0}
        ><Ruler size={15} />Measure</button
      >
      <button class="btn btn-primary btn-sm" onclick={() => add()}><Plus size={15} />New part</button>
    </div>
  </header>

  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <nav
    class={['area-places min-h-0 overflow-y-auto', !placesOpen && 'folded']}
    aria-label="Places and kinds"
    tabindex="0"
  >
    <button class="btn btn-ghost btn-xs fold" aria-expanded={placesOpen} onclick={() => (placesOpen = !placesOpen)}>
      Places and kinds
    </button>
    <div class="content"><Places {view} /></div>
  </nav>

  <section class="panel area-list flex min-h-0 flex-col overflow-hidden" aria-label="Parts of the drawer">
    {#if !drawer.isRead}
      <p class="text-muted p-6" role="status">
        {drawer.isAway ? 'The drawer cannot be reached; trying again …' : 'Reading the drawer …'}
      </p>
    {:else if drawer.parts.length === 0}
      <div class="max-w-lg p-8">
        <h2 class="text-lg font-semibold">The drawer is empty</h2>
        <p class="text-muted mt-2">
          Everything you own goes here: rings, adapters, shims, correctors, cameras, with what each screws to and how
          long it is. Then a train can be filled from it, and a ring that is measured once is right everywhere.
        </p>
        <div class="mt-5 flex flex-wrap gap-2">
          <button class="btn btn-primary" onclick={() => add()}>Put the first part in</button>
          <button class="btn btn-outline" onclick={() => (importing = true)}>Import a CSV file</button>
          <button class="btn btn-outline" onclick={example}>Fill it with the example</button>
        </div>
      </div>
    {:else}
      <PartList
        {view}
        onopen={openPanel}
        onpicked={() => {
          if (level === 'peek') level = 'half';
        }}
        onmenu={(event, of) => partMenu?.open(event, of)}
      />
      <ContextMenu
        bind:this={partMenu}
        label="What can be done with the part"
        ids={['edit', 'choose', 'reading', 'another', 'labels', 'delete-part']}
      />
      {#if view.shown.length === 0}
        <p class="text-muted p-6">
          Nothing is like that.
          {#if nearest !== undefined}
            Did you mean
            <button class="link-quiet" onclick={() => (view.query = nearest)}>{nearest}</button>?
          {/if}
          <button
            class="link-quiet"
            onclick={() => {
              view.query = '';
              view.filter = {};
            }}>Show all</button
          >
        </p>
      {/if}
    {/if}
    {#if chosen.length > 0}
      <BulkBar
        parts={chosen}
        onclear={() => view.chosen.clear()}
        onlabels={labels}
        onremove={remove}
        onmeasure={measure}
      />
    {/if}
  </section>

  <Sheet id="part-panel" label="Part" title={owned?.part.partId ?? 'none chosen'} class="area-part" bind:level>
    {#if owned}
      {#key view.current}
        <PartPanel
          {owned}
          {instrument}
          {places}
          onduplicate={() => add(owned.part)}
          onremove={remove}
          onlabel={labels}
        />
      {/key}
    {:else if view.current !== undefined && drawer.isRead}
      <p class="text-muted">There is no part {view.current}.</p>
    {:else}
      <p class="text-muted">
        Choose a part to see what it screws to, what it measures and where it is. <kbd class="kbd kbd-xs">↓</kbd> walks
        through the list, <kbd class="kbd kbd-xs">E</kbd> goes to the fields, <kbd class="kbd kbd-xs">?</kbd> lists the keys.
      </p>
    {/if}
  </Sheet>
</div>

<DrawerAside />
<NewPart
  bind:open={adding}
  {like}
  onmade={(made) => {
    view.query = '';
    view.filter = {};
    view.current = made.at(-1);
  }}
/>
<ImportParts bind:this={importer} bind:open={importing} onimported={(words) => notices.sayDone(drawer, words)} />

{#if scanning}
  <Later
    load={scanner}
    of={{
      hint: 'Hold the code of a part’s label before the camera: the part is opened.',
      onfound: show,
      onclose: () => (scanning = false)
    }}
  />
{/if}

<style>
  .drawer-screen {
    display: grid;
    gap: 0.75rem;
    padding: 0.6rem 0.75rem 0.75rem;
    grid-template-columns: minmax(0, 1fr);
    grid-template-areas: 'head' 'places' 'list';
  }
  .area-head {
    grid-area: head;
  }
  .area-places {
    grid-area: places;
  }
  .area-list {
    grid-area: list;
    height: 72dvh;
    margin-bottom: 3.25rem;
  }
  .folded .content {
    display: none;
  }
  @media (min-width: 64rem) {
    .drawer-screen {
      height: calc(100dvh - 2.75rem);
      grid-template-columns: 10.5rem minmax(0, 1fr) 20rem;
      grid-template-rows: auto minmax(0, 1fr);
      grid-template-areas: 'head head head' 'places list part';
    }
    .area-list {
      height: auto;
      margin-bottom: 0;
    }
    .drawer-screen > :global(.area-part) {
      grid-area: part;
    }
    .fold {
      display: none;
    }
    .folded .content {
      display: block;
    }
  }
</style>
