<script lang="ts">
  import { keyInWords, useCommands } from './commands.svelte.ts';
  import Modal from './Modal.svelte';

  const commands = useCommands();
  const groups = $derived(
    Object.entries(
      Object.groupBy(
        commands.all.filter(({ key }) => key),
        ({ group }) => group
      )
    )
  );
</script>

<Modal title="Keys" bind:open={commands.helpOpen} wide>
  <div class="columns-1 gap-8 sm:columns-2">
    {#each groups as [group, listed] (group)}
      <section class="mb-4 break-inside-avoid">
        <h3 class="text-muted mb-1 text-xs font-semibold">{group}</h3>
        <dl>
          {#each listed ?? [] as { id, title, key, otherKey } (id)}
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
</Modal>
