<script lang="ts">
  import { jointName, type Joint } from '@lodestone/core/joint';
  import type { Element } from '@lodestone/core/train';
  import type { RailView } from '$lib/rail/view.svelte.ts';
  import LedgerTable from '$lib/rail/LedgerTable.svelte';
  import Staircase from '$lib/rail/Staircase.svelte';
  import { stairsOf } from '$lib/rail/staircase.ts';
  import { useTrain } from '$lib/train/context.ts';
  import Sheet, { type SheetLevel } from '$lib/ui/Sheet.svelte';
  import ChartNoAxesGantt from '@lucide/svelte/icons/chart-no-axes-gantt';
  import Table2 from '@lucide/svelte/icons/table-2';
  import { Frame } from './frame.svelte.ts';
  import ChosenParts from './ChosenParts.svelte';
  import HostInspector from './HostInspector.svelte';
  import StageFrame from './StageFrame.svelte';
  import { untrack, type Snippet } from 'svelte';

  /** What a stage puts into the frame of a train. */
  interface Props {
    /** The sentence that says how the train stands. */
    verdict: Snippet;
    /** A part is to be put in before this element. */
    onadd: (before: string) => void;
    /** What is said of the element that is selected. */
    ofElement: Snippet<[Element, RailView]>;
    ofJoint: Snippet<[Joint, RailView]>;
    /** Stands in place of the inspector while a tool of the stage is open. */
    tool?: { title: string; body: Snippet } | undefined;
    /** Commands of the stage that a part, a joint or the host offers in its menu. */
    menu: readonly string[];
  }
  const { verdict, onadd, ofElement, ofJoint, tool, menu }: Props = $props();

  const train = useTrain();
  let asTable = $state(false);
  const frame = new Frame({ toggleTable: () => (asTable = !asTable) });
  const { view } = frame;
  let level = $state<SheetLevel>('peek');

  const { selection } = $derived(train);
  const { element, joint } = $derived(frame);
  const stairs = $derived(stairsOf(train.shown, train.assessment, train.layout));
  const title = $derived(
    tool?.title ??
      (train.chosen.length > 1 ? train.chosenInWords : undefined) ??
      (joint ? `joint ${jointName(train.document, joint)}` : (element?.name ?? train.document.host.name))
  );

  /** What was chosen, and what is done with it, comes into sight on a small screen: the sheet, and the rail above it. */
  function bringUp() {
    if (level === 'peek') level = 'half';
    if (window.matchMedia('(max-width: 63.99rem)').matches) {
      document.querySelector('.area-rail')?.scrollIntoView({ block: 'start' });
    }
  }
  $effect(() => {
    if (tool) untrack(bringUp);
  });
</script>

<StageFrame {frame} layout="workbench" {verdict} {onadd} onchosen={bringUp} {menu}>
  {#snippet children(rail)}
    {@render rail()}

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
        <div class={['px-1 py-2 sm:px-3 sm:pr-10', !asTable && 'sm:sr-only']}>
          <LedgerTable {stairs} hiddenWhenWide={!asTable} />
        </div>
      </div>
    </section>

    <Sheet id="inspector" label="Inspector" {title} class="area-inspector" bind:level>
      {#if tool}
        {@render tool.body()}
      {:else}
        {#key selection}
          {#if train.chosen.length > 1}
            <ChosenParts />
          {:else if joint}
            {@render ofJoint(joint, view)}
          {:else if element}
            {@render ofElement(element, view)}
          {:else}
            <HostInspector />
          {/if}
        {/key}
      {/if}
    </Sheet>
  {/snippet}
</StageFrame>

<style>
  :global(.stage.workbench) {
    grid-template-areas: 'verdict' 'rail' 'ledger';
  }
  /* Room for what peeks out below. */
  @media (max-width: 63.99rem) {
    :global(.stage.workbench) {
      padding-bottom: 4rem;
    }
    :global(.stage.workbench > .area-rail) {
      scroll-margin-top: 0.5rem;
    }
  }
  .area-ledger {
    grid-area: ledger;
  }
  @media (min-width: 64rem) {
    :global(.stage.workbench) {
      height: calc(100dvh - 2.75rem);
      grid-template-columns: minmax(0, 1fr) 20rem;
      /* The ledger takes what it needs, up to a good half; the drawing has the rest. */
      grid-template-rows: auto minmax(15rem, 1fr) fit-content(48%);
      grid-template-areas: 'verdict verdict' 'rail inspector' 'ledger inspector';
    }
    :global(.stage.workbench > .area-inspector) {
      grid-area: inspector;
    }
  }
</style>
