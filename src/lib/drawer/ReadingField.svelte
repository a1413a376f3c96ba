<script lang="ts">
  import type { Measurement } from '@lodestone/core/drawer';
  import { readCaliper } from '$lib/parts/transport.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import { Crosshair, Ruler } from '@lucide/svelte';
  import type { Instrument } from './instrument.svelte.ts';

  interface Props {
    instrument: Instrument;
    /** Part between the jaws, for the simulated caliper. */
    partId: string;
    large?: boolean;
    onreading: (measurement: Measurement) => string | undefined;
    /** Something that is no number was entered: a part number, say. @returns whether it was understood */
    onwords?: (text: string) => boolean;
  }
  const { instrument, partId, large = false, onreading, onwords }: Props = $props();
  const display = useDisplay();
  const notices = useNotices();

  let text = $state('');
  let message = $state<string>();
  let input: HTMLInputElement;

  /** Ten metres, as everywhere. */
  const LONGEST_MM = 10_000;

  function enter() {
    const parsed = parseNumber(text, display.unit);
    if (!parsed.ok || parsed.parsed === undefined) {
      if (text.trim() !== '' && onwords?.(text.trim())) {
        text = '';
        message = undefined;
      } else message = parsed.ok ? 'Type what the caliper shows.' : parsed.message;
      return;
    }
    if (parsed.parsed < 0 || parsed.parsed > LONGEST_MM) return void (message = 'A length is between 0 and 10 m.');
    message = onreading(instrument.measurement(parsed.parsed));
    if (message === undefined) text = '';
    input.focus();
  }

  async function read(what: string): Promise<number | undefined> {
    try {
      const { lengthMm, instrument: name, maxErrorMm } = await readCaliper(what);
      instrument.take(name, maxErrorMm);
      return lengthMm;
    } catch (error) {
      notices.complain(error instanceof Error ? error.message : String(error));
      return undefined;
    }
  }

  export async function fromCaliper() {
    const lengthMm = await read(partId);
    if (lengthMm === undefined) return;
    text = numberText(lengthMm, display.unit);
    message = undefined;
    input.focus();
  }

  async function checkZero() {
    const typed = parseNumber(text, display.unit);
    const zero = text.trim() !== '' && typed.ok ? typed.parsed : await read('closed');
    if (zero === undefined) return;
    instrument.zeroMm = zero;
    text = '';
    notices.say(
      zero === 0 ? 'Closed jaws read 0.' : `Closed jaws read ${display.length(zero)}: taken off every reading.`
    );
    input.focus();
  }
</script>

<form
  class="grid gap-2"
  onsubmit={(event) => {
    event.preventDefault();
    enter();
  }}
>
  <span class={['input w-full', large && 'input-xl', message && 'input-error']}>
    <input
      bind:this={input}
      bind:value={text}
      inputmode="decimal"
      autocomplete="off"
      aria-label="Reading of {partId}"
      aria-invalid={message !== undefined}
      placeholder={large ? 'reading' : 'what the caliper shows'}
      class={['min-w-0 text-right', large && 'text-3xl']}
      id="reading"
    />
    <span class="text-muted">{display.unit}</span>
  </span>
  {#if message}<p class="text-error text-xs" role="alert">{message}</p>{/if}
  <div class="flex flex-wrap gap-1.5">
    <button class={['btn btn-primary', large ? 'btn-md flex-1' : 'btn-sm']}>Keep it</button>
    <button type="button" class={['btn btn-outline', large ? 'btn-md' : 'btn-sm']} onclick={fromCaliper}>
      <Ruler size={14} />Simulated caliper
    </button>
    <button
      type="button"
      class={['btn btn-ghost', large ? 'btn-md' : 'btn-sm']}
      onclick={checkZero}
      title="Close the jaws; type what they read, or leave it empty for the simulated caliper"
    >
      <Crosshair size={14} />Zero check
    </button>
  </div>
  <p class="text-muted text-xs">
    {instrument.name} ±{display.length(instrument.maxErrorMm)},
    {#if instrument.zeroMm === undefined}zero not checked yet{:else if instrument.zeroMm === 0}zero checked{:else}zero {display.length(
        instrument.zeroMm
      )} taken off{/if}
  </p>
</form>
