<script lang="ts">
  import RotateCw from '@lucide/svelte/icons/rotate-cw';
  import X from '@lucide/svelte/icons/x';
  import { useFrames, type TestFrame } from '$lib/frames/frames.svelte.ts';

  /** A frame that is being read, waits for a choice, or could not be read. */
  const { frame }: { frame: TestFrame } = $props();
  const frames = useFrames();
</script>

<div class="grid flex-1 place-content-center gap-3 p-6 text-center" data-frame-state={frame.state}>
  <p class={['text-lg', frame.state === 'failed' && 'text-error']}>
    {frame.state === 'failed' ? frame.message : frame.state === 'cancelled' ? 'Cancelled.' : `Reading ${frame.name}`}
  </p>
  {#if frame.state === 'reading' || frame.state === 'waiting'}
    <progress class="progress progress-primary w-72" max="1" value={frame.progress} aria-label="Reading"></progress>
    <button class="btn btn-outline btn-sm mx-auto" onclick={() => frames.cancel(frame)}><X size={15} />Cancel</button>
  {:else if frame.pictures.length > 0}
    <div class="flex flex-wrap justify-center gap-2" role="group" aria-label="Which picture is meant">
      {#each frame.pictures as { number, name, widthPx, heightPx } (number)}
        <button class="btn btn-outline btn-sm" onclick={() => frames.choosePicture(frame, number)}
          >{name === '' ? `Picture ${number}` : name}
          <span class="text-muted text-xs">{widthPx} × {heightPx}</span></button
        >
      {/each}
    </div>
  {:else if frame.mayRetry}
    <button class="btn btn-outline btn-sm mx-auto" onclick={() => frames.retry(frame)}
      ><RotateCw size={15} />Try again</button
    >
  {/if}
</div>
