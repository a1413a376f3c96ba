<script lang="ts">
  import { lengthOf, placeInWords, sameJson, type SolidElement } from '@lodestone/core/train';
  import { partLength, refreshedPart } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';

  const { element }: { element: SolidElement } = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();

  const part = $derived(element.partId === undefined ? undefined : drawer.byId.get(element.partId)?.part);
  const holders = $derived(element.partId === undefined ? [] : drawer.holders(element.partId, train.id));
  const free = $derived((part?.quantity ?? 0) - holders.length);
  /** The element as the drawer has its part now, where that is not how it stands here. */
  const refreshed = $derived.by(() => {
    const fresh = part && refreshedPart(element, part);
    return fresh && !sameJson(fresh, element) ? fresh : undefined;
  });

  /** What differs, in the words of the fields. */
  const differing = $derived.by(() => {
    if (!refreshed) return [];
    const [there, here]: Record<string, unknown>[] = [{ ...refreshed }, { ...element }];
    const keys = [...new Set([...Object.keys(there!), ...Object.keys(here!)])];
    return keys.filter((key) => !sameJson(there![key], here![key])).map((key) => placeInWords({}, `/${key}`));
  });

  function bringUpToDate() {
    if (!refreshed) return;
    const operation = { op: 'replace', id: element.id, element: refreshed } as const;
    notices.complain(train.dispatch(operation, `Bring ${element.name} up to date`));
  }
</script>

{#if element.partId !== undefined}
  <p class="mb-2 text-xs">
    {#if part}
      <a class="link-quiet font-semibold" href="/drawer/{encodeURIComponent(part.partId)}">{part.partId}</a>
      <span class="text-muted">{part.owned ? part.location || 'place not known' : 'to buy'}</span>
    {:else if drawer.isRead}
      <span class="text-muted">{element.partId} is not in the drawer (any more).</span>
    {/if}
  </p>
  {#if part && refreshed}
    <div class="text-warning mb-2 grid gap-1 text-xs" data-outdated>
      <p class="flex gap-1.5">
        <TriangleAlert size={14} class="shrink-0" />
        <span>
          {#if partLength(part) === lengthOf(element)}
            The drawer has another value: {differing.join(', ')}.
          {:else}
            The drawer has {display.length(partLength(part))} now; this train has {display.length(lengthOf(element))}.
          {/if}
        </span>
      </p>
      <button class="btn btn-outline btn-xs justify-self-start" onclick={bringUpToDate}>Bring it up to date</button>
    </div>
  {/if}
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
