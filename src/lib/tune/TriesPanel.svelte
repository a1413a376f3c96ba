<script lang="ts">
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import ExperimentChart from './ExperimentChart.svelte';
  import type { Tuning } from './tuning.svelte.ts';

  /** What the spacings that were tried come to, over the magnified sensor end of the rail. */
  const { tuning }: { tuning: Tuning } = $props();
  const display = useDisplay();
  const { experiments, answer, spacingMm, publishedMm, tunedMm } = $derived(tuning);

  const headline = $derived(
    answer.bestMm === null
      ? 'The best spacing is not known yet'
      : `Best at ${display.length(answer.bestMm, 2)}${
          answer.interval95Mm
            ? ` (${display.number(answer.interval95Mm[0], 2)} to ${display.number(answer.interval95Mm[1], 2)})`
            : ''
        }`
  );
</script>

<div class="flex flex-wrap items-baseline gap-x-4">
  <h2 class="text-base font-semibold" data-tuned={answer.bestMm?.toFixed(2) ?? 'unknown'}>{headline}</h2>
  <p class="text-muted min-w-0 flex-1 basis-72 text-sm">
    {answer.why}
    {answer.toleranceMm === null ? '' : `Tolerance of this corrector ±${display.length(answer.toleranceMm, 2)}.`}
  </p>
</div>
<div class={experiments.length > 0 ? 'h-52' : 'h-28'}>
  <ExperimentChart {experiments} {answer} {publishedMm} {tunedMm} nowMm={spacingMm} />
</div>
