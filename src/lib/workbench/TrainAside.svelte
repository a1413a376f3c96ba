<script lang="ts">
  import { compared, rowsApart, rowsByDifference, takenFrom } from '@lodestone/core/compare';
  import { OperationError, type Train } from '@lodestone/core/train';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import SetAside from '$lib/sync/SetAside.svelte';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { SvelteSet } from 'svelte/reactivity';
  import { changedTrain } from '$lib/train/rules.ts';
  import type { TrainSession } from '$lib/train/session.svelte.ts';

  const { session, onkeep }: { session: TrainSession; onkeep: () => void } = $props();
  const display = useDisplay();
  const drawer = useDrawer();

  const mine = $derived(session.withClashes);
  const rows = $derived(mine ? rowsApart(session.document, mine, display.unit) : []);
  /** Rows in which ours is taken. */
  const taken = new SvelteSet<string>();
  const chosen = $derived(rows.filter(({ id }) => taken.has(id)));
  const outcome = $derived.by((): Train | { refusal: string } => {
    try {
      return changedTrain(takenFrom(session.document, chosen), { op: 'batch', operations: [] });
    } catch (error) {
      if (error instanceof OperationError) return { refusal: error.message };
      throw error;
    }
  });

  const COLUMNS = ['Stored', 'Mine', 'As chosen'];
  /** What the versions come to, where they differ in it. */
  const comesTo = $derived.by(() => {
    if (!mine || 'refusal' in outcome) return [];
    const sides = [session.document, mine, outcome].map((train) => compared(train, drawer.plain));
    return rowsByDifference(sides, display.unit).differ.flatMap(({ id, title, cell }) => {
      const cells = sides.map((side) => cell(side, display.unit) ?? 'not known');
      // What none of them can be built for is the same for all.
      return new Set(cells).size === 1 ? [] : [{ id, title, cells }];
    });
  });

  let refusal = $state<string>();
  function settle() {
    refusal = session.settleClashes(chosen.map(({ operation }) => operation));
    if (refusal === undefined) taken.clear();
  }
  const takeAll = (all: boolean) => {
    for (const { id } of rows) {
      if (all) taken.add(id);
      else taken.delete(id);
    }
  };
</script>

{#snippet versions()}
  <div class="my-3 grid gap-4">
    <div class="overflow-x-auto">
      <table class="w-full text-sm" data-apart>
        <thead class="text-muted text-left text-xs">
          <tr>
            <th class="py-1 pr-3 font-normal">What two have changed</th>
            {#each [['Stored', false], ['Mine', true]] as const as [words, all] (words)}
              <th class="py-1 pr-3 font-normal">
                <button class="btn btn-ghost btn-xs -ml-2" onclick={() => takeAll(all)}>{words}: take all</button>
              </th>
            {/each}
          </tr>
        </thead>
        <tbody>
          {#each rows as { id, name, field, first, second } (id)}
            {@const about = field === undefined ? name : `${name}, ${field}`}
            <tr class="border-line border-t align-top">
              <th scope="row" class="py-1.5 pr-3 text-left font-normal">
                {name}{#if field !== undefined}<span class="text-muted block text-xs">{field}</span>{/if}
              </th>
              {#each [[first, false], [second, true]] as const as [value, isMine] (isMine)}
                <td class="py-1.5 pr-3">
                  <label class="flex min-h-6 items-start gap-2">
                    <input
                      type="radio"
                      class="radio radio-sm mt-px"
                      name="apart-{id}"
                      aria-label="{about}: {isMine ? 'mine' : 'stored'}, {value}"
                      checked={taken.has(id) === isMine}
                      onchange={() => (isMine ? taken.add(id) : taken.delete(id))}
                    />
                    <span class="break-words">{value}</span>
                  </label>
                </td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#if comesTo.length > 0}
      <div class="overflow-x-auto">
        <table class="w-full text-sm" data-comes-to>
          <thead class="text-muted text-left text-xs">
            <tr>
              <th class="py-1 pr-3 font-normal">What it comes to</th>
              {#each COLUMNS as column (column)}<th class="py-1 pr-3 font-normal">{column}</th>{/each}
            </tr>
          </thead>
          <tbody>
            {#each comesTo as { id, title, cells } (id)}
              <tr class="border-line border-t align-top">
                <th scope="row" class="text-muted py-1.5 pr-3 text-left font-normal">{title}</th>
                {#each cells as cell, at (COLUMNS[at])}
                  <td class={['py-1.5 pr-3', at === 2 && 'font-semibold']}>{cell}</td>
                {/each}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    {/if}
    {#if 'refusal' in outcome}
      <p class="text-error text-sm" role="alert">This choice makes no train. {outcome.refusal}</p>
    {:else if refusal !== undefined}
      <p class="text-error text-sm" role="alert">{refusal}</p>
    {/if}
    <div>
      <button class="btn btn-primary btn-sm" disabled={'refusal' in outcome} onclick={settle}>
        {chosen.length === 0 ? 'Leave it as it is stored' : 'Store as chosen'}
      </button>
    </div>
  </div>
{/snippet}

<SetAside
  aside={session.aside}
  oninsist={(entry) => session.insist(entry)}
  onletgo={(entry) => session.letGo(entry)}
  clashes={rows.length > 0 ? versions : undefined}
>
  {#snippet further()}
    <button class="btn btn-outline btn-sm" onclick={onkeep}>Keep mine as a train of its own</button>
  {/snippet}
</SetAside>
