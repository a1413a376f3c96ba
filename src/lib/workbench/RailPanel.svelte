<script lang="ts">
  import { RAIL_LAYERS } from '@lodestone/core/shape';
  import type { LayerView } from '$lib/rail/layers.svelte.ts';
  import Rail from '$lib/rail/Rail.svelte';
  import type { RailView } from '$lib/rail/view.svelte.ts';
  import type { ZoomControl } from '$lib/rail/zoom.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import ContextMenu from '$lib/ui/ContextMenu.svelte';
  import Maximize from '@lucide/svelte/icons/maximize';
  import Minus from '@lucide/svelte/icons/minus';
  import Plus from '@lucide/svelte/icons/plus';
  import Redo2 from '@lucide/svelte/icons/redo-2';
  import Undo2 from '@lucide/svelte/icons/undo-2';

  interface Props {
    view: RailView;
    zoom: ZoomControl;
    /** A part is to be put in before this element. */
    onadd: (before: string) => void;
    tell: (refusal: string | undefined) => void;
    onchosen: () => void;
    /** Commands of the stage that a part, a joint or the host offers in its menu. */
    menu: readonly string[];
    /** Layers that can be laid over the rail; none where left out. */
    layers?: LayerView | undefined;
  }
  const { view, zoom, onadd, tell, onchosen, menu, layers }: Props = $props();
  const train = useTrain();

  /** What a menu offers on every stage. */
  const FRAME_MENU = ['skyward', 'camward', 'remove', 'undo'];
  let railMenu: ContextMenu;

  useCommands().register(
    RAIL_LAYERS.map((layer) => ({
      id: `layer-${layer.id}`,
      group: 'Rail',
      title: `Lay the ${layer.title} over the rail`,
      key: layer.key,
      enabled: () => layers !== undefined,
      run: () => layers?.toggle(layer)
    }))
  );
</script>

<section class="panel relative h-full overflow-hidden" aria-label="Rail">
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
    {#if layers}
      <span class="border-line mx-1 my-1 border-l"></span>
      {#each RAIL_LAYERS as layer (layer.id)}
        <button
          class={['btn btn-ghost btn-xs font-normal', layers.has(layer.id) && 'text-primary font-semibold']}
          aria-pressed={layers.has(layer.id)}
          title="Lay the {layer.title} over the rail ({layer.key})"
          onclick={() => layers.toggle(layer)}>{layer.title}</button
        >
      {/each}
    {/if}
  </div>
  <Rail {view} {zoom} {onadd} onrefused={tell} {onchosen} onmenu={(event, of) => railMenu.open(event, of)} {layers} />
  <ContextMenu bind:this={railMenu} label="What can be done here" ids={[...menu, ...FRAME_MENU]} />
</section>
