<script lang="ts">
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useWhy } from '$lib/ui/why.svelte.ts';
  import { chooseBy } from './chooseBy.ts';
  import type { Stair } from './staircase.ts';

  interface Props {
    /** Its own start is at 0. */
    stair: Stair;
    /** Where it begins on the shared axis, px. */
    startX: number;
    y: number;
    /** Length of the line down from the step before; 0 for none. */
    riserPx: number;
    rowPx: number;
    pxPerMm: number;
    /** Width of the whole chart, px. */
    widthPx: number;
    chosen: boolean;
  }
  const { stair, startX, y, riserPx, rowPx, pxPerMm, widthPx, chosen }: Props = $props();
  const train = useTrain();
  const display = useDisplay();
  const why = useWhy();

  const NAME_LETTER_PX = 6.6;
  const NOTE_LETTER_PX = 5.8;
  const VALUE_PX = 60;

  const left = $derived(Math.min(0, ...stair.bars.map(({ endMm }) => endMm)) * pxPerMm);
  const right = $derived(Math.max(...stair.bars.map(({ startMm, endMm }) => Math.max(startMm, endMm))) * pxPerMm);
  const note = $derived(`${stair.grade}${stair.doubtMm === undefined ? '' : ` ±${display.number(stair.doubtMm)}`}`);
  const fits = $derived(right - left > stair.name.length * NAME_LETTER_PX + VALUE_PX + 14);
  const baseline = $derived(rowPx / 2 + 4.5);
  const holdsValue = $derived(right - left > VALUE_PX);
  const valueX = $derived(holdsValue ? right - 8 : right + 9 + VALUE_PX - 8);
  const besideX = $derived(fits ? right + 9 : valueX + 17);
  const toTheLeft = $derived(
    !fits && startX + besideX + stair.name.length * NAME_LETTER_PX + 8 + note.length * NOTE_LETTER_PX > widthPx
  );
</script>

<g transform="translate({startX} {y})">
  <!-- A second way to select for the pointer; the keyboard walks the rail above. -->
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
  <g class="cursor-pointer" onclick={(event) => chooseBy(train, event, stair.id)}>
    {#if riserPx > 0}<path class="riser" d="M0 {-riserPx} V0" />{/if}
    {#each stair.bars as bar, piece (piece)}
      {@const width = Math.abs(bar.endMm - bar.startMm) * pxPerMm}
      <rect
        class={['bar', bar.from, stair.measured && 'measured', chosen && 'chosen']}
        data-bar="{stair.id}/{bar.from}"
        x={Math.min(bar.startMm, bar.endMm) * pxPerMm}
        {width}
        height={bar.from === 'recess' ? rowPx / 2 : rowPx}
        rx={width > 6 ? 2 : 0}
      />
    {/each}
    {#if fits}
      <text class="name inside" x={left + 9} y={baseline}>{stair.name}</text>
      <text class="note" x={right + 9} y={baseline}>{note}</text>
    {:else}
      <text class="name" x={toTheLeft ? left - 9 : besideX} y={baseline} text-anchor={toTheLeft ? 'end' : 'start'}
        >{stair.name}<tspan class="note" dx="8">{note}</tspan></text
      >
    {/if}
  </g>
  <g
    {@attach why.asks(`length.part.${stair.id}`)}
    role="button"
    tabindex="0"
    aria-label="{stair.name} adds {display.length(stair.addsMm)}. Why?"
    class="asks-why"
  >
    <text class="value" x={valueX} y={baseline} text-anchor="end">{display.number(stair.addsMm)}</text>
  </g>
</g>
