<script lang="ts">
  interface Props {
    x: number;
    /** Where its handle stands: beside it, where handles would cover each other. */
    handleX: number;
    y: number;
    /** Where the joint's line begins and ends, px. */
    topY: number;
    bottomY: number;
    /** What is written beside it; empty where there is no room. */
    label: string;
    labelY: number;
    chosen: boolean;
    /** The joint cannot close. */
    faulty: boolean;
  }
  const { x, handleX, y, topY, bottomY, label, labelY, chosen, faulty }: Props = $props();
</script>

<g transform="translate({x} 0)">
  {#if faulty || chosen}<path class={['line', faulty && 'refused']} d="M0 {topY} V{bottomY}" />{/if}
</g>
{#if Math.abs(handleX - x) > 1}<path class="leader" d="M{x} {bottomY - 10} L{handleX} {y - 6}" />{/if}
<g transform="translate({handleX} 0)">
  <circle class="reach" cy={y} r="12" />
  <circle class={['handle', chosen && 'chosen', faulty && 'faulty']} cy={y} r={chosen ? 8 : 6} />
  {#if chosen}
    <path class="plus" d="M-4 {y} h8 M0 {y - 4} v8" />
  {:else if faulty}
    <path class="cross" d="M-2.5 {y - 2.5} l5 5 m0 -5 l-5 5" />
  {/if}
  {#if label}<text class={[chosen && 'chosen']} x="13" y={labelY}>{label}</text>{/if}
</g>

<style>
  .line {
    stroke: var(--color-primary);
    stroke-dasharray: 1 3;
    pointer-events: none;
  }
  .line.refused {
    stroke: var(--color-error);
    stroke-width: 2;
    stroke-dasharray: 7 4;
  }
  .leader {
    fill: none;
    stroke: var(--ink-muted);
    stroke-width: 0.7;
    pointer-events: none;
  }
  .reach {
    fill: transparent;
  }
  .handle {
    fill: var(--color-base-200);
    stroke: var(--ink-muted);
  }
  .handle.chosen {
    fill: var(--color-primary);
    stroke: var(--color-primary);
  }
  .handle.faulty {
    stroke: var(--color-error);
    stroke-width: 1.5;
  }
  .plus {
    stroke: var(--color-primary-content);
    stroke-width: 1.6;
  }
  .cross {
    stroke: var(--color-error);
    stroke-width: 1.4;
  }
  text {
    fill: var(--ink-muted);
    font-size: 10.5px;
  }
  text.chosen {
    fill: var(--color-primary);
  }
</style>
