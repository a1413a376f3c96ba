<script lang="ts">
  import { kitsCalled, usualParts, type UsualThing } from '@lodestone/core/catalogue';
  import { KINDS, type Port } from '@lodestone/core/train';
  import { readQuickLine, type QuickEntry } from '@lodestone/core/drawer';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { facesInWords, sizeInWords } from './quickWords.ts';
  import Zap from '@lucide/svelte/icons/zap';

  interface Props {
    /** Kept by whoever asks, so that what was typed is there when they ask again. */
    line: string;
    /** What pressing Enter does: `Put 3 parts in`. */
    action: (count: number) => string;
    /** @returns why not, where it is refused */
    onentries: (entries: readonly QuickEntry[]) => string | undefined;
    /** Takes a usual part that was called by its name. @returns why not, where it is refused */
    onthing: (thing: UsualThing) => string | undefined;
    /** Faces that what comes in stands between: what closes them is offered first. */
    above?: Port | undefined;
    below?: Port | undefined;
    autofocus?: boolean;
  }
  let { line = $bindable(), action, onentries, onthing, above, below, autofocus = false }: Props = $props();
  const display = useDisplay();
  const uid = $props.id();

  const MOST_USUAL = 5;
  let refusal = $state<string>();
  /** Which of several meanings the arrow keys stand on; where the line says a part, none at first. */
  let moved = $state<number>();
  let input: HTMLInputElement;

  const reading = $derived(readQuickLine(line));
  const count = $derived(reading.ok ? reading.entries.reduce((sum, { quantity }) => sum + quantity, 0) : 0);
  /** Usual parts that are called so: what was typed may be a part of one's own, or one of them. */
  const usual = $derived(/\p{L}{2}/u.test(line) ? usualParts(line, above, below).slice(0, MOST_USUAL) : []);
  const kits = $derived(kitsCalled(line));
  /** What may be meant: another line, a kit, or a usual part. */
  const choices = $derived([
    ...(reading.ok ? [] : reading.choices).map(({ label, line: meant }) => ({
      label,
      take: () => void (line = meant)
    })),
    // A kit becomes the line, to be corrected before it is entered.
    ...kits.map(({ words, line: kit }) => ({ label: words, take: () => void (line = kit) })),
    ...usual.map(({ thing }) => ({
      label: `${thing.words}, ${display.length(thing.element.lengthMm)}`,
      take: () => {
        refusal = onthing(thing);
        if (refusal === undefined) line = '';
      }
    }))
  ]);

  const chosen = $derived(moved ?? (reading.ok ? -1 : 0));

  function choose(index: number) {
    const choice = choices[index];
    if (!choice) return;
    choice.take();
    moved = undefined;
    input.focus();
  }

  function enter() {
    if (chosen >= 0) return choose(chosen);
    if (!reading.ok) return;
    refusal = onentries(reading.entries);
    if (refusal === undefined) line = '';
    input.focus();
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'Enter') {
      event.preventDefault();
      enter();
    } else if (choices.length > 0 && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
      event.preventDefault();
      const by = event.key === 'ArrowDown' ? 1 : -1;
      moved = chosen < 0 && by < 0 ? choices.length - 1 : (chosen + by + choices.length) % choices.length;
    }
  }

  const faces = (entry: QuickEntry): string => {
    const { kind, sky, camera } = entry;
    if (kind === 'shim' || (kind === 'filter' && !sky && !camera)) return '';
    const words = facesInWords(entry);
    return kind === 'camera' ? `sky face ${words ?? 'not known'}` : (words ?? 'faces not known');
  };
</script>

<div class="grid gap-1.5" data-quick-line>
  <label class="input w-full">
    <Zap size={15} class="text-primary shrink-0" />
    <!-- A dialog gives the focus to what asks for it. -->
    <!-- svelte-ignore a11y_autofocus -->
    <input
      {autofocus}
      bind:this={input}
      bind:value={line}
      aria-label="Parts in one line"
      aria-describedby="{uid}-reading"
      placeholder="M48×0.75 f–m 10, 7.5, 16.5 ×2"
      autocomplete="off"
      spellcheck="false"
      maxlength="500"
      oninput={() => {
        refusal = undefined;
        moved = undefined;
      }}
      {onkeydown}
    />
  </label>
  <div id="{uid}-reading" aria-live="polite">
    {#if refusal}
      <p class="text-error" role="alert">{refusal}</p>
    {:else if reading.ok}
      <ul class="text-xs">
        {#each reading.entries as entry, index (index)}
          <li class="border-line flex flex-wrap gap-x-3 border-t py-1 first:border-0">
            <span class="font-semibold">{entry.quantity} × {KINDS[entry.kind].words} {sizeInWords(entry, display)}</span
            >
            <span class="text-muted">{faces(entry)}</span>
          </li>
        {/each}
      </ul>
    {:else if line.trim() !== ''}
      <p class="text-sm">
        {usual.length > 0 || kits.length > 0
          ? 'Usual parts of this name, to be checked against your own:'
          : reading.message}
      </p>
    {:else}
      <p class="text-muted text-xs">
        Thread, sky face first, then lengths. A kind in front where it is no ring: “shims 0.1 ×3 0.3”, “wheel 20, drawer
        15”, “filter 36 2 mm”, “camera T2 f 17.5”. “kit” lists what is bought together.
      </p>
    {/if}
    {#if choices.length > 0}
      <div class="mt-1 flex flex-wrap gap-1.5" role="group" aria-label="What is meant">
        {#each choices as { label }, index (index)}
          <button
            type="button"
            class={['btn btn-sm font-normal', index === chosen ? 'btn-primary' : 'btn-outline']}
            onclick={() => choose(index)}>{label}</button
          >
        {/each}
      </div>
    {/if}
  </div>
  {#if reading.ok}
    <button type="button" class="btn btn-primary btn-sm justify-self-start" onclick={enter}>{action(count)}</button>
  {/if}
</div>
