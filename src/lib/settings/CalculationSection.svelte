<script lang="ts">
  import { ASSUMED_CALIPER_MM, ASSUMED_SHIM_MM, ASSUMED_THREAD_MM, ASSUMED_TOLERANCE_MM } from '@lodestone/core/doubt';
  import { GLASS_RULES } from '@lodestone/core/train';
  import InstrumentFields from '$lib/calipers/InstrumentFields.svelte';
  import { Instrument } from '$lib/calipers/instrument.svelte.ts';
  import { NewTrains } from '$lib/train/newTrains.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { onMount } from 'svelte';

  /** What calculations and readings begin with in this browser, and what is assumed where nobody states it. */
  const display = useDisplay();
  const instrument = new Instrument();
  const newTrains = new NewTrains();
  onMount(() => {
    instrument.recall();
    newTrains.recall();
  });

  const ASSUMED = [
    ['A length whose tolerance is not stated', ASSUMED_TOLERANCE_MM],
    ['The length of a thread, the depth of a bore', ASSUMED_THREAD_MM],
    ['A shim', ASSUMED_SHIM_MM],
    ['A reading whose instrument is not stated', ASSUMED_CALIPER_MM]
  ] as const;
</script>

<section class="mt-8" aria-labelledby="calculation">
  <h2 id="calculation" class="text-lg font-semibold">Calculation</h2>
  <div class="mt-2 grid gap-3 sm:grid-cols-2">
    <InstrumentFields {instrument} />
    <label class="grid gap-0.5 sm:col-span-2">
      <span class="text-muted text-xs">In new trains glass moves the focus by</span>
      <select
        class="select select-sm w-full"
        value={newTrains.glassRule}
        onchange={({ currentTarget: { value } }) => {
          const chosen = GLASS_RULES.find(([rule]) => rule === value);
          if (chosen) newTrains.useGlassRule(chosen[0]);
        }}
      >
        {#each GLASS_RULES as [rule, words] (rule)}<option value={rule}>{words}</option>{/each}
      </select>
    </label>
  </div>
  <table class="mt-3 w-full text-sm">
    <caption class="text-muted pb-1 text-left text-xs">
      Assumed where nobody states it (common practice, no source). State it on the part, or measure the part.
    </caption>
    <tbody>
      {#each ASSUMED as [words, mm] (words)}
        <tr class="border-line border-t">
          <th scope="row" class="py-1.5 pr-4 text-left font-normal">{words}</th>
          <td class="py-1.5 text-right whitespace-nowrap">±{display.length(mm)}</td>
        </tr>
      {/each}
    </tbody>
  </table>
</section>
