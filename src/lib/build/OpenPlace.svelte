<script lang="ts">
  import { portInWords } from '@lodestone/core/joint';
  import type { RailView } from '$lib/rail/view.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { facesAt } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import PencilRuler from '@lucide/svelte/icons/pencil-ruler';
  import Plus from '@lucide/svelte/icons/plus';
  import FittingParts from './FittingParts.svelte';

  interface Props {
    /** Element before which a part would go in. */
    before: string;
    view: RailView;
    onadd: () => void;
    /** Left out at a joint: a part is made for a gap, or in place of another. */
    onmake?: () => void;
  }
  const { before, view, onadd, onmake }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const faces = $derived(facesAt(train.document, before));
  const { verdict, residualMm } = $derived(train.assessment.report);
  const missing = $derived(verdict === 'short' && residualMm !== null ? -residualMm : undefined);
</script>

<h3 class="font-semibold">What fits here</h3>
<dl class="mt-1 mb-2 grid grid-cols-[auto_1fr] gap-x-3">
  <dt class="text-muted">Length</dt>
  <dd>{missing === undefined ? 'nothing is missing' : `${display.length(missing)} in all`}</dd>
  <dt class="text-muted">Sky face</dt>
  <dd>{faces.sky ? portInWords(faces.sky) : 'not known'}</dd>
  <dt class="text-muted">Camera face</dt>
  <dd>{faces.camera ? portInWords(faces.camera) : 'not known'}</dd>
</dl>
<FittingParts {before} {view} />
<button class="btn btn-outline btn-sm mt-2 w-full" onclick={onadd}>
  <Plus size={15} />Describe a part that is not in it<kbd class="kbd kbd-xs ml-1">A</kbd>
</button>
{#if onmake}
  <button class="btn btn-outline btn-sm mt-2 w-full" onclick={onmake}>
    <PencilRuler size={15} />Have a part made to measure<kbd class="kbd kbd-xs ml-1">Shift M</kbd>
  </button>
{/if}
