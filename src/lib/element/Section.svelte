<script lang="ts">
  import type { Snippet } from 'svelte';

  interface Props {
    title: string;
    /** Shown beside the title while the section is closed. */
    gist?: string | undefined;
    open?: boolean;
    children: Snippet;
  }
  const { title, gist, open = false, children }: Props = $props();
</script>

<details class="border-line group border-t" {open}>
  <summary class="flex cursor-pointer items-baseline justify-between gap-3 py-2">
    <h3 class="font-semibold">{title}</h3>
    {#if gist}<span class="text-muted truncate text-xs group-open:invisible">{gist}</span>{/if}
  </summary>
  <div class="grid grid-cols-[minmax(0,1fr)] gap-2 pb-3">{@render children()}</div>
</details>
