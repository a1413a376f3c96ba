<script lang="ts">
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import type { Instrument } from './instrument.svelte.ts';

  /** The instrument in hand, and what its maker allows it to be wrong by. */
  const { instrument }: { instrument: Instrument } = $props();
  const display = useDisplay();
  /** More is no instrument for these parts, mm. */
  const MOST_ERROR_MM = 100;
</script>

<label class="grid gap-0.5">
  <span class="text-muted text-xs">Instrument</span>
  <input
    class="input input-sm w-full"
    maxlength="200"
    value={instrument.name}
    disabled={instrument.isSimulated}
    onchange={({ currentTarget: { value } }) => instrument.take(value.trim() || 'Caliper', instrument.maxErrorMm)}
  />
</label>
<label class="grid gap-0.5">
  <span class="text-muted text-xs">May be wrong by ±, {display.unit}</span>
  <input
    class="input input-sm w-full text-right"
    inputmode="decimal"
    disabled={instrument.isSimulated}
    value={numberText(instrument.maxErrorMm, display.unit)}
    onchange={({ currentTarget }) => {
      const parsed = parseNumber(currentTarget.value, display.unit);
      if (parsed.ok && parsed.parsed !== undefined && parsed.parsed >= 0 && parsed.parsed <= MOST_ERROR_MM) {
        instrument.take(instrument.name, parsed.parsed);
      } else currentTarget.value = numberText(instrument.maxErrorMm, display.unit);
    }}
  />
</label>
