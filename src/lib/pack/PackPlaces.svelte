<script lang="ts">
  import PackItem from './PackItem.svelte';
  import type { Packer, Round } from './packer.svelte.ts';
  import { byPlace } from './places.ts';

  /** What comes along, place by place: every tin is opened once, whatever it holds for which train. */
  interface Props {
    packers: readonly Packer[];
    round: Round;
  }
  const { packers, round }: Props = $props();
  const places = $derived(byPlace(packers));
  const open = $derived(packers.flatMap(({ items }) => items.filter(({ group }) => group === 'joints')));
</script>

<div class="columns-1 gap-3 lg:columns-2">
  {#each places as { location, items } (location)}
    {@const left = items.filter(({ packer, item }) => !packer.isTicked(round, item.key)).length}
    <section
      class="panel mb-3 break-inside-avoid p-4"
      aria-label={location ?? 'Place not known'}
      data-place={location ?? ''}
    >
      <div class="flex flex-wrap items-center justify-between gap-2">
        <h2 class={['text-lg font-semibold wrap-anywhere', location === null && 'text-muted']}>
          {location ?? 'Place not known'}
        </h2>
        <span class={left === 0 ? 'text-success font-semibold' : ''} data-left={left}
          >{left === 0 ? 'all there' : `${left} of ${items.length} left`}</span
        >
      </div>
      <ul class="mt-1">
        {#each items as { packer, item } (`${packer.train.id} ${item.key}`)}
          <PackItem {packer} {item} {round} aside={packers.length > 1 ? packer.name : null} />
        {/each}
      </ul>
    </section>
  {/each}
</div>
{#if open.length > 0}
  <p class="text-muted text-sm">
    {open.length}
    {open.length === 1 ? 'joint is' : 'joints are'} not closed yet: they are listed by train.
  </p>
{/if}
