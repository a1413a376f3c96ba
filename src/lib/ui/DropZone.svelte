<script lang="ts">
  interface Props {
    /** Shown while files hang over the page. */
    words: string;
    /** The transfer as well, for folders: it is gone once anything is waited for. */
    ondrop: (files: FileList, transfer: DataTransfer) => void;
  }
  const { words, ondrop }: Props = $props();

  // Entering a child leaves its parent: only the balance tells whether files are over the page.
  let depth = $state(0);
  const carriesFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
</script>

<svelte:window
  ondragenter={(event) => {
    if (carriesFiles(event)) depth++;
  }}
  ondragleave={(event) => {
    if (carriesFiles(event)) depth = Math.max(0, depth - 1);
  }}
  ondragover={(event) => {
    if (carriesFiles(event)) event.preventDefault();
  }}
  ondrop={(event) => {
    if (!carriesFiles(event) || !event.dataTransfer) return;
    event.preventDefault();
    depth = 0;
    // One dialog at a time: what is typed in another stays there, and is found again.
    for (const dialog of document.querySelectorAll<HTMLDialogElement>('dialog[open]')) dialog.close();
    ondrop(event.dataTransfer.files, event.dataTransfer);
  }}
/>

{#if depth > 0}
  <div
    class="border-primary bg-base-100/85 pointer-events-none fixed inset-3 z-50 grid place-items-center rounded-lg border-2 border-dashed text-lg font-semibold"
  >
    {words}
  </div>
{/if}
