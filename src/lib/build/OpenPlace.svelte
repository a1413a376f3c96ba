<script lang="ts">
  import { portInWords } from '@lodestone/core';
  import { useTrain } from '$lib/train/context.ts';
  import { facesAt } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { Plus } from '@lucide/svelte';

  interface Props {
    /** Element before which a part would go in. */
    before: string;
    onadd: () => void;
  }
  const { before, onadd }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const faces = $derived(facesAt(train.document, before));
  const { verdict, residualMm } = $derived(train.assessment.report);
  const missing = $derived(verdict === 'short' && residualMm !== null ? -residualMm : undefined);
</script>

<h3 class="font-semibold">What fits here</h3>
<dl class="mt-1 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
  <dt class="text-muted">Length</dt>
  <dd>{missing === undefined ? 'nothing is missing' : `${display.length(missing)} in all`}</dd>
  <dt class="text-muted">Sky face</dt>
  <dd>{faces.sky ? portInWords(faces.sky) : 'not known'}</dd>
  <dt class="text-muted">Camera face</dt>
  <dd>{faces.camera ? portInWords(faces.camera) : 'not known'}</dd>
</dl>
<button class="btn btn-primary btn-sm mt-3 w-full" onclick={onadd}>
  <Plus size={15} />Add a part here<kbd class="kbd kbd-xs ml-1">A</kbd>
</button>
