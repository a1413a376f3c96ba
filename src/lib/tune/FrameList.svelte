<script lang="ts">
  import Columns2 from '@lucide/svelte/icons/columns-2';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { figure, stateInWords } from './say.ts';

  /** The test frames there are, how each stands, and those this browser keeps. */
  const frames = useFrames();
  const notices = useNotices();
  const kept = $derived(frames.list.filter(({ keptId }) => keptId !== undefined).length);
</script>

<ul class="mt-2" aria-label="Test frames">
  {#each frames.list as frame (frame.id)}
    {@const isChosen = frame === frames.chosen}
    <li class={['border-line flex items-center gap-2 border-t', isChosen && 'bg-base-300/40']}>
      <button
        class="min-w-0 flex-1 py-1.5 pl-1 text-left"
        aria-current={isChosen}
        data-frame={frame.name}
        data-state={frame.state}
        onclick={() => frames.choose(frame)}
      >
        <span class="block truncate">{frame.name}</span>
        <span class={['block truncate text-xs', frame.state === 'failed' ? 'text-error' : 'text-muted']}
          >{frame.summary
            ? `${frame.summary.field.count} stars, HFR ${figure(frame.summary.field.hfrPx, 2)}: `
            : ''}{stateInWords(frame)}</span
        >
      </button>
      {#if frame.state === 'reading' || frame.state === 'waiting'}
        <progress class="progress w-16" max="1" value={frame.progress} aria-label="Reading {frame.name}"></progress>
        <button
          class="btn btn-ghost btn-xs btn-square"
          aria-label="Cancel {frame.name}"
          onclick={() => frames.cancel(frame)}><X size={14} /></button
        >
      {:else}
        {#if !isChosen && frame.summary}
          <button
            class={['btn btn-xs btn-square', frame === frames.other ? 'btn-primary' : 'btn-ghost']}
            aria-pressed={frame === frames.other}
            aria-label="Compare with {frame.name}"
            title="Compare: C"
            onclick={() => frames.compare(frame === frames.other ? undefined : frame)}><Columns2 size={14} /></button
          >
        {/if}
        <button
          class="btn btn-ghost btn-xs btn-square"
          aria-label="Remove {frame.name}"
          onclick={() => void notices.attempt(() => frames.remove(frame))}><Trash2 size={14} /></button
        >
      {/if}
    </li>
  {/each}
</ul>
<!-- Below: it comes while frames are read, and would move what is clicked. -->
{#if kept > 0}
  <p class="text-muted mt-2 flex flex-wrap items-center justify-between gap-2 text-xs" data-kept={kept}>
    {kept === 1 ? 'One frame is' : `${kept} frames are`} kept in this browser.
    <button class="btn btn-ghost btn-xs font-normal" onclick={() => void notices.attempt(() => frames.forgetKept())}
      >Remove {kept === 1 ? 'it' : 'them'}</button
    >
  </p>
{/if}
