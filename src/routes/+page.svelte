<script lang="ts">
  import { goto, invalidate } from '$app/navigation';
  import { page } from '$app/state';
  import { TRAIN, apply, readTrain, startedFrom } from '@lodestone/core/train';
  import { isDeleted, isReadable, type ListedTrain, type StoredTrain } from '$lib/api/trains.ts';
  import { changeState, createTrain, sendSave } from '$lib/train/transport.ts';
  import ImportTrain from '$lib/trains/ImportTrain.svelte';
  import DeletedTrains from '$lib/trains/DeletedTrains.svelte';
  import { ORDERS, SEARCHED_FROM, shelved, tagsOf, type Order } from '$lib/trains/shelf.ts';
  import SharedTrains from '$lib/trains/SharedTrains.svelte';
  import TrainShelf from '$lib/trains/TrainShelf.svelte';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import DropZone from '$lib/ui/DropZone.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import TopBar from '$lib/ui/TopBar.svelte';
  import { takeHanded } from '$lib/ui/handover.ts';
  import FileUp from '@lucide/svelte/icons/file-up';
  import Moon from '@lucide/svelte/icons/moon';
  import Plus from '@lucide/svelte/icons/plus';
  import { onMount } from 'svelte';

  const { data } = $props();
  const notices = useNotices();
  const commands = useCommands();

  let shown = $state<StoredTrain['state']>(page.url.searchParams.get('show') === 'deleted' ? 'deleted' : 'active');
  let importing = $state(false);
  let importer: ImportTrain;
  let heading: HTMLElement;
  const listed = $derived(data.trains.filter(({ state }) => state === shown));
  const readable = $derived(listed.filter(isReadable));
  let query = $state('');
  let order = $state<Order>('recent');
  const searchable = $derived(readable.length >= SEARCHED_FROM);
  const tags = $derived(tagsOf(readable));
  let tag = $state<string>();
  /** A tag that no train has any more does not hide them all. */
  const tagged = $derived(tags.some(([each]) => each === tag) ? tag : undefined);
  const trains = $derived(searchable || tagged !== undefined ? shelved(readable, query, order, tagged) : readable);
  const deleted = $derived(listed.filter(isDeleted));
  const hasNights = $derived(data.trains.some((train) => isReadable(train) && train.document.nights !== undefined));
  const unreadable = $derived(listed.flatMap((train) => ('unreadable' in train ? [train] : [])));
  const nameOf = (train: ListedTrain): string => (isReadable(train) ? train.document.name : train.name);
  const count = (state: StoredTrain['state']) => data.trains.filter((train) => train.state === state).length;
  const STATES = [
    ['active', 'In use'],
    ['archived', 'Archived'],
    ['deleted', 'Deleted']
  ] as const;

  /** Whoever has been shown round, or did not want to be, is not asked again in this browser. */
  const TOURED = 'lodestone.toured';
  let offersTour = $state(false);
  const toShow = $derived(
    data.trains.filter(isReadable).find(({ state, document }) => {
      return state === 'active' && document.elements.some(({ kind }) => kind === 'gap');
    })
  );
  function toured() {
    localStorage.setItem(TOURED, 'yes');
    offersTour = false;
  }

  onMount(() => {
    offersTour = localStorage.getItem(TOURED) === null;
    const handed = takeHanded();
    if (handed) void importer.take(handed);
  });

  commands.register([
    { id: 'import', group: 'Trains', title: 'Import a train document', key: 'I', run: () => (importing = true) }
  ]);

  /** Does something on the server and shows the list as it is afterwards; a failure is told, not swallowed. */
  const attempt = (work: () => Promise<void>) =>
    notices.attempt(async () => {
      await work();
      await invalidate('lodestone:trains');
    });

  const rename = (train: StoredTrain, name: string) =>
    attempt(async () => {
      const document = apply(train.document, { op: 'set', at: TRAIN, path: ['name'], to: name });
      const reply = await sendSave(train.id, { saveId: crypto.randomUUID(), basedOn: train.revision.number, document });
      if (reply.kind === 'stored') return;
      if (reply.kind !== 'stale') notices.complain(`${train.document.name} was not renamed: ${reply.message}`);
      else notices.complain(`${train.document.name} was changed meanwhile; it is shown as it is now.`);
    });

  const duplicate = (train: StoredTrain) =>
    attempt(async () => {
      const name = `${train.document.name} copy`.slice(0, 200);
      await createTrain(crypto.randomUUID(), { ...train.document, name });
      notices.say(`${name} is first in the list.`);
    });

  /** Another train with the telescope, parts and settings of this one. */
  const startFrom = (train: StoredTrain) =>
    attempt(async () => {
      const names = data.trains.map(nameOf);
      const { id } = await createTrain(crypto.randomUUID(), startedFrom(train.document, names));
      await goto(`/trains/${id}/build`);
    });

  const WORDS = { active: 'brought back', archived: 'archived', deleted: 'deleted' } as const;
  const setState = (train: ListedTrain, state: ListedTrain['state']) =>
    attempt(async () => {
      const before = train.state;
      await changeState(train.id, state);
      // What had the focus leaves the list.
      heading.focus();
      notices.say(`${nameOf(train)} ${WORDS[state]}.`, {
        label: 'Undo',
        run: () => void attempt(async () => void (await changeState(train.id, before)))
      });
    });

  const openExample = () =>
    attempt(async () => {
      const { default: example } = await import('$demo/heron.json');
      const reading = readTrain(example);
      if (!reading.ok) return;
      const stored = await createTrain(crypto.randomUUID(), reading.document);
      await goto(`/trains/${stored.id}/build`);
    });
</script>

<svelte:head><title>Trains · Lodestone</title></svelte:head>
<TopBar here="trains" />
<DropZone words="Drop the train document here" ondrop={(files) => importer.take(files)} />

<main class="mx-auto max-w-6xl px-6 py-8">
  <div class="flex flex-wrap items-center justify-between gap-4">
    <h1 bind:this={heading} tabindex="-1" class="text-2xl font-semibold">Trains</h1>
    <div class="flex flex-wrap gap-2">
      {#if hasNights}<a class="btn btn-ghost btn-sm font-normal" href="/season"><Moon size={15} />Season</a>{/if}
      <button class="btn btn-outline btn-sm" onclick={() => (importing = true)}
        ><FileUp size={15} />Import a document</button
      >
      <a class="btn btn-primary btn-sm" href="/new"><Plus size={15} />Start a new train</a>
    </div>
  </div>

  {#if offersTour && toShow}
    <p class="panel mt-4 flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-2" data-tour-offer>
      <span class="mr-auto">New here? A tour of {toShow.document.name} takes two minutes.</span>
      <a class="btn btn-outline btn-sm" href="/trains/{toShow.id}/build?tour" onclick={toured}>Show me</a>
      <button class="btn btn-ghost btn-sm" onclick={toured}>No, thanks</button>
    </p>
  {/if}
  {#if data.trains.length > 0}
    <div class="mt-4 flex gap-1" role="group" aria-label="Which trains to show">
      {#each STATES as [state, words] (state)}
        <button
          class={['btn btn-xs font-normal', shown === state ? 'btn-neutral' : 'btn-ghost']}
          aria-pressed={shown === state}
          onclick={() => (shown = state)}
        >
          {words} <span>{count(state)}</span>
        </button>
      {/each}
    </div>
  {/if}

  {#if deleted.length > 0}
    <DeletedTrains
      trains={deleted}
      onback={(train) => void setState(train, 'active')}
      onpurged={async () => {
        heading.focus();
        await invalidate('lodestone:trains');
      }}
    />
  {:else if readable.length > 0}
    {#if searchable}
      <div class="mt-4 flex flex-wrap gap-3">
        <input
          class="input input-sm w-full sm:w-80"
          type="search"
          aria-label="Search the trains"
          placeholder="Name, telescope, part or note"
          autocomplete="off"
          spellcheck="false"
          bind:value={query}
        />
        <select class="select select-sm w-auto" aria-label="Order of the trains" bind:value={order}>
          {#each ORDERS as [each, words] (each)}<option value={each}>{words}</option>{/each}
        </select>
        <span class="text-muted self-center text-xs" aria-live="polite">
          {query.trim() === '' ? '' : `${trains.length} of ${readable.length}`}
        </span>
      </div>
    {/if}
    {#if tags.length > 0}
      <div class="mt-3 flex flex-wrap items-center gap-1" role="group" aria-label="Tags">
        {#each tags as [each, many] (each)}
          <button
            class={['btn btn-xs font-normal', each === tagged ? 'btn-neutral' : 'btn-ghost']}
            aria-pressed={each === tagged}
            data-tag={each}
            onclick={() => (tag = each === tagged ? undefined : each)}>{each} <span>{many}</span></button
          >
        {/each}
      </div>
    {/if}
    {#if trains.length > 0}
      <TrainShelf
        {trains}
        onrename={rename}
        onduplicate={duplicate}
        onstart={(train) => void startFrom(train)}
        ontag={(each) => (tag = each)}
        onstate={setState}
      />
    {:else}
      <p class="text-muted mt-10">
        No train{tagged === undefined ? '' : ` tagged ${tagged}`} has “{query.trim()}”.
        <button class="link-quiet" onclick={() => ((query = ''), (tag = undefined))}>Show all</button>
      </p>
    {/if}
  {:else if unreadable.length > 0}
    <!-- Told below. -->
  {:else if shown === 'active'}
    <section class="mt-16 max-w-xl">
      <h2 class="text-lg font-semibold">No trains yet</h2>
      <p class="text-muted mt-2">
        A train is everything between telescope and sensor: corrector, rings, guider, wheel, camera. Enter the corrector
        and the camera to get the spacing needed between them.
      </p>
      <div class="mt-6 flex flex-wrap gap-2">
        <a class="btn btn-primary" href="/new">Start a train</a>
        <button class="btn btn-outline" onclick={openExample}>Open a worked example</button>
      </div>
    </section>
  {:else}
    <p class="text-muted mt-10">{shown === 'archived' ? 'Nothing is archived.' : 'Nothing was deleted.'}</p>
  {/if}
  {#if unreadable.length > 0}
    <section class="mt-8" aria-label="Trains that cannot be read">
      <h2 class="font-semibold">Stored, but not readable by this version</h2>
      <ul class="mt-2 grid gap-2">
        {#each unreadable as train (train.id)}
          <li class="border-line flex flex-wrap items-center justify-between gap-3 border-t pt-2" data-unreadable>
            <div class="min-w-0">
              <p class="truncate font-semibold">{train.name}</p>
              <p class="text-warning text-xs wrap-anywhere">{train.unreadable}</p>
            </div>
            <a class="btn btn-outline btn-sm" href="/api/trains/{train.id}/document" download>Export it as it is</a>
          </li>
        {/each}
      </ul>
    </section>
  {/if}
  {#if data.shared && data.shared.length > 0 && shown === 'active'}<SharedTrains trains={data.shared} />{/if}
</main>

<ImportTrain
  bind:this={importer}
  bind:open={importing}
  onimported={(id, name) => {
    notices.say(`${name} was brought in.`);
    void goto(`/trains/${id}/build`);
  }}
/>
