<script lang="ts">
  import { quantityInWords, type Explanation, type Quantity } from '@lodestone/core/why';
  import { scanAddress } from '$lib/api/scans.ts';
  import { anchored } from './anchored.ts';
  import { dayOf } from './time.ts';
  import { useDisplay } from './display.svelte.ts';
  import { useWhy } from './why.svelte.ts';

  interface Props {
    explanation: Explanation;
    anchor: DOMRect;
  }
  const { explanation, anchor }: Props = $props();
  const display = useDisplay();
  const why = useWhy();

  const place = $derived(anchored(anchor));
  const COMBINE_WORDS = { sum: 'adds up to', quadrature: 'root of the squares', product: 'multiplied' } as const;
  const resultWord = $derived(
    typeof explanation.combine === 'string' ? COMBINE_WORDS[explanation.combine] : explanation.combine.formula
  );
  /** Lengths one digit finer than elsewhere, so that the lines are seen to add up. */
  const shown = (quantity: Quantity) =>
    quantityInWords(quantity, display.unit, quantity.unit === 'mm' ? (display.unit === 'mm' ? 3 : 5) : undefined);
</script>

<svelte:window
  onpointerdown={({ target }) => {
    if (target instanceof Element && !target.closest('#why, .asks-why')) why.close();
  }}
  onkeydown={({ key }) => key === 'Escape' && why.close()}
/>
<!-- What it says describes the number that was asked; it stays while the pointer or the focus is in it. -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  {@attach place}
  id="why"
  role="tooltip"
  popover="manual"
  class="panel popup w-[min(25rem,calc(100vw-1rem))] overflow-y-auto p-3 text-xs shadow-xl"
  onpointerenter={why.hold}
  onpointerleave={why.release}
  onfocusin={why.hold}
  onfocusout={why.release}
  onkeydown={({ key }) => key === 'Escape' && why.close()}
>
  <p class="mb-1.5 font-semibold">{explanation.title}</p>
  <table class="w-full">
    <tbody>
      {#each explanation.lines as { label, quantity, source, published, why: further }, index (index)}
        <tr class="align-top">
          <td class="py-0.5 pr-3">
            {label}<span class="text-muted block">{source(display.unit)}</span>
            {#each published ?? [] as { words, on, scan, scanName }, at (at)}
              <span class="text-muted block" data-published>
                {words ?? 'published'}{on === undefined ? '' : `, read ${dayOf(on)}`}{#if scan}:
                  <a class="link-quiet" href={scanAddress(scan)}>{scanName ?? 'scan'}</a>{/if}
              </span>
            {/each}
          </td>
          <td class="py-0.5 text-right whitespace-nowrap" data-why-term={quantity.value}>
            {#if further}
              <button type="button" class="asks-further cursor-help" onclick={() => why.ask(further)}
                >{shown(quantity)}</button
              >
            {:else}
              {shown(quantity)}
            {/if}
          </td>
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

<style>
  .asks-further {
    text-decoration: underline dotted;
    text-underline-offset: 3px;
  }
</style>
