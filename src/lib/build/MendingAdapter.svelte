<script lang="ts">
  import { adapterInWords, isSuchAdapter, type Adapter } from '@lodestone/core/joint';
  import { partLength, type Part } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { placingBefore } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  interface Props {
    adapter: Adapter;
    /** Element before which it goes in. */
    before: string;
  }
  const { adapter, before }: Props = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();

  const SHOWN = 3;
  const such = $derived(
    drawer.plain
      .filter((part) => part.state !== 'set-aside' && isSuchAdapter(part.element, adapter))
      .sort((a, b) => Number(b.owned) - Number(a.owned) || partLength(a) - partLength(b))
  );

  function place(part: Part) {
    notices.complain(train.dispatch(placingBefore(train.document, part, before), `Place ${part.partId}`));
  }
</script>

<div class="border-line mt-2 border-l-2 pl-3">
  {#each such.slice(0, SHOWN) as part (part.partId)}
    <p class="flex items-center justify-between gap-2 py-0.5">
      <span class="min-w-0">
        <span class="font-semibold">{part.partId}</span>
        {display.length(partLength(part))}
        <span class="text-muted block text-xs">{part.owned ? part.location : 'to buy'}</span>
      </span>
      <button class="btn btn-primary btn-xs" onclick={() => place(part)}>Place {part.partId}</button>
    </p>
  {:else}
    <p class="text-muted text-xs">No part of the drawer is a {adapterInWords(adapter)}.</p>
  {/each}
</div>
