<script lang="ts" module>
  const KEPT_AS = 'lodestone.notes';
  const EXAMPLE = '115 f/7, 0.79x reducer 58.3, OAG 17.2 M54 f–m, wheel 21.6, cam 12.5';
</script>

<script lang="ts">
  import { MOST_NOTE_CHARS, type NotePiece } from '@lodestone/core/catalogue';
  import { HOST_KIND_WORDS, KINDS, type Train } from '@lodestone/core/train';
  import { capitalised } from '@lodestone/core/why';
  import { facesInWords, sizeInWords } from '$lib/parts/quickWords.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { reasonOf } from '$lib/api/reason.ts';
  import { onMount } from 'svelte';
  import { Notes } from './notes.svelte.ts';
  import StartAside from './StartAside.svelte';

  const { oncreate }: { oncreate: (train: Train) => Promise<void> } = $props();
  const display = useDisplay();
  const notes = new Notes();
  let message = $state<string>();
  let busy = $state(false);
  let area: HTMLTextAreaElement;

  onMount(() => {
    notes.text = sessionStorage.getItem(KEPT_AS) ?? '';
    area.focus();
  });
  let mounted = false;
  $effect(() => {
    const { text } = notes;
    if (mounted) sessionStorage.setItem(KEPT_AS, text);
    mounted = true;
  });

  const DATUM = { shoulder: 'shoulder', 'thread-tip': 'thread tip', 'last-surface': 'last glass surface' } as const;

  function understood(piece: NotePiece): string {
    switch (piece.is) {
      case 'host': {
        const { kind, apertureMm, focalLengthMm, bayonet, name } = piece.host;
        const words = `${HOST_KIND_WORDS[kind ?? 'refractor']}${kind ? '' : ' (assumed)'}`;
        return `${name ? `${name}, ${words}` : capitalised(words)}, aperture ${display.length(apertureMm, 1)}, focal length ${display.length(focalLengthMm, 0)}${bayonet ? `, bayonet ${bayonet}` : ''}`;
      }
      case 'corrector': {
        const { backFocusMm, magnification, datum, name } = piece.corrector;
        const asks =
          backFocusMm === undefined
            ? 'back focus not known'
            : `back focus ${display.length(backFocusMm)} from its ${DATUM[datum ?? 'shoulder']}`;
        const faces = facesInWords(piece.faces);
        return [name || 'Corrector', magnification && `${magnification}×`, asks, faces].filter(Boolean).join(', ');
      }
      case 'camera': {
        const face = facesInWords(piece.camera);
        return `${piece.name || 'Camera'}, ${display.length(piece.camera.lengthMm)} from its flange to the sensor${face ? `, sky face ${face}` : ''}`;
      }
      case 'parts':
        return piece.entries
          .map((entry) => {
            const many = entry.quantity > 1 ? `${entry.quantity} × ` : '';
            const what = capitalised(`${piece.name ? `${piece.name} ` : ''}${KINDS[entry.kind].words}`);
            return [`${many}${what} ${sizeInWords(entry, display)}`, facesInWords(entry)].filter(Boolean).join(', ');
          })
          .join('; ');
      case 'note':
        return 'Kept as a note of the train.';
      case 'question':
        return piece.message;
    }
  }

  async function submit(event: SubmitEvent | KeyboardEvent) {
    event.preventDefault();
    if (busy) return;
    if (!notes.train) {
      message = notes.complaint ?? `Still needed: ${notes.missing}.`;
      return area.focus();
    }
    busy = true;
    try {
      await oncreate(notes.train);
      sessionStorage.removeItem(KEPT_AS);
    } catch (error) {
      message = reasonOf(error);
    } finally {
      busy = false;
    }
  }
</script>

<form
  class="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,24rem)]"
  onsubmit={submit}
  oninput={() => (message = undefined)}
  data-notes
>
  <div class="grid content-start gap-4">
    <label class="grid gap-1">
      <span class="font-semibold">Your notes</span>
      <textarea
        bind:this={area}
        bind:value={notes.text}
        class="textarea h-36 w-full"
        placeholder={EXAMPLE}
        maxlength={MOST_NOTE_CHARS}
        spellcheck="false"
        onkeydown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void submit(event);
        }}></textarea>
      <span class="text-muted text-xs">
        From the telescope to the camera or the other way round, a piece a line or parted by commas; numbers are
        millimetres. Ctrl Enter creates the train.
      </span>
    </label>
    {#if notes.pieces.length > 0}
      <ul class="border-line divide-line divide-y border-y" aria-label="What was understood" aria-live="polite">
        {#each notes.pieces as piece, index (index)}
          <li class="grid gap-x-4 gap-y-1 py-2 sm:grid-cols-[minmax(0,1fr)_minmax(0,2fr)]" data-piece={piece.is}>
            <span class="font-mono text-xs leading-5 break-words">{piece.text}</span>
            <div class="grid gap-1.5">
              <span class={['text-sm', piece.is === 'question' ? 'font-semibold' : 'text-muted']}>
                {understood(piece)}
              </span>
              {#if piece.choices.length > 0}
                <div class="flex flex-wrap gap-1.5" role="group" aria-label="What “{piece.text}” means">
                  {#each piece.choices as { label, text } (label)}
                    <button
                      type="button"
                      class="btn btn-outline btn-sm font-normal"
                      onclick={() => {
                        notes.text = text;
                        area.focus();
                      }}>{label}</button
                    >
                  {/each}
                </div>
              {/if}
            </div>
          </li>
        {/each}
      </ul>
      {#if notes.reading.turned}
        <p class="text-muted text-xs">Read from the camera to the telescope.</p>
      {/if}
    {/if}
  </div>

  <StartAside start={notes} bind:name={notes.name} suggestedName={notes.train?.name ?? 'New train'} {message} {busy} />
</form>
