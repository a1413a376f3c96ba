<script lang="ts">
  import type { SolidElement } from '@lodestone/core';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { TriangleAlert } from '@lucide/svelte';

  const { element }: { element: SolidElement } = $props();
  const train = useTrain();
  const drawer = useDrawer();

  const part = $derived(element.partId === undefined ? undefined : drawer.byId.get(element.partId)?.part);
  const holders = $derived(element.partId === undefined ? [] : drawer.holders(element.partId, train.id));
  const free = $derived((part?.quantity ?? 0) - holders.length);
</script>

{#if element.partId !== undefined}
  <p class="mb-2 text-xs">
    {#if part}
      <a class="link-quiet font-semibold" href="/drawer/{encodeURIComponent(part.partId)}">{part.partId}</a>
      <span class="text-muted">{part.owned ? part.location || 'place not known' : 'to buy'}</span>
    {:else if drawer.everRead}
      <span class="text-muted">{element.partId} is not in the drawer (any more).</span>
    {/if}
  </p>
  {#if part && free <= 0}
    <p class="text-warning mb-2 flex gap-1.5 text-xs" data-held>
      <TriangleAlert size={14} class="shrink-0" />
      <span>
        {part.quantity > 1 ? 'Every copy' : 'It'} is in {[...new Set(holders.map(({ trainName }) => trainName))].join(
          ', '
        )}, which is assembled.
      </span>
    </p>
  {:else if part?.state === 'set-aside'}
    <p class="text-warning mb-2 flex gap-1.5 text-xs">
      <TriangleAlert size={14} class="shrink-0" />It is set aside{part.element.note ? `: ${part.element.note}` : '.'}
    </p>
  {/if}
{/if}
