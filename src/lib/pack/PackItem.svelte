<script lang="ts">
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import X from '@lucide/svelte/icons/x';
  import type { Item, Packer, Round } from './packer.svelte.ts';

  /** One line of a packing list, to tick off. */
  interface Props {
    packer: Packer;
    item: Item;
    round: Round;
    /** What stands at its end: where it lies, or which train it is for. */
    aside: string | null;
  }
  const { packer, item, round, aside }: Props = $props();
  const notices = useNotices();
  const { key, what, group } = $derived(item);
  const isTicked = $derived(packer.isTicked(round, key));
</script>

<li class="border-line flex items-center border-t">
  <label class="flex min-h-11 flex-1 items-center gap-3 py-1"
    ><input
      type="checkbox"
      class="checkbox"
      checked={isTicked}
      onchange={({ currentTarget: { checked } }) => notices.complain(packer.tick(round, key, checked))}
    /><span class={['min-w-0 flex-1 wrap-anywhere', isTicked && 'text-muted']}>{what}</span>
    {#if aside}<span class="text-muted text-sm">{aside}</span>{/if}</label
  >
  {#if group === 'caps'}
    <button
      class="btn btn-ghost btn-sm btn-square print:hidden"
      aria-label="Remove {what} from the list"
      onclick={() => notices.complain(packer.drop(what))}><X size={13} /></button
    >
  {/if}
</li>
