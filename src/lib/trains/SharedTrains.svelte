<script lang="ts">
  import type { SharedTrain } from '$lib/api/owners.ts';
  import { dayOf } from '$lib/ui/time.ts';

  /** Trains of others that are shared with whoever is signed in. */
  const { trains }: { trains: readonly SharedTrain[] } = $props();
</script>

<section class="mt-10" aria-labelledby="shared">
  <h2 id="shared" class="text-lg font-semibold">Shared with you</h2>
  <ul class="mt-2 grid">
    {#each trains as { id, name, by, may, savedAt } (id)}
      <li class="border-line flex flex-wrap items-baseline gap-x-3 border-t py-2" data-shared={id}>
        <a class="link-quiet font-semibold" href={may === 'edit' ? `/trains/${id}/build` : `/with/${id}`}>{name}</a>
        <span class="text-muted text-sm"
          >by {by}, {may === 'edit' ? 'to edit' : 'to look at'}, saved {dayOf(savedAt)}</span
        >
      </li>
    {/each}
  </ul>
</section>
