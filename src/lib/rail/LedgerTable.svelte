<script lang="ts">
  import { KINDS, isSolid, lengthOf } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { chooseBy } from './chooseBy.ts';
  import type { Stair } from './staircase.ts';

  interface Props {
    stairs: readonly Stair[];
    /** Read aloud only, on a screen wide enough for the staircase: nothing in it takes the focus there. */
    hiddenWhenWide: boolean;
  }
  const { stairs, hiddenWhenWide }: Props = $props();
  const train = useTrain();
  const display = useDisplay();
  const stairById = $derived(new Map(stairs.map((stair) => [stair.id, stair])));
  const { required, residualMm } = $derived(train.assessment.report);
  const { selection } = $derived(train);
</script>

<table class="table-sm max-sm:table-xs table" data-ledger>
  <caption class="sr-only">
    The train part by part, sky side first, with what each adds to the length behind the datum
  </caption>
  <thead>
    <tr class="text-muted">
      <th scope="col">Part</th>
      <th scope="col">Length</th>
      <th scope="col" class="text-right">Adds, {display.unit}</th>
      <th scope="col" class="text-right">Together, {display.unit}</th>
    </tr>
  </thead>
  <tbody>
    {#each train.shown.elements as element (element.id)}
      {@const stair = stairById.get(element.id)}
      {@const chosen = train.isChosen(element.id) || (selection.kind === 'joint' && selection.id === element.id)}
      <!-- The name is a button for the keys; the whole row is one for the pointer. -->
      <tr
        class={['cursor-pointer', chosen && 'bg-neutral [&_.text-muted]:text-base-content']}
        onclick={(event) => chooseBy(train, event, element.id)}
      >
        <th scope="row" class="font-normal">
          <button
            class={['link-quiet inline-flex min-h-6 min-w-6 items-center text-left', hiddenWhenWide && 'sm:hidden']}
            onclick={(event) => {
              event.stopPropagation();
              chooseBy(train, event, element.id);
            }}
          >
            {element.name}
          </button>
          {#if hiddenWhenWide}<span class="max-sm:hidden">{element.name}</span>{/if}
          <span class="text-muted block text-xs">{KINDS[element.kind].words}</span>
        </th>
        <td>
          {#if !isSolid(element)}
            open
          {:else}
            {display.number(lengthOf(element))}
            <span class="text-muted block text-xs">{stair?.grade ?? 'before the datum'}</span>
          {/if}
        </td>
        <td class="text-right">{stair ? display.number(stair.addsMm) : '—'}</td>
        <td class="text-right">{stair ? display.number(stair.endMm) : '—'}</td>
      </tr>
    {/each}
  </tbody>
  {#if required.totalMm !== null && residualMm !== null}
    <tfoot class="text-base-content">
      <tr><th scope="row" colspan="3">Required</th><td class="text-right">{display.number(required.totalMm)}</td></tr>
      <tr>
        <th scope="row" colspan="3"
          >{Math.round(residualMm * 1000) === 0 ? 'Error' : residualMm < 0 ? 'Short by' : 'Long by'}</th
        >
        <td class="text-right">{display.number(Math.abs(residualMm))}</td>
      </tr>
    </tfoot>
  {/if}
</table>
