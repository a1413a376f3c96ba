<script lang="ts">
  import { explain, findElement, isSeated } from '@lodestone/core';
  import LedgerTable from '$lib/rail/LedgerTable.svelte';
  import Rail from '$lib/rail/Rail.svelte';
  import Staircase from '$lib/rail/Staircase.svelte';
  import { stairsOf } from '$lib/rail/staircase.ts';
  import { RailView } from '$lib/rail/view.svelte.ts';
  import { zoomControl } from '$lib/rail/zoom.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { provideWhy } from '$lib/ui/why.svelte.ts';
  import WhyPopover from '$lib/ui/WhyPopover.svelte';
  import { ChartNoAxesGantt, Maximize, Minus, Plus, Redo2, Table2, Undo2 } from '@lucide/svelte';
  import AddPart from './AddPart.svelte';
  import ElementInspector from './ElementInspector.svelte';
  import { Finder } from './finder.svelte.ts';
  import FinderPanel from './FinderPanel.svelte';
  import HostInspector from './HostInspector.svelte';
  import JointInspector from './JointInspector.svelte';
  import Verdict from './Verdict.svelte';
  import { onDestroy, tick } from 'svelte';

  const train = useTrain();
  const notices = useNotices();
  const commands = useCommands();
  const why = provideWhy();

  const finder = new Finder(train, useDrawer());
  onDestroy(() => finder.hide());
  const view = new RailView(() => train.layout);
  const zoom = zoomControl(view);
  let asTable = $state(false);
  let adding = $state(false);
  let target = $state.raw<{ before: string } | { replace: string }>();

  const { selection } = $derived(train);
  const selectedId = $derived('id' in selection ? selection.id : undefined);
  const element = $derived(selectedId === undefined ? undefined : findElement(train.document, selectedId));
  const joint = $derived(
    selection.kind === 'joint'
      ? train.assessment.ledger.joints.find(({ cameraId }) => cameraId === selection.id)
      : undefined
  );
  const stairs = $derived(stairsOf(train.shown, train.assessment, train.layout));
  const explanation = $derived(why.subject && explain(train.shown, train.assessment.ledger, why.subject));

  const tell = (refusal: string | undefined) => {
    if (refusal) notices.complain(refusal);
  };

  function addAt(jointId: string) {
    target = { before: jointId };
    adding = true;
  }

  /** At a joint: there. At an element: on its camera side. */
  function add() {
    if (selection.kind === 'joint') return addAt(selection.id);
    const { elements } = train.document;
    const index = elements.findIndex(({ id }) => id === selectedId);
    addAt((elements[index + 1] ?? elements.at(-1)!).id);
  }

  /** At a joint or an open place: there. At a part: at the joint on its camera side. */
  async function fromDrawer() {
    if (selection.kind !== 'joint' && element?.kind !== 'gap') {
      const { elements } = train.document;
      const index = elements.findIndex(({ id }) => id === selectedId);
      const next = elements.slice(index + 1).find(isSeated) ?? elements.at(-1)!;
      train.select(next.kind === 'gap' ? { kind: 'element', id: next.id } : { kind: 'joint', id: next.id });
      await tick();
    }
    document.getElementById('from-drawer')?.focus();
  }

  function replace() {
    if (selection.kind !== 'element') return;
    target = { replace: selection.id };
    adding = true;
  }

  function toggleProportions() {
    view.trueProportions = !view.trueProportions;
    zoom.reset();
    if (!view.trueProportions) return;
    // True proportions are only of use when the whole height is seen.
    const heightPx = document.getElementById('rail')?.clientHeight ?? 330;
    const across = (heightPx - 124) / 2 / train.layout.maxRadiusMm;
    view.zoom = Math.min(1, across / view.fitPxPerMm);
    view.shiftPx = (view.widthPx * (1 - view.zoom)) / 2;
  }

  const isElement = () => selection.kind === 'element';
  commands.register([
    {
      id: 'undo',
      group: 'Edit',
      title: 'Undo',
      key: 'Ctrl+Z',
      enabled: () => train.undoLabel !== undefined,
      run: () => tell(train.undo())
    },
    {
      id: 'redo',
      group: 'Edit',
      title: 'Redo',
      key: 'Ctrl+Shift+Z',
      otherKey: 'Ctrl+Y',
      enabled: () => train.redoLabel !== undefined,
      run: () => tell(train.redo())
    },
    { id: 'find', group: 'Edit', title: 'Find the stack that fills the gaps', key: 'F', run: () => finder.show() },
    {
      id: 'close-finder',
      group: 'Edit',
      title: 'Close the finder',
      key: 'Escape',
      enabled: () => finder.open,
      run: () => finder.hide()
    },
    { id: 'add', group: 'Edit', title: 'Add a part here', key: 'A', otherKey: 'Insert', run: add },
    {
      id: 'from-drawer',
      group: 'Edit',
      title: 'Place a part from the drawer here',
      key: 'D',
      run: () => void fromDrawer()
    },
    { id: 'replace', group: 'Edit', title: 'Replace the part', key: 'R', enabled: isElement, run: replace },
    {
      id: 'remove',
      group: 'Edit',
      title: 'Remove the part',
      key: 'Delete',
      otherKey: 'Backspace',
      enabled: isElement,
      run: () => tell(train.removeSelected())
    },
    {
      id: 'skyward',
      group: 'Edit',
      title: 'Move the part toward the sky',
      key: 'Alt+ArrowLeft',
      enabled: isElement,
      run: () => tell(train.shift(-1))
    },
    {
      id: 'camward',
      group: 'Edit',
      title: 'Move the part toward the camera',
      key: 'Alt+ArrowRight',
      enabled: isElement,
      run: () => tell(train.shift(1))
    },
    {
      id: 'rail',
      group: 'Rail',
      title: 'Go to the rail',
      key: 'G',
      run: () => document.getElementById('rail')?.focus()
    },
    { id: 'next', group: 'Rail', title: 'Next part or joint', key: 'ArrowRight', run: () => train.walk(1) },
    { id: 'previous', group: 'Rail', title: 'Previous part or joint', key: 'ArrowLeft', run: () => train.walk(-1) },
    { id: 'host', group: 'Rail', title: 'Show the host', key: 'H', run: () => train.select({ kind: 'host' }) },
    { id: 'zoom-in', group: 'Rail', title: 'Zoom in', key: '+', otherKey: '=', run: () => zoom.by(1.4) },
    { id: 'zoom-out', group: 'Rail', title: 'Zoom out', key: '-', run: () => zoom.by(1 / 1.4) },
    { id: 'fit', group: 'Rail', title: 'Show the whole train', key: '0', run: zoom.reset },
    { id: 'true', group: 'Rail', title: 'True proportions', key: 'P', run: toggleProportions },
    { id: 'table', group: 'Rail', title: 'Ledger as table or staircase', key: 'L', run: () => (asTable = !asTable) }
  ]);
</script>

<div class="workspace">
  <div class="area-verdict"><Verdict {finder} /></div>

  <section class="panel area-rail relative overflow-hidden" aria-label="Rail">
    <div class="absolute top-1 left-1.5 z-10 flex">
      <button
        class="btn btn-ghost btn-xs btn-square"
        disabled={train.undoLabel === undefined}
        title="Undo {train.undoLabel ?? ''} (Ctrl Z)"
        aria-label="Undo {train.undoLabel ?? ''}"
        onclick={() => tell(train.undo())}
      >
        <Undo2 size={14} />
      </button>
      <button
        class="btn btn-ghost btn-xs btn-square"
        disabled={train.redoLabel === undefined}
        title="Redo {train.redoLabel ?? ''} (Ctrl Shift Z)"
        aria-label="Redo {train.redoLabel ?? ''}"
        onclick={() => tell(train.redo())}
      >
        <Redo2 size={14} />
      </button>
      <span class="border-line mx-1 my-1 border-l"></span>
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Zoom in (+)"
        aria-label="Zoom in"
        onclick={() => zoom.by(1.4)}><Plus size={14} /></button
      >
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Zoom out (-)"
        aria-label="Zoom out"
        onclick={() => zoom.by(1 / 1.4)}><Minus size={14} /></button
      >
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Whole train (0)"
        aria-label="Show the whole train"
        onclick={zoom.reset}><Maximize size={13} /></button
      >
    </div>
    <Rail {view} {zoom} onadd={addAt} onrefused={tell} />
  </section>

  <section class="panel area-ledger relative flex min-h-0 flex-col" aria-label="Ledger">
    <div class="absolute top-1 right-1.5 z-10 hidden sm:block">
      <button
        class="btn btn-ghost btn-xs btn-square"
        title={asTable ? 'As staircase (L)' : 'As table (L)'}
        aria-label={asTable ? 'Show the ledger as staircase' : 'Show the ledger as table'}
        onclick={() => (asTable = !asTable)}
      >
        {#if asTable}<ChartNoAxesGantt size={14} />{:else}<Table2 size={14} />{/if}
      </button>
    </div>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="min-h-0 flex-1 overflow-y-auto" tabindex="0" role="group" aria-label="Ledger, scrolls">
      <div class={['hidden', !asTable && 'sm:block']}><Staircase {view} {stairs} /></div>
      <div class={['px-3 py-2 sm:pr-10', !asTable && 'sm:sr-only']}>
        <LedgerTable {stairs} hiddenWhenWide={!asTable} />
      </div>
    </div>
  </section>

  <aside id="inspector" class="panel area-inspector min-h-0 overflow-y-auto p-4" aria-label="Inspector">
    {#if finder.open}
      <FinderPanel {finder} />
    {:else}
      {#key selection}
        {#if joint}
          <JointInspector {joint} {view} onadd={() => addAt(joint.cameraId)} />
        {:else if element && selection.kind === 'element'}
          <ElementInspector
            {element}
            {view}
            onadd={add}
            onreplace={replace}
            onremove={() => tell(train.removeSelected())}
            onshift={(by) => tell(train.shift(by))}
          />
        {:else}
          <HostInspector />
        {/if}
      {/key}
    {/if}
  </aside>
</div>

<AddPart bind:open={adding} {target} />
{#if explanation && why.anchor}<WhyPopover {explanation} anchor={why.anchor} />{/if}

<style>
  .workspace {
    display: grid;
    gap: 0.75rem;
    padding: 0 0.75rem 0.75rem;
    grid-template-columns: minmax(0, 1fr);
    grid-template-areas: 'verdict' 'rail' 'inspector' 'ledger';
  }
  .area-verdict {
    grid-area: verdict;
    margin: 0 -0.75rem -0.5rem;
  }
  .area-rail {
    grid-area: rail;
    height: 300px;
  }
  .area-ledger {
    grid-area: ledger;
  }
  .area-inspector {
    grid-area: inspector;
  }
  @media (min-width: 64rem) {
    .workspace {
      height: calc(100dvh - 2.75rem);
      grid-template-columns: minmax(0, 1fr) 20rem;
      grid-template-rows: auto minmax(15rem, 1.25fr) minmax(10rem, 1fr);
      grid-template-areas: 'verdict verdict' 'rail inspector' 'ledger inspector';
    }
    .area-rail {
      height: auto;
    }
  }
</style>
