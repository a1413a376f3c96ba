<script lang="ts">
  import type { TuneDesk } from './desk.svelte.ts';
  import FocalSurface from './FocalSurface.svelte';

  /** How far the sensor is tilted, and whether that matters. */
  const { desk }: { desk: TuneDesk } = $props();
  const { depthUm } = $derived(desk);
  const reading = $derived(desk.sweep.result?.reading);
  const across = $derived(reading?.tilt.acrossUm);
</script>

<h2 class="text-xl font-semibold" data-tilt-headline>
  {across === undefined
    ? 'Tilt by the last sweep that was kept'
    : depthUm !== undefined && across < depthUm
      ? 'The sensor is square enough'
      : `One end is ${across.toFixed(0)} µm farther`}
</h2>
{#if reading && across !== undefined}
  <p class="text-muted text-sm">
    {depthUm === undefined
      ? 'How much of it matters is not known: the focal ratio is missing.'
      : `A star stays sharp within ±${depthUm.toFixed(0)} µm of focus: ${
          across / 2 < depthUm ? 'the tilt is less than that on either side.' : 'the tilt shows at its ends.'
        }`}
  </p>
  <div class="mt-2 h-52"><FocalSurface sweep={reading} {depthUm} /></div>
{/if}
{#if !desk.tuning.plate}
  <p class="text-muted mt-1 text-sm">
    Describe the plate’s screws (under Sweep) to see which to turn, how far and which way.
  </p>
{/if}
