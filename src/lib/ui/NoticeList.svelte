<script lang="ts">
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import X from '@lucide/svelte/icons/x';
  import { useNotices } from './notices.svelte.ts';

  const notices = useNotices();
</script>

<div class="fixed inset-x-0 bottom-4 z-50 flex flex-col items-center gap-2 px-4" role="status" aria-live="polite">
  {#each notices.shown.filter(({ stands }) => stands?.() ?? true) as { id, text, tone, action } (id)}
    <div class={['panel flex max-w-xl items-center gap-3 px-4 py-2 shadow-lg', tone === 'error' && 'border-error']}>
      {#if tone === 'error'}<TriangleAlert size={16} class="text-error shrink-0" />{/if}
      <span>{text}</span>
      {#if action}
        <button
          class="btn btn-primary btn-sm"
          onclick={() => {
            notices.close(id);
            action.run();
          }}
        >
          {action.label}
        </button>
      {/if}
      <button class="btn btn-ghost btn-xs btn-square" aria-label="Close this message" onclick={() => notices.close(id)}>
        <X size={14} />
      </button>
    </div>
  {/each}
</div>
