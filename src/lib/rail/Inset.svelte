<script lang="ts">
  import { useDisplay } from '$lib/ui/display.svelte.ts';

  interface Props {
    x: number;
    y: number;
    widthPx: number;
    sensorMm: number;
    requiredMm: number;
    toleranceMm: number;
  }
  const { x, y, widthPx, sensorMm, requiredMm, toleranceMm }: Props = $props();
  const display = useDisplay();

  const HEIGHT = 74;
  /** A tenth of a millimetre is at least six pixels wide, whatever the tolerance. */
  const LEAST_PX_PER_MM = 60;
  const MOST_PX_PER_MM = 4000;

  const residualMm = $derived(sensorMm - requiredMm);
  const scale = $derived(
    Math.min(
      MOST_PX_PER_MM,
      Math.max(LEAST_PX_PER_MM, (widthPx * 0.3) / Math.max(Math.abs(residualMm), toleranceMm * 0.7))
    )
  );
  const at = (mm: number) => widthPx / 2 + mm * scale;
  const clampX = (px: number) => Math.min(widthPx, Math.max(0, px));
  const bandFrom = $derived(clampX(at(-toleranceMm)));
  const bandTo = $derived(clampX(at(toleranceMm)));
  const sensorX = $derived(clampX(at(residualMm)));
</script>

<g transform="translate({x} {y})" data-inset-scale={scale}>
  <rect class="box" width={widthPx} height={HEIGHT} rx="4" />
  <rect class="band" x={bandFrom} y="16" width={bandTo - bandFrom} height="40" />
  <path class="should" d="M{at(0)} 14 V58" />
  <rect
    class="sliver"
    data-residual-sliver
    x={Math.min(at(0), sensorX)}
    y="24"
    width={Math.abs(sensorX - at(0))}
    height="24"
  />
  <path class="sensor" d="M{sensorX} 14 V58" />
  <text class="word" x="6" y="11">magnified {(scale / 3.78).toFixed(0)}×</text>
  <text class="word" x={widthPx - 6} y="11" text-anchor="end">±{display.tolerance(toleranceMm)}</text>
  <text class="figure" x={widthPx / 2} y="69" text-anchor="middle">
    {display.length(Math.abs(residualMm), display.unit === 'mm' ? 3 : 5)}
    {residualMm < 0 ? 'short' : residualMm > 0 ? 'long' : ''}
  </text>
</g>

<style>
  .box {
    fill: var(--color-base-100);
    stroke: var(--color-base-300);
  }
  .band {
    fill: var(--color-success);
    fill-opacity: 0.2;
  }
  .should {
    stroke: var(--color-success);
    stroke-width: 1.5;
    stroke-dasharray: 4 3;
  }
  .sensor {
    stroke: var(--color-primary);
    stroke-width: 1.5;
  }
  .sliver {
    fill: var(--color-primary);
    fill-opacity: 0.35;
  }
  .word {
    fill: var(--ink-muted);
    font-size: 9.5px;
  }
  .figure {
    fill: var(--color-base-content);
    font-size: 11px;
    font-weight: 600;
  }
</style>
