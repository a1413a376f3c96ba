<script lang="ts">
  import type { FocusPoint } from '@lodestone/core/focus';
  import FrameFiles from '$lib/frames/FrameFiles.svelte';
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import Camera from '@lucide/svelte/icons/camera';
  import FileUp from '@lucide/svelte/icons/file-up';
  import type { FrameForm } from './frameForm.svelte.ts';

  /** The next frame of a run: typed, only seen, read from a file, or taken by the camera that ships. */
  interface Props {
    form: FrameForm;
    /** There is a frame before this one to compare with. */
    hasBefore: boolean;
    busy?: boolean;
    /** Takes it with the camera that ships; left out where that has none. */
    onsimulate?: () => void;
  }
  const { form, hasBefore, busy = false, onsimulate }: Props = $props();
  const frames = useFrames();
  const uid = $props.id();
  let hfrInput = $state<HTMLInputElement>();
  let files: FrameFiles;

  const AGAINST_BEFORE = [
    ['smaller', 'Smaller'],
    ['same', 'The same'],
    ['larger', 'Larger']
  ] as const;

  function add(event: SubmitEvent) {
    event.preventDefault();
    const { submitter } = event;
    const seen = submitter instanceof HTMLButtonElement && submitter.value !== '' ? submitter.value : undefined;
    if (form.add(seen as FocusPoint['seen'])) hfrInput?.focus();
  }
</script>

<form class="mt-3 grid grid-cols-2 items-end gap-2" onsubmit={add}>
  <label class="grid gap-0.5 text-sm" for="{uid}-position"
    >position
    <input
      id="{uid}-position"
      class="input input-lg w-full text-right text-xl"
      inputmode="numeric"
      autocomplete="off"
      bind:value={form.position}
    /></label
  >
  <label class="grid gap-0.5 text-sm" for="{uid}-hfr"
    >HFR, px
    <input
      bind:this={hfrInput}
      id="{uid}-hfr"
      class="input input-lg w-full text-right text-xl"
      inputmode="decimal"
      autocomplete="off"
      bind:value={form.hfr}
    /></label
  >
  <label class="grid gap-0.5 text-sm" for="{uid}-star"
    >star
    <input id="{uid}-star" class="input w-full" autocomplete="off" placeholder="one" bind:value={form.star} /></label
  >
  <label
    class="flex h-10 items-center gap-2 text-sm"
    title="The star is larger than can be measured: the value is the least it can be."
    ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={form.isCeiling} />at least</label
  >
  <button class="btn btn-primary btn-lg col-span-2" value="">Add the frame</button>
  <div
    class="col-span-2 flex flex-wrap gap-1"
    role="group"
    aria-label="Not measured: the star against the frame before"
  >
    {#if hasBefore}
      {#each AGAINST_BEFORE as [value, label] (value)}
        <button class="btn btn-outline btn-sm" {value} data-seen={value}>{label}</button>
      {/each}
    {/if}
    <button class="btn btn-outline btn-sm" value="nothing" data-seen="nothing">No star seen</button>
  </div>
</form>
{#if form.fromFrame !== undefined}
  <p class="text-muted mt-1 text-sm" data-from-frame>Read from {form.fromFrame}. Right? Add the frame.</p>
{/if}
{#if form.message !== undefined}<p class="text-error mt-1" role="alert">{form.message}</p>{/if}
<div class="mt-3 flex flex-wrap gap-2">
  {#if onsimulate}
    <button
      class="btn btn-outline flex-1"
      disabled={busy}
      title="The focuser and camera that ship: X"
      data-simulate
      onclick={onsimulate}><Camera size={18} />{busy ? 'Moving …' : 'Simulate it'}</button
    >
  {/if}
  <button class="btn btn-outline flex-1" onclick={() => files.open()}
    ><FileUp size={18} />{frames.list.some(({ state }) => state === 'reading' || state === 'waiting')
      ? 'Reading …'
      : 'Read a frame'}</button
  >
</div>
<FrameFiles bind:this={files} />
