<script lang="ts">
  import { dustDistance, type Light } from '@lodestone/core/light';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';

  const { light }: { light: Light } = $props();
  const train = useTrain();
  const display = useDisplay();

  let text = $state('');
  const parsed = $derived(parseNumber(text));
  const shadowPx = $derived(parsed.ok && parsed.parsed !== undefined && parsed.parsed > 0 ? parsed.parsed : undefined);
  const zMm = $derived(
    shadowPx === undefined ? undefined : dustDistance(shadowPx, light.sensor.pixelUm, light.beam.fRatio)
  );
  const nearest = $derived(
    zMm === undefined
      ? undefined
      : light.surfaces.reduce<(typeof light.surfaces)[number] | undefined>(
          (best, each) => (best && Math.abs(best.zMm - zMm) <= Math.abs(each.zMm - zMm) ? best : each),
          undefined
        )
  );
</script>

<details class="border-line mt-2 border-t pt-1">
  <summary class="cursor-pointer py-1 font-semibold">Dust on a flat</summary>
  <label class="flex items-center gap-2 text-xs">
    A shadow so wide
    <span class="input input-xs w-24"
      ><input
        class="min-w-0 text-right"
        inputmode="decimal"
        autocomplete="off"
        aria-label="Width of a shadow on a flat, pixels"
        bind:value={text}
        placeholder="e.g. 120"
      /> px</span
    >
    {#if zMm !== undefined && nearest}
      is {display.length(zMm, 1)} before the sensor
    {/if}
  </label>
  {#if !parsed.ok}<p class="text-error text-xs" role="alert">{parsed.message}</p>{/if}
  <table class="mt-1 w-full text-xs" aria-label="Surfaces where dust shows">
    <tbody>
      {#each light.surfaces as surface (surface.words)}
        <tr class={['border-line border-t', surface === nearest && 'text-primary font-semibold']}>
          <td class="py-0.5"
            ><button class="link-quiet text-left" onclick={() => train.select({ kind: 'element', id: surface.at })}
              >{surface === nearest ? 'here: ' : ''}{surface.words}</button
            ></td
          >
          <td class="text-right whitespace-nowrap">{display.length(surface.zMm, 1)}</td>
          <td class="w-20 text-right whitespace-nowrap">{surface.shadowPx.toFixed(0)} px</td>
        </tr>
      {/each}
    </tbody>
  </table>
</details>
