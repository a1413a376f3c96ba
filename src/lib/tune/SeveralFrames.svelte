<script lang="ts">
  import { useFrames, type TestFrame } from '$lib/frames/frames.svelte.ts';
  import Layers from '@lucide/svelte/icons/layers';
  import { SvelteSet } from 'svelte/reactivity';
  import { stretchOfFrame } from './say.ts';
  import type { Tuning } from './tuning.svelte.ts';

  /** Frames that were taken one after another without a change: kept together, they tell how far frames differ by themselves. */
  interface Props {
    tuning: Tuning;
    disabled: boolean;
    onkeep: (frames: readonly TestFrame[]) => void;
  }
  const { tuning, disabled, onkeep }: Props = $props();
  const frames = useFrames();

  const offered = $derived(tuning.keepable(frames.list));
  /** What somebody chose otherwise than those that came in together. */
  const turned = new SvelteSet<TestFrame>();
  const isIn = (frame: TestFrame): boolean => frames.together.includes(frame) !== turned.has(frame);
  const chosen = $derived(offered.filter(isIn));
  const turn = (frame: TestFrame) => (turned.has(frame) ? turned.delete(frame) : turned.add(frame));

  function keep({ currentTarget }: { currentTarget: HTMLElement }) {
    // Kept, they are offered no longer, and this button goes with them.
    const next = currentTarget.closest('section')?.querySelector<HTMLElement>('[data-list][aria-pressed=true]');
    onkeep(chosen);
    turned.clear();
    next?.focus();
  }
</script>

{#if offered.length > 1}
  <details class="mt-1 text-sm" data-several>
    <summary class="cursor-pointer py-1">Several frames of this setup</summary>
    <p class="text-muted">
      Frames taken one after another, nothing changed between them, show how far frames differ by themselves. Ten are
      enough.
    </p>
    <ul class="mt-1 max-h-48 overflow-y-auto" aria-label="Frames of this setup">
      {#each offered as frame (frame.id)}
        <li>
          <label class="flex min-h-6 items-center gap-2 py-0.5">
            <input type="checkbox" class="checkbox checkbox-xs" checked={isIn(frame)} onchange={() => turn(frame)} />
            <span class="min-w-0 flex-1 truncate">{frame.name}</span>
            <span class="text-muted shrink-0">{stretchOfFrame(frame.summary)}</span>
          </label>
        </li>
      {/each}
    </ul>
    <button
      class="btn btn-outline btn-sm mt-1"
      data-keep-several
      disabled={disabled || chosen.length < 2}
      onclick={keep}><Layers size={15} />Keep {chosen.length < 2 ? 'them' : `these ${chosen.length} frames`}</button
    >
  </details>
{/if}
