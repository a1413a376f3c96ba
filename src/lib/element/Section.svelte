<script lang="ts">
  import { untrack, type Snippet } from 'svelte';

  interface Props {
    title: string;
    /** Shown beside the title while the section is closed. */
    gist?: string | undefined;
    open?: boolean;
    /** Its content is made only once it is open: for what is costly to keep up to date. */
    lazy?: boolean;
    children: Snippet;
  }
  const { title, gist, open = false, lazy = false, children }: Props = $props();
  let unfolded = $state(untrack(() => open));
</script>

<details class="border-line group border-t" {open} ontoggle={({ currentTarget }) => (unfolded = currentTarget.open)}>
  <summary class="flex cursor-pointer items-baseline justify-between gap-3 py-2">
    <h3 class="font-semibold">{title}</h3>
    {#if gist}<span class="text-muted truncate text-xs group-open:invisible">{gist}</span>{/if}
  </summary>
  <div class="grid grid-cols-[minmax(0,1fr)] gap-2 pb-3">
    {#if unfolded || !lazy}{@render children()}{/if}
  </div>
</details>
