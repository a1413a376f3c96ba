<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import type { Snippet } from 'svelte';

  interface Props {
    title: string;
    open: boolean;
    /** For more than a form: with a table, or with a drawing beside it. */
    wide?: boolean | 'drawing';
    onclose?: () => void;
    children: Snippet;
  }
  let { title, open = $bindable(), wide = false, onclose, children }: Props = $props();

  let dialog: HTMLDialogElement;
  $effect(() => {
    if (open && !dialog.open) dialog.showModal();
    if (!open && dialog.open) dialog.close();
  });

  function closed() {
    open = false;
    onclose?.();
  }
</script>

<dialog bind:this={dialog} class="modal" aria-label={title} onclose={closed}>
  {#if open}
    <div
      class={['modal-box panel max-h-[85dvh] p-5', wide === 'drawing' ? 'max-w-6xl' : wide ? 'max-w-2xl' : 'max-w-lg']}
    >
      <header class="mb-3 flex items-center justify-between">
        <h2 class="text-lg font-semibold">{title}</h2>
        <button class="btn btn-ghost btn-sm btn-square" aria-label="Close" onclick={() => dialog.close()}>
          <X size={16} />
        </button>
      </header>
      {@render children()}
    </div>
    <form method="dialog" class="modal-backdrop"><button tabindex="-1">Close</button></form>
  {/if}
</dialog>
