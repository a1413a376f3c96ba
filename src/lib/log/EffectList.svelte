<script lang="ts">
  import type { Effect } from '@lodestone/core/nights';
  import { dayOf } from '$lib/ui/time.ts';

  /** What changes did to the nights around them, with how sure that is. */
  interface Props {
    effects: readonly (Effect & {
      /** Whose change it was, where several trains are told together. */
      train?: string;
    })[];
  }
  const { effects }: Props = $props();

  const FIGURE_WORDS = { guideRmsArcsec: ['Guiding', '″'], hfrPx: ['HFR', 'px'] } as const;
  const signed = (value: number): string => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(2)}`;
</script>

<ul class="text-sm" data-effects>
  {#each effects as { figure, on, before, after, difference, halfWidth95, nights, train }, at (at)}
    {@const [words, unit] = FIGURE_WORDS[figure]}
    {@const isCertain = Math.abs(difference) > halfWidth95}
    <li class={isCertain ? '' : 'text-muted'}>
      {train === undefined ? '' : `${train}, `}{dayOf(on)}: {words}
      {before.toFixed(2)} to {after.toFixed(2)}
      {unit}, {signed(difference)} ±{halfWidth95.toFixed(2)}, {nights[0]} and {nights[1]} nights{isCertain
        ? ''
        : ': no difference that is certain'}
    </li>
  {/each}
</ul>
