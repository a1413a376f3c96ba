<script lang="ts">
  import { addedErrors, changed } from '@lodestone/core/check';
  import { standingIn } from '@lodestone/core/train';
  import { filterGlass } from '@lodestone/core/drawer';
  import { emptySlot, fillSlot, spreadOperation, type Carousel } from '$lib/face/slotPlan.ts';
  import FilterSets from './FilterSets.svelte';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  const { carousel }: { carousel: Carousel | undefined } = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();
  const drawer = useDrawer();

  /** Filters of the drawer that no assembled train holds, and that do not stand in this one. */
  const filters = $derived.by(() => {
    const here = standingIn(train.document);
    return drawer.free(train.id).filter((part) => filterGlass(part) && part.quantity > (here.get(part.partId) ?? 0));
  });

  /** Puts a filter into a slot, unless it does not go there: then it says why. */
  function put(slot: number, partId: string) {
    const part = filters.find((each) => each.partId === partId);
    const operation = carousel && part && fillSlot(train.document, carousel, slot, part);
    if (!operation) return;
    const after = changed(train.assessment, operation);
    const [wrong] = after ? addedErrors(train.assessment, after) : [];
    notices.complain(wrong ? wrong.say(display.unit) : train.dispatch(operation, `Put ${partId} into slot ${slot}`));
  }
  function takeOut(slot: number) {
    const operation = carousel && emptySlot(train.document, carousel, slot);
    if (operation) notices.complain(train.dispatch(operation, `Empty slot ${slot}`));
  }

  const spread = $derived(carousel && spreadOperation(train.document, carousel));
  const grams = (mass: number) => `${mass.toFixed(1)} g`;

  function keepEmpty(slot: number, kept: boolean) {
    if (!carousel) return;
    const slots = kept ? [...carousel.keepEmpty, slot] : carousel.keepEmpty.filter((each) => each !== slot);
    notices.complain(
      train.dispatch(
        {
          op: 'set',
          at: carousel.id,
          path: ['holder', 'keepEmpty'],
          to: slots.length === 0 ? undefined : slots.toSorted((a, b) => a - b)
        },
        kept ? `Keep slot ${slot} empty` : `Slot ${slot} may be used`
      )
    );
  }
</script>

<h2 class="mb-1.5 text-base font-semibold">Slots</h2>
{#if carousel}
  <p class="mb-2 text-xs" data-imbalance>
    {carousel.name}: {carousel.imbalance.resultantG < 0.05
      ? 'in balance'
      : `out of balance as by ${grams(carousel.imbalance.resultantG)} in one slot`}{carousel.isAssumed
      ? ', filters of unstated mass counted as 10 g each'
      : ''}. Slots are counted clockwise, seen from the camera.
  </p>
  {#if spread}
    <button
      class="btn btn-outline btn-xs mb-2"
      onclick={() => notices.complain(train.dispatch(spread.operation, 'Spread the filters'))}
      >Spread them, same order: {spread.resultantG < 0.05 ? 'in balance' : grams(spread.resultantG)}</button
    >
  {/if}
  <table class="w-full text-xs" aria-label="Slots of {carousel.name}">
    <tbody>
      {#each Array.from({ length: carousel.slots }, (_, at) => at + 1) as slot (slot)}
        {@const filter = carousel.filters.find((each) => each.slot === slot)}
        <tr class="border-line border-t">
          <td class="text-muted w-8 py-1">{slot}</td>
          <td class={[slot === carousel.inBeam && 'font-semibold']}
            >{filter?.name ?? 'empty'}{slot === carousel.inBeam ? ', the spacing is made for it' : ''}</td
          >
          <td class="text-right whitespace-nowrap">{filter?.isGlass ? grams(filter.massG) : ''}</td>
          <td class="w-36 text-right">
            {#if filter?.isGlass}
              <button
                class="btn btn-ghost btn-xs font-normal"
                aria-label="Remove {filter.name} from slot {slot}"
                onclick={() => takeOut(slot)}>remove</button
              >
            {:else}
              {#if filters.length > 0 && !carousel.keepEmpty.includes(slot)}
                <select
                  class="select select-xs w-24"
                  aria-label="Put a filter into slot {slot}"
                  value=""
                  onchange={({ currentTarget }) => {
                    put(slot, currentTarget.value);
                    currentTarget.value = '';
                  }}
                >
                  <option value="">put in …</option>
                  {#each filters as { partId, element } (partId)}<option value={partId}>{partId}, {element.name}</option
                    >{/each}
                </select>
              {/if}
              <label class="inline-flex items-center gap-1.5"
                ><input
                  type="checkbox"
                  class="checkbox checkbox-xs"
                  checked={carousel.keepEmpty.includes(slot)}
                  onchange={({ currentTarget: { checked } }) => keepEmpty(slot, checked)}
                />stays empty</label
              >
            {/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  <FilterSets {carousel} />
{:else}
  <p class="text-muted">
    No part here has slots. Give the filters of a wheel their slots, and they are shown on the face.
  </p>
{/if}
