<script lang="ts">
  import { residualInWords } from '@lodestone/core/why';
  import type { Sharing } from '@lodestone/core/finder';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { listTrains, sendSave } from '$lib/train/transport.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import { emptyAgain, fillTrains } from './fillTrains.ts';
  import type { Finder } from './finder.svelte.ts';

  const { finder, ontaken }: { finder: Finder; ontaken: () => void } = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();

  /** This train and two more: what people change over between. */
  const MOST_OTHERS = 2;
  let others = $state.raw<readonly StoredTrain[]>();
  let chosenIds = $state<string[]>([]);
  let sharing = $state<Sharing>('apart');
  let saving = $state(false);

  async function open(event: Event & { currentTarget: HTMLDetailsElement }) {
    if (!event.currentTarget.open) return;
    await notices.attempt(async () => {
      others = (await listTrains()).filter(({ id, state }) => id !== train.id && state === 'active');
      chosenIds = chosenIds.filter((id) => others?.some((other) => other.id === id));
    });
  }

  async function search() {
    // Trains may have been changed in another window since they were listed.
    await notices.attempt(async () => {
      others = (await listTrains()).filter(({ id, state }) => id !== train.id && state === 'active');
      const chosen = others.filter(({ id }) => chosenIds.includes(id));
      if (chosen.length > 0) await finder.searchTogether(chosen, sharing);
    });
  }

  const found = $derived(finder.together?.found);
  const names = $derived([
    train.document.name,
    ...(finder.together?.others ?? []).map(({ document }) => document.name)
  ]);
  const howMany = (count: number): string => (count === 2 ? 'both' : `all ${count}`);
  const listed = new Intl.ListFormat('en');

  /** Fills every train: this one as a step here, the others as revisions of their own. */
  async function takeAll() {
    const { best } = found ?? {};
    if (!best || !finder.together || saving) return;
    const { others: trains } = finder.together;
    saving = true;
    await notices.attempt(async () => {
      const filled = await fillTrains(trains, best.stacks.slice(1), sendSave);
      const refusal = finder.take(0);
      if (refusal) {
        await emptyAgain(filled, sendSave);
        throw new Error(refusal);
      }
      const filledNames = listed.format(trains.map(({ document }) => document.name));
      notices.say(`Filled ${filledNames} too.`, {
        label: `Undo in ${filledNames}`,
        run: () => void notices.attempt(() => emptyAgain(filled, sendSave))
      });
      ontaken();
    });
    saving = false;
  }
</script>

<details class="border-line mb-2 border-y py-1 text-xs" ontoggle={open}>
  <summary class="cursor-pointer">Together with other trains</summary>
  <div class="mt-1 grid gap-1.5">
    {#if others?.length === 0}
      <p class="text-muted">There is no other train. Two trains that share this drawer can be filled at once.</p>
    {:else if others}
      <fieldset class="grid gap-0.5">
        <legend class="text-muted">One or two that share the drawer:</legend>
        {#each others as { id, document } (id)}
          <label class="flex items-center gap-1.5">
            <input
              type="checkbox"
              class="checkbox checkbox-xs"
              value={id}
              bind:group={chosenIds}
              disabled={chosenIds.length >= MOST_OTHERS && !chosenIds.includes(id)}
            />
            <span class="truncate">{document.name}</span>
          </label>
        {/each}
      </fieldset>
      <select class="select select-xs w-full" aria-label="What the trains are to share" bind:value={sharing}>
        <option value="apart">all can be assembled at once: no part twice</option>
        <option value="changeover">changed over with the fewest parts moved</option>
      </select>
      <button
        class="btn btn-outline btn-xs justify-self-start"
        disabled={chosenIds.length === 0}
        onclick={() => void search()}>Find for {howMany(chosenIds.length + 1)}</button
      >
    {/if}
    {#if found}
      {#if found.best}
        <table class="w-full" aria-label="Stacks of the trains">
          <tbody>
            {#each found.best.stacks as { gaps, residualMm, dials }, index (index)}
              {@const ids = gaps.flatMap(({ placed }) => placed.map(({ part }) => part.partId))}
              <tr class="align-top">
                <th scope="row" class="pr-2 text-left font-semibold">{names[index]}</th>
                <td>
                  {ids.length === 0 ? 'nothing to put in' : ids.join(' + ')}{#each dials as { id, setMm }, at (at)}, {id}
                    at {display.length(setMm)}{/each}
                </td>
                <td class="text-success pl-2 text-right whitespace-nowrap">
                  {residualMm === null ? 'closes' : residualInWords(residualMm, display.unit)}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p>
          {#if finder.together?.sharing === 'changeover'}
            {found.best.moves === 0
              ? 'Nothing has to be moved.'
              : `${found.best.moves} ${found.best.moves === 1 ? 'part' : 'parts'} to remove or add.`}
          {/if}
          <span class="text-muted"
            >{found.exhausted
              ? 'Searched completely: no choice is better.'
              : `Searched completely only among stacks of at most ${found.weighedPieces} pieces each.`}</span
          >
        </p>
        <button class="btn btn-primary btn-xs justify-self-start" disabled={saving} onclick={() => void takeAll()}
          >Put them into {howMany(names.length)}</button
        >
      {:else}
        <p class="text-error">
          {#if found.without.length > 0}
            {listed.format(found.without.map((index) => names[index] ?? ''))}
            {found.without.length === 1 ? 'has' : 'have'} no stack within tolerance, even alone.
          {:else}
            No way was found to bring all of them within tolerance from this drawer.
          {/if}
        </p>
      {/if}
      {#if found.collisions.length > 0}
        <p class="text-warning flex gap-1.5" data-collisions>
          <TriangleAlert size={13} class="mt-0.5 shrink-0" />
          <span>
            They cannot be assembled at once, whatever fills the gaps: {listed.format(
              found.collisions.map(
                ({ partId, trains, copies }) =>
                  `${partId} (${copies === 1 ? 'one copy' : `${Math.max(0, copies)} copies`}) is in ${listed.format(trains.map((index) => names[index] ?? ''))}`
              )
            )}.
          </span>
        </p>
      {/if}
    {/if}
  </div>
</details>
