<script lang="ts">
  import { keyInWords, useCommands } from './commands.svelte.ts';
  import Modal from './Modal.svelte';

  const commands = useCommands();
  /** The groups in two columns of nearly the same height. */
  const columns = $derived.by(() => {
    const groups = Object.entries(
      Object.groupBy(
        commands.all.filter(({ key }) => key),
        ({ group }) => group
      )
    ).map(([group, listed]) => ({ group, listed: listed ?? [] }));
    const rowsOf = (column: typeof groups) => column.reduce((rows, { listed }) => rows + listed.length + 1, 0);
    const filled: [typeof groups, typeof groups] = [[], []];
    for (const each of groups) filled[rowsOf(filled[0]) <= rowsOf(filled[1]) ? 0 : 1].push(each);
    return filled;
  });
</script>

<Modal title="Keys" bind:open={commands.helpOpen} wide>
  <label class="mb-3 flex items-center gap-2">
    <input
      type="checkbox"
      class="checkbox checkbox-sm"
      checked={commands.singleKeys}
      onchange={({ currentTarget }) => commands.useSingleKeys(currentTarget.checked)}
    />
    Single letters do something
  </label>
  <div class="grid gap-x-8 sm:grid-cols-2">
    {#each columns as groups, column (column)}
      <div>
        {#each groups as { group, listed } (group)}
          <section class="mb-4">
            <h3 class="text-muted mb-1 text-xs font-semibold">{group}</h3>
            <dl>
              {#each listed as { id, title, key, otherKey } (id)}
                <div class="border-line flex justify-between gap-4 border-b py-1 last:border-0">
                  <dt>{title}</dt>
                  <dd class="shrink-0">
                    <kbd class="kbd kbd-sm">{keyInWords(key ?? '')}</kbd>
                    {#if otherKey}<kbd class="kbd kbd-sm">{keyInWords(otherKey)}</kbd>{/if}
                  </dd>
                </div>
              {/each}
            </dl>
          </section>
        {/each}
      </div>
    {/each}
  </div>
</Modal>
