<script lang="ts">
  import { addedErrors, changed } from '@lodestone/core/check';
  import { TRAIN, type Operation } from '@lodestone/core/train';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import {
    USUAL_ORDERS,
    drawerSets,
    namesOf,
    orderOperation,
    setOf,
    setOperation,
    type DrawerSet
  } from '$lib/face/filterSets.ts';
  import type { Carousel } from '$lib/face/slotPlan.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { listTrains } from '$lib/train/transport.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Fold from '$lib/ui/Fold.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  /** A wheel’s filters as one: in an order one remembers, as they lie in the drawer, or as they are in another train. */
  const { carousel }: { carousel: Carousel } = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const notices = useNotices();
  const display = useDisplay();

  /** The order their owner keeps them in, until it is typed otherwise. */
  const kept = $derived((train.document.filterOrder ?? []).join(' '));
  let typed = $state<string>();
  const own = $derived(typed ?? kept);

  function dispatch(operation: Operation, label: string) {
    const after = changed(train.assessment, operation);
    const [wrong] = after ? addedErrors(train.assessment, after) : [];
    notices.complain(wrong ? wrong.say(display.unit) : train.dispatch(operation, label));
  }
  function arrange(order: string) {
    const operation = orderOperation(train.document, carousel, namesOf(order));
    if (!operation) return notices.say('The filters are in this order already.');
    dispatch(operation, 'Order the filters');
  }

  /** Keeps the order with the train, and puts the filters in it. */
  function arrangeOwn() {
    const to = namesOf(own);
    const keeping: Operation[] = own === kept ? [] : [{ op: 'set', at: TRAIN, path: ['filterOrder'], to }];
    const moving = orderOperation(train.document, carousel, to);
    if (keeping.length === 0 && !moving) return notices.say('The filters are in this order already.');
    dispatch({ op: 'batch', operations: [...keeping, ...(moving ? [moving] : [])] }, 'Order the filters');
    typed = undefined;
  }

  const inDrawer = $derived(drawerSets(drawer.plain));
  const putIn = (set: DrawerSet['filters'], from: string) => {
    const operation = setOperation(train.document, carousel, set);
    if (typeof operation === 'string') return notices.complain(operation);
    dispatch(operation, `Put in the filters of ${from}`);
  };

  let others = $state.raw<readonly StoredTrain[]>();
  const look = () =>
    notices.attempt(async () => {
      const all = await listTrains();
      others = all.filter(
        ({ id, state, document }) => id !== train.id && state === 'active' && setOf(document).length > 0
      );
    });
</script>

<Fold title="As a set" class="mt-2 text-xs" titleClass="font-semibold">
  <div class="flex flex-wrap gap-1.5">
    {#each USUAL_ORDERS as [title, order] (order)}
      <button class="btn btn-outline btn-xs font-normal" onclick={() => arrange(order)}>{title}</button>
    {/each}
  </div>
  <form
    class="mt-1.5 flex flex-wrap items-center gap-1.5"
    onsubmit={(event) => {
      event.preventDefault();
      arrangeOwn();
    }}
  >
    <input
      class="input input-xs w-48"
      aria-label="Your own order of filters"
      placeholder="Ha L R G B OIII"
      maxlength="200"
      value={own}
      oninput={({ currentTarget }) => (typed = currentTarget.value)}
    />
    <button class="btn btn-outline btn-xs font-normal" disabled={namesOf(own).length === 0}>My order</button>
  </form>
  <div class="mt-1.5" data-sets>
    {#if inDrawer.length > 0}
      <ul class="mb-1 grid gap-1" data-drawer-sets>
        {#each inDrawer as { location, filters } (location)}
          <li class="flex items-center justify-between gap-2">
            <span class="min-w-0 truncate">{location}: {filters.map(({ name }) => name).join(', ')}</span>
            <button class="btn btn-outline btn-xs shrink-0 font-normal" onclick={() => putIn(filters, location)}
              >Put them in</button
            >
          </li>
        {/each}
      </ul>
    {/if}
    {#if others === undefined}
      <button class="btn btn-outline btn-xs font-normal" onclick={() => void look()}>Filters of another train …</button>
    {:else if others.length === 0}
      <p class="text-muted">No other train has filters in slots.</p>
    {:else}
      <ul class="grid gap-1">
        {#each others as other (other.id)}
          <li class="flex items-center justify-between gap-2">
            <span class="min-w-0 truncate"
              >{other.document.name}: {setOf(other.document)
                .map(({ name, slot }) => name ?? `slot ${slot}`)
                .join(', ')}</span
            >
            <button
              class="btn btn-outline btn-xs shrink-0 font-normal"
              onclick={() => putIn(setOf(other.document), other.document.name)}>Put them in</button
            >
          </li>
        {/each}
      </ul>
    {/if}
  </div>
</Fold>
