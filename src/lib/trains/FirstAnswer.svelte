<script lang="ts">
  import { nextStep } from '@lodestone/core/check';
  import Silhouette from '$lib/rail/Silhouette.svelte';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import type { FirstTrain } from './firstTrain.ts';

  const { start }: { start: FirstTrain } = $props();
  const display = useDisplay();
</script>

<div class="h-28">
  {#if start.preview}
    <Silhouette
      layout={start.preview.layout}
      fromMm={start.preview.layout.extent.fromMm}
      toMm={start.preview.layout.extent.toMm}
      maxRadiusMm={start.preview.layout.maxRadiusMm}
      label="The train so far, to scale"
    />
  {:else}
    <div class="border-line text-muted grid h-full place-items-center rounded border border-dashed text-xs">
      The train appears here, to scale
    </div>
  {/if}
</div>
<div aria-live="polite">
  {#if start.preview}
    <p class="text-2xl font-semibold" data-first-answer>
      {start.preview.assessment.verdictInWords(display.unit)}
    </p>
    <p class="text-muted mt-1">{nextStep(start.preview.assessment, display.unit).sentence}</p>
  {:else if start.complaint}
    <p class="text-error">{start.complaint}</p>
  {:else}
    <p class="text-lg font-semibold">How much spacing is needed?</p>
    <p class="text-muted mt-1">Still needed: {start.missing}.</p>
  {/if}
</div>
