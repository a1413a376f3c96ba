<script lang="ts">
  import { quantityInWords, type Explanation, type Quantity } from '@lodestone/core';
  import { useDisplay } from './display.svelte.ts';

  interface Props {
    explanation: Explanation;
    anchor: DOMRect;
  }
  const { explanation, anchor }: Props = $props();
  const display = useDisplay();

  const WIDTH = 400;
  const MARGIN = 8;
  let height = $state(0);
  const left = $derived(Math.max(MARGIN, Math.min(anchor.left, window.innerWidth - WIDTH - MARGIN)));
  const top = $derived(
    anchor.bottom + height + MARGIN < window.innerHeight
      ? anchor.bottom + MARGIN
      : Math.max(MARGIN, anchor.top - height - MARGIN)
  );
  const COMBINE_WORDS = { sum: 'adds up to', quadrature: 'root of the squares', product: 'multiplied' } as const;
  const resultWord = $derived(
    typeof explanation.combine === 'string' ? COMBINE_WORDS[explanation.combine] : explanation.combine.formula
  );
  /** Lengths one digit finer than elsewhere, so that the lines are seen to add up. */
  const shown = (quantity: Quantity) =>
    quantityInWords(quantity, display.unit, quantity.unit === 'mm' ? (display.unit === 'mm' ? 3 : 5) : undefined);
</script>

<div
  id="why"
  role="tooltip"
  class="panel pointer-events-none fixed z-40 p-3 text-xs shadow-xl"
  bind:clientHeight={height}
  style:left="{left}px"
  style:top="{top}px"
  style:width="min({WIDTH}px, calc(100vw - {2 * MARGIN}px))"
>
  <p class="mb-1.5 font-semibold">{explanation.title}</p>
  <table class="w-full">
    <tbody>
      {#each explanation.lines as { label, quantity, source }, index (index)}
        <tr class="align-top">
          <td class="py-0.5 pr-3">{label}<span class="text-muted block">{source(display.unit)}</span></td>
          <td class="py-0.5 text-right whitespace-nowrap" data-why-term={quantity.value}>{shown(quantity)}</td>
        </tr>
      {:else}
        <tr><td class="text-muted">nothing: 0</td></tr>
      {/each}
    </tbody>
    <tfoot>
      <tr class="border-line border-t font-semibold">
        <td class="pt-1 pr-3">{resultWord}</td>
        <td class="pt-1 text-right whitespace-nowrap" data-why-result={explanation.result.value}>
          {shown(explanation.result)}
        </td>
      </tr>
    </tfoot>
  </table>
</div>
