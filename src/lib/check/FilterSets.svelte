<script lang="ts">
  import { addedErrors, changed } from '@lodestone/core/check';
  import type { Operation } from '@lodestone/core/train';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { USUAL_ORDERS, namesOf, orderOperation, setOf, setOperation } from '$lib/face/filterSets.ts';
  import type { Carousel } from '$lib/face/slotPlan.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { listTrains } from '$lib/train/transport.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Fold from '$lib/ui/Fold.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { onMount } from 'svelte';

  /** A wheel's filters as one: in an order one remembers, or as they are in another train. */
  const { carousel }: { carousel: Carousel } = $props();
  const train = useTrain();
  const notices = useNotices();
  const display = useDisplay();

  /** One's own order, in this browser. */
  const OWN = 'lodestone.filter-order';
  let own = $state('');
  onMount(() => {
    try {
      own = localStorage.getItem(OWN) ?? '';
    } catch {
      // Where nothing can be kept, an order holds while the page is open.
    }
  });
  function keepOwn() {
    try {
      localStorage.setItem(OWN, own);
    } catch {
      // As above.
    }
  }

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

  let others = $state.raw<readonly StoredTrain[]>();
  const look = () =>
    notices.attempt(async () => {
      const all = await listTrains();
      others = all.filter(
        ({ id, state, document }) => id !== train.id && state === 'active' && setOf(document).length > 0
      );
    });
  function take({ document }: StoredTrain) {
    const operation = setOperation(train.document, carousel, setOf(document));
    if (typeof operation === 'string') return notices.complain(operation);
    dispatch(operation, `Put in the filters of ${document.name}`);
  }
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
      keepOwn();
      arrange(own);
    }}
  >
    <input
      class="input input-xs w-48"
      aria-label="Your own order of filters"
      placeholder="Ha L R G B OIII"
      maxlength="200"
      bind:value={own}
    />
    <button class="btn btn-outline btn-xs font-normal" disabled={namesOf(own).length === 0}>My order</button>
  </form>
  <div class="mt-1.5" data-sets>
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
            <button class="btn btn-outline btn-xs shrink-0 font-normal" onclick={() => take(other)}>Put them in</button>
          </li>
        {/each}
      </ul>
    {/if}
  </div>
</Fold>
