<script lang="ts">
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import type { Snippet } from 'svelte';

  interface Props {
    label: Snippet;
    /** What is kept already, mm. */
    kept: number | undefined;
    /** What it should be, as a hint, mm. */
    expectedMm?: number | undefined;
    /** Keeps a reading, mm; a sentence where it does not count yet. */
    onread: (mm: number) => void;
    /** Something else is typed now. */
    onchange?: () => void;
    /** Enter, where the reading is kept already. */
    onagain?: () => void;
    further?: Snippet;
  }
  const { label, kept, expectedMm, onread, onchange, onagain, further }: Props = $props();
  const display = useDisplay();
  const uid = $props.id();

  let text = $derived(numberText(kept, display.unit));
  const parsed = $derived(parseNumber(text, display.unit));

  let input: HTMLInputElement;
  export const focus = () => input.focus();

  function read() {
    if (parsed.ok && parsed.parsed !== undefined && parsed.parsed !== kept) onread(parsed.parsed);
  }
  /** What an instrument has sent stands in the field, and counts as if it had been typed. */
  export function receive(mm: number) {
    text = numberText(mm, display.unit);
    onread(mm);
  }
</script>

<label class="text-sm" for="{uid}-read">{@render label()}</label>
<div class="mt-1 flex flex-wrap gap-2">
  <span class="input input-lg w-44"
    ><input
      bind:this={input}
      id="{uid}-read"
      class="min-w-0 text-right text-lg"
      inputmode="decimal"
      autocomplete="off"
      bind:value={text}
      placeholder={expectedMm === undefined ? '' : numberText(Number(expectedMm.toFixed(2)), display.unit)}
      oninput={() => onchange?.()}
      onkeydown={(event) => {
        if (event.key !== 'Enter') return;
        event.preventDefault();
        if (kept !== undefined && parsed.ok && parsed.parsed === kept) onagain?.();
        else read();
      }}
      onblur={read}
    />
    <span class="text-muted">{display.unit}</span></span
  >
  <button class="btn btn-outline btn-lg" onclick={read}>Keep the reading</button>
  {@render further?.()}
</div>
{#if !parsed.ok}<p class="text-error mt-1" role="alert">{parsed.message}</p>{/if}
