<script lang="ts">
  import { combineMeasurements, disagreement, type Part } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import { SIMULATED, type Instrument } from '$lib/calipers/instrument.svelte.ts';
  import ReadingField from './ReadingField.svelte';
  import SeriesPlot from './SeriesPlot.svelte';

  const { part, instrument }: { part: Part; instrument: Instrument } = $props();
  const drawer = useDrawer();
  const display = useDisplay();

  const combined = $derived(combineMeasurements(part.measurements));
  const apart = $derived(disagreement(part));
  const fine = $derived(display.unit === 'mm' ? 3 : 5);

  const keep = (measurements: Part['measurements'], label: string) => drawer.change(label, [{ ...part, measurements }]);
</script>

{#if combined}
  <p>
    <span class="text-lg font-semibold">{display.length(combined.lengthMm)}</span>
    <span class="text-muted">
      ±{display.length(combined.expandedMm, fine)} (U, {combined.readings}
      {combined.readings === 1 ? 'reading' : 'readings'})
    </span>
  </p>
  {#if combined.contradicts}
    <p class="text-warning flex gap-1.5">
      <TriangleAlert size={15} class="mt-0.5 shrink-0" />
      Instruments contradict each other by more than they allow for: the uncertainty is widened. Measure it again.
    </p>
  {:else if apart !== undefined}
    <p class="text-warning flex gap-1.5">
      <TriangleAlert size={15} class="mt-0.5 shrink-0" />
      {display.length(Math.abs(apart))}
      {apart > 0 ? 'longer' : 'shorter'} than published: more than 2U, so the published length is wrong.
    </p>
  {/if}
  <SeriesPlot {part} />
{:else if part.element.measured}
  <p>
    {display.length(part.element.measured.lengthMm)}
    <span class="text-muted">±{display.length(part.element.measured.uncertaintyMm ?? 0, fine)}, entered as a whole</span
    >
  </p>
{:else}
  <p class="text-muted text-xs">Only its published length is known. Put it between the jaws.</p>
{/if}
<ReadingField {instrument} {part} onreading={(made) => keep([...part.measurements, made], `Measure ${part.partId}`)} />
{#if part.measurements.length > 0}
  <ul class="text-xs">
    {#each part.measurements as { lengthMm, instrument: by, date, maxErrorMm, zeroMm }, index (index)}
      <li class="border-line flex items-center justify-between gap-2 border-t py-0.5">
        <span class="whitespace-nowrap">{display.length(lengthMm)}</span>
        <span class="text-muted truncate">
          {#if by === SIMULATED}<span class="badge badge-warning badge-xs">simulated</span>{:else}{by ??
              'instrument not known'}{/if}{maxErrorMm === undefined ? '' : ` ±${display.number(maxErrorMm)}`}{zeroMm
            ? `, zero ${display.number(zeroMm)}`
            : ''}
        </span>
        <span class="text-muted whitespace-nowrap">{date ?? ''}</span>
        <button
          class="btn btn-ghost btn-xs btn-square"
          aria-label="Remove reading {index + 1}"
          onclick={() => keep(part.measurements.toSpliced(index, 1), `Remove a reading of ${part.partId}`)}
        >
          <Trash2 size={12} />
        </button>
      </li>
    {/each}
  </ul>
{/if}
