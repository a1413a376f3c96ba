<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { Assembled, provideAssembled } from '$lib/workbench/assembled.svelte.ts';
  import AssemblyMark from '$lib/workbench/AssemblyMark.svelte';
  import { provideEditing } from '$lib/element/editing.ts';
  import { Drawer, provideDrawer } from '$lib/parts/drawer.svelte.ts';
  import { tellOf } from '$lib/parts/told.svelte.ts';
  import DrawerAside from '$lib/parts/DrawerAside.svelte';
  import SyncMark from '$lib/sync/SyncMark.svelte';
  import TrainAside from '$lib/workbench/TrainAside.svelte';
  import { provideTrain } from '$lib/train/context.ts';
  import { TrainSession } from '$lib/train/session.svelte.ts';
  import { Frames, droppedFiles, provideFrames } from '$lib/frames/frames.svelte.ts';
  import { Sweep, provideSweep } from '$lib/frames/sweep.svelte.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import TrainMenu from '$lib/share/TrainMenu.svelte';
  import { beganKept, useOffline } from '$lib/ui/offline/offline.svelte.ts';
  import DropZone from '$lib/ui/DropZone.svelte';
  import { handOver, pageFor } from '$lib/ui/handover.ts';
  import { STAGES, STAGE_OF_FRAMES, looksAtFrames, stageAt } from '$lib/stages.ts';
  import TopBar from '$lib/ui/TopBar.svelte';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { rowOrderOf } from '@lodestone/core/train';
  import { onMount, untrack, type Snippet } from 'svelte';

  interface Props {
    train: StoredTrain;
    /** Whose it is, where it is another owner's. */
    sharedBy: string | undefined;
    children: Snippet;
  }
  const { train, sharedBy, children }: Props = $props();
  const session = provideTrain(new TrainSession(untrack(() => train)));
  provideEditing({
    dispatch: (operation, label, run) => session.dispatch(operation, label, run),
    get focalLengthMm() {
      return session.document.host.focalLengthMm;
    }
  });
  const drawer = provideDrawer(new Drawer());
  session.drawerNumber = () => drawer.number;
  const notices = useNotices();
  const display = useDisplay();
  tellOf(drawer, notices);
  provideAssembled(new Assembled(session, drawer, notices, () => display.unit));

  const keepAsTrain = () => notices.attempt(async () => goto(`/trains/${await session.keepAsideAsTrain()}/build`));
  onMount(() => session.open());
  // What was kept of the page may be older than what was kept of the train.
  const offline = useOffline();
  onMount(() => {
    if (beganKept() || offline.keptAt !== undefined) void session.load();
  });
  // Numbers of parts are those of its owner's drawer: one's own has others under them.
  onMount(() => (sharedBy === undefined ? drawer.open() : undefined));
  const rowOrder = $derived(rowOrderOf(session.document));
  const frames = provideFrames(new Frames(session.id, () => rowOrder));
  $effect(() => {
    void rowOrder;
    untrack(() => frames.turn());
  });
  provideSweep(new Sweep(session, frames));
  onMount(() => frames.listen());

  /** Frames may be dropped on any page of the train, and what is for another page finds its way. */
  async function dropped(list: FileList, transfer: DataTransfer) {
    const looking = droppedFiles(transfer);
    const [first] = list;
    const path = first && (await pageFor(first));
    if (path) {
      handOver(list);
      return goto(path);
    }
    const files = await looking;
    if (files.length === 0) return notices.complain('There is no frame in this folder: FITS, TIFF and PNG are read.');
    frames.add(files);
    if (!looksAtFrames(here)) await goto(`/trains/${session.id}/${STAGE_OF_FRAMES}`);
  }

  const here = $derived(stageAt(page.url.pathname));

  useCommands().register(
    STAGES.map(({ id, title }, index) => ({
      id: `stage-${id}`,
      group: 'Train',
      title: `Go to ${title}`,
      key: `Alt+${index + 1}`,
      run: () => void goto(`/trains/${session.id}/${id}`)
    }))
  );
</script>

<svelte:head><title>{here ? `${here.title}, ` : ''}{session.document.name} · Lodestone</title></svelte:head>

{#snippet stages(looks: string)}
  <nav aria-label="Stages" class={['flex min-w-0', looks]}>
    {#each STAGES as { id, title } (id)}
      <a
        href="/trains/{session.id}/{id}"
        aria-current={here?.id === id ? 'step' : undefined}
        class={[
          'flex items-center justify-center border-b-2 px-2 whitespace-nowrap max-md:flex-1 max-md:px-1',
          here?.id === id ? 'border-primary font-semibold' : 'text-muted border-transparent'
        ]}
      >
        {title}
      </a>
    {/each}
  </nav>
{/snippet}

<TopBar>
  <h1 class="max-w-56 min-w-0 truncate font-medium">{session.document.name}</h1>
  <TrainMenu isGuest={sharedBy !== undefined} />
  {@render stages('max-md:hidden h-full')}
  {#if sharedBy === undefined}<AssemblyMark />{/if}
  <SyncMark
    status={session.status}
    aside={session.aside.length}
    savedAt={session.savedAt}
    onretry={() => session.saveNow()}
  />
</TopBar>
<!-- On a phone they have a line of their own. -->
{@render stages('border-line h-11 overflow-x-auto border-b px-1 text-sm md:hidden')}
{#if sharedBy !== undefined}
  <p class="bg-base-200 border-line border-b px-4 py-1 text-sm" data-shared-by={sharedBy}>
    This train is {sharedBy}’s. You change it for both of you; {sharedBy}’s drawer and records are not yours to change.
  </p>
{/if}
{#if session.deleted}
  <div class="bg-warning text-warning-content flex flex-wrap items-center justify-between gap-x-4 gap-y-1 px-4 py-1.5">
    <span>This train was deleted meanwhile. What you change here is kept until it is brought back.</span>
    <button class="btn btn-sm" onclick={() => void notices.attempt(() => session.bringBack())}>Bring it back</button>
  </div>
{/if}
<TrainAside {session} onkeep={() => void keepAsTrain()} />
<DrawerAside />
<main>{@render children()}</main>
<DropZone
  words="Drop test frames here, or a train, a drawer or a table of parts"
  ondrop={(files, transfer) => void dropped(files, transfer)}
/>
