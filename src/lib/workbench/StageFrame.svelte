<script lang="ts">
  import { jointName } from '@lodestone/core/joint';
  import type { LayerView } from '$lib/rail/layers.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import WhyPopover from '$lib/ui/WhyPopover.svelte';
  import RailStrip from '$lib/rail/RailStrip.svelte';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronUp from '@lucide/svelte/icons/chevron-up';
  import type { Frame } from './frame.svelte.ts';
  import RailPanel from './RailPanel.svelte';
  import Verdict from './Verdict.svelte';
  import type { Snippet } from 'svelte';

  /** What a stage of a train stands in: how the train stands, its rail, and the answer to "why?". */
  interface Props {
    frame: Frame;
    /** Name of the stage’s layout: it says where `verdict`, `rail` and its own areas lie. */
    layout: string;
    /** The verdict takes less room, whether the rail is folded or not. */
    brief?: boolean;
    /** The sentence that says how the train stands, where the stage has one of its own. */
    verdict?: Snippet;
    /** A part is to be put in before this element; the joint is chosen where left out. */
    onadd?: (before: string) => void;
    /** Something was chosen on the rail. */
    onchosen?: () => void;
    /** Commands of the stage that a part, a joint or the host offers in its menu. */
    menu?: readonly string[];
    /** Layers that can be laid over the rail; none where left out. */
    layers?: LayerView | undefined;
    /** The stage’s own areas; it puts the rail where its keys are to come to it, unless that is folded. */
    children: Snippet<[rail: Snippet]>;
  }
  const {
    frame,
    layout,
    brief = frame.folds,
    verdict,
    onadd = (id) => train.select({ kind: 'joint', id }),
    onchosen = () => undefined,
    menu = [],
    layers,
    children
  }: Props = $props();
  const train = useTrain();
  const { view, zoom, why, tell } = $derived(frame);
  const { explanation } = $derived(frame);
  const chosen = $derived(
    frame.joint ? jointName(train.document, frame.joint) : (frame.element?.name ?? train.document.host.name)
  );
</script>

{#snippet rail()}
  <div class={['area-rail', frame.folds && 'folds', !frame.railIsOpen && 'folded']}>
    {#if frame.railIsOpen}
      <RailPanel {view} {zoom} {onadd} {tell} {onchosen} {menu} {layers} />
    {:else}
      <section class="panel flex h-full items-center overflow-hidden" aria-label="Rail, folded"><RailStrip /></section>
    {/if}
    {#if frame.folds}
      {#if frame.railIsOpen}
        <a class="btn btn-outline btn-xs to-build" href="/trains/{train.id}/build">{chosen} under Build</a>
      {/if}
      <button
        class="btn btn-ghost btn-xs btn-square fold"
        aria-expanded={frame.railIsOpen}
        title="{frame.railIsOpen ? 'Fold' : 'Open'} the rail (Shift G)"
        aria-label={frame.railIsOpen ? 'Fold the rail' : 'Open the rail'}
        onclick={() => frame.foldRail()}
        >{#if frame.railIsOpen}<ChevronUp size={15} />{:else}<ChevronDown size={15} />{/if}</button
      >
    {/if}
  </div>
{/snippet}

<div class={['stage', layout]}>
  <div class="area-verdict">
    {#if verdict}{@render verdict()}{:else}<Verdict {brief} />{/if}
  </div>
  {#if frame.folds}{@render rail()}{/if}
  {@render children(rail)}
</div>

{#if explanation && why.anchor}<WhyPopover {explanation} anchor={why.anchor} />{/if}

<style>
  .stage {
    display: grid;
    gap: 0.75rem;
    padding: 0 0.75rem 0.75rem;
    grid-template-columns: minmax(0, 1fr);
  }
  .area-verdict {
    grid-area: verdict;
    margin: 0 -0.75rem -0.5rem;
  }
  .area-rail {
    grid-area: rail;
    height: 300px;
  }
  @media (min-width: 64rem) {
    .area-rail:not(.folds) {
      height: auto;
    }
  }
  .area-rail.folds {
    position: relative;
  }
  .area-rail.folded {
    height: 3.75rem;
  }
  .to-build {
    position: absolute;
    /* Beside the tools of the rail. */
    left: 10rem;
    top: 0.3rem;
    z-index: 10;
    max-width: calc(100% - 10.5rem);
  }
  .fold {
    position: absolute;
    right: 0.35rem;
    bottom: 0.35rem;
    z-index: 10;
  }
</style>
