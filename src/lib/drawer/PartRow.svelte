<script lang="ts">
  import { disagreement, measuredOf, type Part, type PartUse } from '@lodestone/core/drawer';
  import PartIcon from '$lib/rail/PartIcon.svelte';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Check from '@lucide/svelte/icons/check';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import { facesInShort, whereabouts } from './words.ts';

  interface Props {
    part: Part;
    uses: readonly PartUse[];
    current: boolean;
    chosen: boolean;
    onchoose: (range: boolean) => void;
  }
  const { part, uses, current, chosen, onchoose }: Props = $props();
  const display = useDisplay();
  const measured = $derived(measuredOf(part));
  const apart = $derived(disagreement(part));
</script>

<div class={['part-row', current && 'current', part.state === 'set-aside' && 'aside', !part.owned && 'wanted']}>
  <!-- The option itself says that it is chosen; this is where a pointer changes that. -->
  <span
    class={['tick', chosen && 'on']}
    aria-hidden="true"
    data-choose={part.partId}
    onclick={(event) => {
      event.stopPropagation();
      onchoose(event.shiftKey);
    }}
  >
    {#if chosen}<Check size={12} />{/if}
  </span>
  <PartIcon element={part.element} widthPx={84} heightPx={42} pxPerMm={1.8} />
  <span class="min-w-0">
    <span class="block truncate font-semibold">{part.partId}{part.quantity > 1 ? ` ×${part.quantity}` : ''}</span>
    <span class="text-muted block truncate text-xs">{part.element.name}</span>
  </span>
  <span class="face min-w-0 text-xs">
    {#each facesInShort(part) as face, index (index)}<span class="block truncate">{face}</span>{/each}
  </span>
  <span class="text-right">
    <span class="flex items-center justify-end gap-1.5">
      {#if apart !== undefined}<TriangleAlert
          size={13}
          class="text-warning"
          aria-label="published length is wrong"
        />{/if}
      {display.number(measured?.lengthMm ?? part.element.lengthMm)}
      <span class={['mark', measured && 'measured']} title={measured ? 'measured' : 'only published'}></span>
    </span>
    <span class="text-muted block text-xs">
      {measured ? `±${display.number(measured.uncertaintyMm ?? 0, display.unit === 'mm' ? 2 : 4)}` : 'published'}
    </span>
  </span>
  <span class="place min-w-0 truncate text-xs">{part.location}</span>
  <span class="state min-w-0 truncate text-xs">{whereabouts(part, uses)}</span>
</div>

<style>
  .part-row {
    display: grid;
    grid-template-columns: var(--part-columns);
    gap: 0.75rem;
    align-items: center;
    height: 100%;
    padding: 0 0.75rem;
    border-left: 3px solid transparent;
    cursor: pointer;
  }
  .part-row:hover {
    background: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
  .current {
    border-left-color: var(--color-primary);
    background: color-mix(in srgb, var(--color-neutral) 40%, transparent);
  }
  .aside {
    text-decoration: line-through;
    text-decoration-color: var(--ink-muted);
  }
  .wanted {
    font-style: italic;
  }
  .tick {
    display: grid;
    place-items: center;
    width: 1rem;
    height: 1rem;
    border: 1px solid var(--ink-muted);
    border-radius: 3px;
  }
  .tick.on {
    background: var(--color-primary);
    border-color: var(--color-primary);
    color: var(--color-primary-content);
  }
  .mark {
    width: 9px;
    height: 9px;
    border: 1.5px solid var(--ink-muted);
  }
  .measured {
    background: var(--ink-muted);
  }
  @media (max-width: 48rem) {
    .face,
    .place,
    .state {
      display: none;
    }
  }
</style>
