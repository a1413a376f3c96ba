<script lang="ts">
  import { nextStep, snapshotFindings } from '@lodestone/core/check';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Verdict from '$lib/workbench/Verdict.svelte';
  import type { Finder } from './finder.svelte.ts';
  import { Suggesting } from './suggestion.svelte.ts';
  import Search from '@lucide/svelte/icons/search';

  const { finder }: { finder: Finder } = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const suggesting = new Suggesting();

  const display = useDisplay();
  const { verdict } = $derived(train.assessment);

  /** Handing more parts than this to a worker would hold the page up: then it is done when asked for. */
  const MOST_PARTS_UNASKED = 2000;

  const isOff = $derived(verdict === 'short' || verdict === 'long');
  /** Off, and nothing at hand in the train itself: the drawer may have what it takes. */
  const wantsParts = $derived(
    drawer.parts.length <= MOST_PARTS_UNASKED &&
      isOff &&
      !train.preview &&
      !finder.open &&
      drawer.isRead &&
      nextStep(train.assessment, display.unit).operation === undefined
  );
  $effect(() => (wantsParts ? suggesting.soon(finder.task(train.document)) : undefined));

  const outdated = $derived(
    train.preview ? [] : snapshotFindings(train.document, (partId) => drawer.byId.get(partId)?.part)
  );
</script>

<Verdict suggested={suggesting.found} further={outdated}>
  {#snippet actions(hasStep)}
    {#if !train.preview && (isOff || train.document.elements.some(({ kind }) => kind === 'gap'))}
      <button class={['btn', hasStep ? 'btn-outline' : 'btn-primary']} data-find onclick={() => finder.show()}>
        <Search size={15} />Find the stack<kbd class="kbd kbd-xs">F</kbd>
      </button>
    {/if}
  {/snippet}
</Verdict>
