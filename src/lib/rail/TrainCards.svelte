<script lang="ts">
  import { commonScale, layoutOf } from '@lodestone/core/shape';
  import { assess } from '@lodestone/core/check';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import Silhouette from './Silhouette.svelte';

  /** Trains as pictures, on one scale, to choose from. */
  interface Props {
    trains: readonly StoredTrain[];
    label: string;
    chosen?: readonly string[];
    onpick: (trainId: string) => void;
  }
  const { trains, label, chosen = [], onpick }: Props = $props();

  const drawn = $derived(
    trains.map(({ id, document }) => {
      const { ledger, facts } = assess(document);
      return { id, name: document.name, layout: layoutOf(document, ledger, facts.axis) };
    })
  );
  const scale = $derived(commonScale(drawn.map(({ layout }) => layout)));
</script>

<ul class="grid gap-2 sm:grid-cols-2" aria-label={label}>
  {#each drawn as { id, name, layout } (id)}
    <li>
      <button
        class={[
          'panel hover:border-primary block w-full p-3 text-left',
          chosen.includes(id) && 'border-primary outline-primary outline'
        ]}
        aria-pressed={chosen.includes(id)}
        data-card={name}
        onclick={() => onpick(id)}
      >
        <span class="block font-semibold wrap-anywhere">{name}</span>
        <span class="mt-1 block h-16">
          <Silhouette {layout} {...scale} across={0.2} label="{name}, to scale" />
        </span>
      </button>
    </li>
  {/each}
</ul>
