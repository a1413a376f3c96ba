<script lang="ts">
  import { changeInWords } from '@lodestone/core/compare';
  import { residualInWords } from '@lodestone/core/why';
  import type { Sitting, StateOfTrain } from '$lib/api/history.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { dayOf, minuteOf } from '$lib/ui/time.ts';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { History } from './history.svelte.ts';

  /** One sitting of a history: when, what became otherwise, how far it was off then, and its states one by one. */
  interface Props {
    history: History;
    sitting: Sitting;
    look: (number: number) => void;
    /** Told where asking for its states failed. */
    onfailed: (work: () => Promise<void>) => void;
  }
  const { history, sitting, look, onfailed }: Props = $props();
  const display = useDisplay();

  /** States that are shown one by one at first, and more of them each time. */
  const PAGE = 20;
  const MOST_WORDS = 4;

  const state = $derived(history.states.get(sitting.last));
  let open = $state(false);
  let shown = $state(PAGE);
  const oldest = $derived(Math.max(sitting.first, sitting.last - shown + 1));
  const numbers = $derived(Array.from({ length: sitting.last - oldest + 1 }, (_, index) => sitting.last - index));
  const named = $derived([...history.names].filter(([number]) => number >= sitting.first && number <= sitting.last));

  $effect(() => {
    if (open) onfailed(() => history.tellSingle(sitting.last, oldest));
  });

  const clock = (at: string): string => minuteOf(at).split(', ')[1] ?? '';
  const when = $derived(
    clock(sitting.beganAt) === clock(sitting.endedAt) && dayOf(sitting.beganAt) === dayOf(sitting.endedAt)
      ? minuteOf(sitting.endedAt)
      : dayOf(sitting.beganAt) === dayOf(sitting.endedAt)
        ? `${minuteOf(sitting.beganAt)} to ${clock(sitting.endedAt)}`
        : `${minuteOf(sitting.beganAt)} to ${minuteOf(sitting.endedAt)}`
  );

  /** @param isWhole the whole sitting is told, not one state of it */
  function told(of: StateOfTrain | undefined, number: number, isWhole: boolean): string {
    if (!of) return history.untold === undefined ? 'Reading …' : `Not known now: ${history.untold}`;
    if (of.unreadable !== undefined) return `Cannot be read by this version: ${of.unreadable}`;
    const words = of.changes.map((change) => changeInWords(change, display.unit));
    if (number === 1) return 'Begun';
    if (words.length === 0) return 'As before';
    if (isWhole && sitting.first === 1) words.unshift('Begun');
    const more = words.length - MOST_WORDS;
    return `${words.slice(0, MOST_WORDS).join(' · ')}${more > 0 ? ` · and ${more} more` : ''}`;
  }
  const offBy = (of: StateOfTrain | undefined): string =>
    of?.residualMm === null || of === undefined ? '' : residualInWords(of.residualMm, display.unit);
  const isGood = (of: StateOfTrain | undefined): boolean =>
    of !== undefined &&
    of.residualMm !== null &&
    of.toleranceMm !== null &&
    Math.abs(of.residualMm) <= of.toleranceMm + 1e-6;
</script>

{#snippet line(number: number, of: StateOfTrain | undefined, words: string, isWhole: boolean)}
  <button
    class={['row', history.at === number && 'looked']}
    aria-pressed={history.at === number}
    data-revision={number}
    onclick={() => look(number)}
  >
    <span class="min-w-0">
      <span class="block text-sm">{words}</span>
      <span class="wrap-anywhere">{told(of, number, isWhole)}</span>
    </span>
    <span class={['shrink-0 text-sm whitespace-nowrap', isGood(of) ? 'text-success' : 'text-muted']}>{offBy(of)}</span>
  </button>
{/snippet}

<div class="grid grid-cols-[auto_minmax(0,1fr)] items-start gap-1">
  <button
    class="btn btn-ghost btn-xs btn-square mt-1"
    aria-expanded={open}
    aria-label="{open ? 'Fold' : 'Open'} the states of {when}"
    disabled={sitting.first === sitting.last}
    onclick={() => (open = !open)}><ChevronRight size={14} class={open ? 'rotate-90' : ''} /></button
  >
  <div class="min-w-0">
    {@render line(
      sitting.last,
      state,
      [
        when,
        sitting.first === sitting.last ? `revision ${sitting.last}` : `revisions ${sitting.first} to ${sitting.last}`,
        ...(sitting.devices.length > 0 ? [sitting.devices.join(' and ')] : [])
      ].join(', '),
      true
    )}
    {#each named as [number, name] (number)}
      <button class="badge badge-outline mb-1 ml-2 h-auto wrap-anywhere" onclick={() => look(number)}
        >{name} ({number})</button
      >
    {/each}
    {#if open}
      <div class="border-line ml-1 border-l pl-2">
        {#each numbers as number (number)}
          {@const of = history.single.get(number)}
          {@render line(number, of, `revision ${number}${of ? `, ${clock(of.savedAt)}` : ''}`, false)}
        {/each}
        {#if oldest > sitting.first}
          <button class="btn btn-ghost btn-xs" onclick={() => (shown += PAGE)}
            >{Math.min(PAGE, oldest - sitting.first)} earlier ones</button
          >
        {/if}
      </div>
    {/if}
  </div>
</div>

<style>
  .row {
    display: flex;
    align-items: flex-start;
    justify-content: space-between;
    gap: 0.75rem;
    width: 100%;
    padding: 0.3rem 0.5rem;
    text-align: left;
    border-radius: var(--radius-field);
    border-left: 2px solid transparent;
  }
  .row:hover {
    background: color-mix(in srgb, var(--color-neutral) 35%, transparent);
  }
  .row.looked {
    border-left-color: var(--color-primary);
    background: color-mix(in srgb, var(--color-neutral) 40%, transparent);
  }
</style>
