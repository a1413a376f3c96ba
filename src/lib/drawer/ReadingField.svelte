<script lang="ts">
  import { reasonOf } from '$lib/api/reason.ts';
  import { combineMeasurements, isWild, type Measurement, type Part } from '@lodestone/core/drawer';
  import { ASSUMED_TOLERANCE_MM } from '@lodestone/core/doubt';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import Crosshair from '@lucide/svelte/icons/crosshair';
  import Ruler from '@lucide/svelte/icons/ruler';
  import { onDestroy, tick } from 'svelte';
  import { hasSerial } from '$lib/calipers/calipers.ts';
  import type { Instrument, Source } from '$lib/calipers/instrument.svelte.ts';

  interface Props {
    instrument: Instrument;
    /** Part between the jaws. */
    part: Part;
    large?: boolean;
    onreading: (measurement: Measurement) => string | undefined;
    /** Something that is no number was entered: a part number, say. @returns whether it was understood */
    onwords?: (text: string) => boolean;
    /** Takes the last reading back; the key for it belongs to the field only while something is typed in it. */
    onundo?: () => void;
  }
  const { instrument, part, large = false, onreading, onwords, onundo }: Props = $props();
  const display = useDisplay();
  const notices = useNotices();

  let text = $state('');
  let message = $state<string>();
  /** A reading that is far from what is known, as it was typed: entered once more, it is kept. */
  let questioned = $state<string>();
  /** The closed jaws are asked for, not the part. */
  let zeroing = $state(false);
  let zeroText = $state('');
  let zeroMessage = $state<string>();
  let input: HTMLInputElement;
  let zeroInput = $state<HTMLInputElement>();
  let hangUp = $state.raw<() => Promise<void>>();

  /** Ten metres, as everywhere. */
  const LONGEST_MM = 10_000;
  /** No closed caliper reads more. */
  const LARGEST_ZERO_MM = 5;

  const known = $derived.by(() => {
    const combined = combineMeasurements(part.measurements);
    const lengthMm = combined?.lengthMm ?? part.element.lengthMm;
    const expandedMm = combined?.expandedMm ?? part.element.toleranceMm ?? ASSUMED_TOLERANCE_MM;
    return { lengthMm, expandedMm, words: combined ? 'measured' : 'published' };
  });

  export const focus = () => input.focus();

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
    const measurement = instrument.measurement(parsed.parsed);
    const isOdd = isWild(measurement.lengthMm, known.lengthMm, known.expandedMm);
    if (isOdd && questioned !== text) {
      questioned = text;
      message = undefined;
      return;
    }
    questioned = undefined;
    message = onreading(measurement);
    if (message === undefined) text = '';
    input.focus();
  }

  const asText = (mm: number): string => numberText(mm, display.unit);

  async function read(what: string): Promise<number | undefined> {
    try {
      return await instrument.driver?.read?.(what);
    } catch (error) {
      notices.complain(reasonOf(error));
      return undefined;
    }
  }

  export async function fromCaliper() {
    const lengthMm = await read(part.partId);
    if (lengthMm === undefined) return;
    text = asText(lengthMm);
    message = undefined;
    input.focus();
  }

  async function startZero() {
    zeroing = true;
    zeroText = '';
    zeroMessage = undefined;
    await tick();
    zeroInput?.focus();
  }

  function keepZero() {
    const parsed = parseNumber(zeroText, display.unit);
    if (!parsed.ok) return void (zeroMessage = parsed.message);
    if (parsed.parsed === undefined) return void (zeroMessage = 'Type what the closed jaws read: 0.00 if they do.');
    if (Math.abs(parsed.parsed) > LARGEST_ZERO_MM) {
      return void (zeroMessage = `Closed jaws read nearly 0, not ${display.length(parsed.parsed)}.`);
    }
    instrument.zeroMm = parsed.parsed;
    zeroing = false;
    const zero = parsed.parsed;
    notices.say(
      zero === 0
        ? `${instrument.name}: closed jaws read 0.`
        : `${instrument.name}: closed jaws read ${display.length(zero)}, taken off every reading.`
    );
    input.focus();
  }

  /** What an instrument that sends by itself has read goes where a reading is waited for. */
  function heard(mm: number) {
    if (zeroing) zeroText = asText(mm);
    else {
      text = asText(mm);
      enter();
    }
  }

  /** Unplugged, or its battery is empty: what was read is kept, and readings are typed from here. */
  function gone() {
    hangUp = undefined;
    instrument.source = 'typed';
    notices.complain('The caliper is gone. Type what it shows, or connect it again.');
  }

  async function choose(source: Source) {
    await hangUp?.();
    hangUp = undefined;
    instrument.source = source;
    [text, message, questioned, zeroing] = ['', undefined, undefined, false];
    if (source !== 'serial') return input.focus();
    try {
      hangUp = await instrument.driver?.listen?.(heard, gone);
    } catch (error) {
      instrument.source = 'typed';
      notices.complain(`No caliper was connected: ${reasonOf(error)}`);
    }
  }
  onDestroy(() => void hangUp?.());

  function onkeydown(event: KeyboardEvent) {
    if (
      event.key.toLowerCase() === 'z' &&
      (event.ctrlKey || event.metaKey) &&
      !event.shiftKey &&
      text === '' &&
      onundo
    ) {
      event.preventDefault();
      event.stopPropagation();
      onundo();
    }
    if (event.key === 'Escape' && (questioned !== undefined || text !== '')) {
      event.preventDefault();
      event.stopPropagation();
      [text, message, questioned] = ['', undefined, undefined];
    }
  }
</script>

<form
  class="grid gap-2"
  onsubmit={(event) => {
    event.preventDefault();
    enter();
  }}
>
  <span class={['input w-full', large && 'input-xl', message && 'input-error', questioned && 'input-warning']}>
    <input
      bind:this={input}
      bind:value={text}
      inputmode="decimal"
      autocomplete="off"
      aria-label="Reading of {part.partId}"
      aria-invalid={message !== undefined}
      placeholder={large ? 'reading' : 'what the caliper shows'}
      class={['min-w-0 text-right', large && 'text-3xl']}
      id="reading"
      {onkeydown}
    />
    <span class="text-muted">{display.unit}</span>
  </span>
  {#if message}<p class="text-error text-xs" role="alert">{message}</p>{/if}
  {#if questioned !== undefined}
    {@const parsed = parseNumber(questioned, display.unit)}
    <div class="border-warning rounded border p-2" role="alert">
      <p>
        {display.length((parsed.ok ? parsed.parsed : undefined) ?? 0)} is far from the {known.words}
        {display.length(known.lengthMm)} of {part.partId}. Is it the right part, and the whole of it?
      </p>
      <div class="mt-1.5 flex flex-wrap gap-1.5">
        <button
          type="button"
          class="btn btn-sm btn-primary"
          onclick={() => {
            [text, questioned] = ['', undefined];
            input.focus();
          }}>Measure again</button
        >
        <button class="btn btn-sm btn-outline">Keep it all the same</button>
      </div>
    </div>
  {/if}
  <div class="flex flex-wrap gap-1.5">
    {#if questioned === undefined}
      <button class={['btn btn-primary', large ? 'btn-md flex-1' : 'btn-sm']}>Keep it</button>
    {/if}
    {#if instrument.driver?.read}
      <button type="button" class={['btn btn-outline', large ? 'btn-md' : 'btn-sm']} onclick={fromCaliper}>
        <Ruler size={14} />Read it
      </button>
    {/if}
    <button type="button" class={['btn btn-ghost', large ? 'btn-md' : 'btn-sm']} onclick={startZero}>
      <Crosshair size={14} />Zero check
    </button>
  </div>
</form>
{#if zeroing}
  <form
    class="border-line grid gap-1.5 rounded border p-2"
    aria-label="Zero check"
    onsubmit={(event) => {
      event.preventDefault();
      keepZero();
    }}
  >
    <label class="grid gap-0.5">
      <span class="text-xs">Close the jaws. What do they read?</span>
      <span class={['input input-sm w-full', zeroMessage && 'input-error']}>
        <input
          bind:this={zeroInput}
          bind:value={zeroText}
          inputmode="text"
          autocomplete="off"
          class="min-w-0 text-right"
          placeholder="0.00"
          aria-invalid={zeroMessage !== undefined}
        />
        <span class="text-muted text-xs">{display.unit}</span>
      </span>
    </label>
    {#if zeroMessage}<p class="text-error text-xs" role="alert">{zeroMessage}</p>{/if}
    <div class="flex flex-wrap gap-1.5">
      <button class="btn btn-primary btn-sm">Take it off</button>
      {#if instrument.driver?.read}
        <button
          type="button"
          class="btn btn-outline btn-sm"
          onclick={async () => {
            const zero = await read('closed');
            if (zero !== undefined) zeroText = asText(zero);
          }}>Read it</button
        >
      {/if}
      <button type="button" class="btn btn-ghost btn-sm" onclick={() => (zeroing = false)}>Leave it</button>
    </div>
  </form>
{/if}
<div class="flex flex-wrap items-center gap-x-3 gap-y-1 text-xs">
  <label class="flex items-center gap-1.5">
    <span class="text-muted">Readings from</span>
    <select
      class="select select-xs w-auto"
      aria-label="Where readings come from"
      value={instrument.source}
      onchange={({ currentTarget: { value } }) => void choose(value as Source)}
    >
      <option value="typed">my caliper, typed or sent as keys</option>
      {#if hasSerial()}<option value="serial">my caliper at a serial port</option>{/if}
      <option value="simulated">the simulated caliper</option>
    </select>
  </label>
  <span class="text-muted" data-instrument>
    {#if instrument.isSimulated}<span class="badge badge-warning badge-sm mr-1">simulated</span>{/if}{instrument.name} ±{display.tolerance(
      instrument.maxErrorMm
    )},
    {#if instrument.zeroMm === undefined}zero not checked yet{:else if instrument.zeroMm === 0}zero checked{:else}zero {display.length(
        instrument.zeroMm
      )} taken off{/if}
  </span>
</div>
