<script lang="ts">
  import type { FocusBudget } from '@lodestone/core/focus';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { scaleLinear } from 'd3-scale';

  /** The draw tube racked in, where focus falls, and fully out. */
  const { budget }: { budget: FocusBudget } = $props();
  const display = useDisplay();

  let width = $state(600);
  const HEIGHT = 118;
  const [LEFT, RIGHT] = [18, 18] as const;
  const TUBE = { top: 34, height: 40 } as const;

  const { report, extensionMm, uncertaintyMm } = $derived(budget);
  const travel = $derived(report.travelMm);
  const known = $derived(extensionMm.filter(Number.isFinite));
  const least = $derived(Math.min(0, ...known) - 6);
  const most = $derived(Math.max(travel ?? 0, 20, ...known) + 6);
  /** The fixed part of the focuser ahead of the travel, mm as drawn. */
  const stub = $derived((most - least) * 0.16);
  const x = $derived(scaleLinear([least - stub, most], [LEFT, width - RIGHT]));
  const from = $derived(Number.isFinite(extensionMm[0]) ? x(extensionMm[0] - uncertaintyMm) : LEFT);
  const to = $derived(Number.isFinite(extensionMm[1]) ? x(extensionMm[1] + uncertaintyMm) : width - RIGHT);
  const middle = $derived(report.extensionMm);
  const digits = $derived(display.unit === 'mm' ? 0 : 2);
  const words = $derived(budget.byMirror ? 'mirror' : 'draw tube');
</script>

<div class="w-full" bind:clientWidth={width}>
  <svg
    class="chart"
    {width}
    height={HEIGHT}
    viewBox="0 0 {width} {HEIGHT}"
    role="img"
    aria-label="The {words}: {middle === null
      ? 'where focus falls is not known'
      : `focus falls ${display.length(middle)} out`}{travel === null ? '' : `, of ${display.length(travel)}`}"
    data-budget={report.verdict}
  >
    <!-- The focuser, and the tube in it as far out as it is to stand. -->
    <rect class="body" x={x(least - stub)} y={TUBE.top - 8} width={x(0) - x(least - stub)} height={TUBE.height + 16} />
    {#if travel !== null}
      <rect class="travel" x={x(0)} y={TUBE.top} width={x(travel) - x(0)} height={TUBE.height} />
      <path class="mark" d="M{x(travel / 2)} {TUBE.top + TUBE.height}v6" />
      <text x={x(travel / 2)} y={TUBE.top + TUBE.height + 18} text-anchor="middle">middle</text>
      <path class="mark" d="M{x(travel)} {TUBE.top - 8}V{TUBE.top + TUBE.height + 8}" />
      <text x={Math.min(width - 4, x(travel) + 46)} y={TUBE.top + TUBE.height + 32} text-anchor="end"
        >fully out, {display.length(travel, digits)}</text
      >
    {/if}
    {#if middle !== null}
      <rect
        class={['tube', report.verdict]}
        x={x(least - stub) + 6}
        y={TUBE.top + 5}
        width={Math.max(0, x(middle) - x(least - stub) - 6)}
        height={TUBE.height - 10}
      />
    {/if}
    {#if known.length > 0}
      <rect
        class="falls"
        x={Math.min(from, to)}
        y={TUBE.top - 4}
        width={Math.max(2, Math.abs(to - from))}
        height={TUBE.height + 8}
      />
    {/if}
    {#if middle !== null}
      <path class={['needed', report.verdict]} d="M{x(middle)} 22V{TUBE.top + TUBE.height + 4}" />
      <text class="strong" x={Math.max(60, Math.min(width - 60, x(middle)))} y="16" text-anchor="middle"
        >focus, {display.length(middle, digits)} out</text
      >
    {/if}
    <path class="mark" d="M{x(0)} {TUBE.top - 12}V{TUBE.top + TUBE.height + 12}" />
    <text x={x(0)} y={TUBE.top + TUBE.height + 32} text-anchor="middle">fully in</text>
    <text class="inside" x={x(least - stub) + 8} y={TUBE.top + TUBE.height / 2 + 4}>{words}</text>
  </svg>
</div>

<style>
  .inside {
    fill: var(--color-base-content);
  }
  .body {
    fill: var(--metal);
    stroke: var(--metal-edge);
  }
  .travel {
    fill: none;
    stroke: var(--metal-edge);
    stroke-dasharray: 4 4;
  }
  .tube {
    fill: var(--metal);
    stroke: var(--metal-edge);
  }
  .falls {
    fill: var(--color-primary);
    fill-opacity: 0.22;
  }
  .needed {
    stroke: var(--color-success);
    stroke-width: 2.5;
  }
  .needed.no-inward,
  .needed.no-outward {
    stroke: var(--color-error);
  }
  .needed.unknown {
    stroke: var(--color-warning);
  }
  .mark {
    stroke: var(--metal-edge);
    stroke-width: 1.5;
  }
</style>
