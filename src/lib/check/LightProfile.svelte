<script lang="ts">
  import { illumination, type Light, type Optics } from '@lodestone/core/light';
  import type { FaceView } from '$lib/face/faceView.svelte.ts';
  import type { LayerView } from '$lib/rail/layers.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { scaleLinear } from 'd3-scale';

  interface Props {
    light: Light;
    view: FaceView;
    layers: LayerView;
  }
  const { light, view, layers }: Props = $props();
  const display = useDisplay();

  const HEIGHT = 132;
  const [LEFT, RIGHT, TOP, FOOT] = [40, 14, 12, 30] as const;
  const STEPS = 32;
  let width = $state(400);

  const halfMm = $derived(light.halfDiagonalMm);
  const x = $derived(scaleLinear([0, halfMm], [LEFT, width - RIGHT]));
  const y = $derived(scaleLinear([0, 1], [HEIGHT - FOOT, TOP]));
  const unit = (optics: Optics) => (view.relative ? Math.max(illumination([0, 0], optics), 1e-9) : 1);

  /** Toward the darkest corner: of decentred openings not every corner gets the same. */
  const corner = $derived(light.darkestCorner().at);
  function profile(optics: Optics): (readonly [number, number])[] {
    const over = unit(optics);
    return Array.from({ length: STEPS + 1 }, (_, step) => {
      const share = step / STEPS;
      return [share * halfMm, illumination([corner[0] * share, corner[1] * share], optics) / over] as const;
    });
  }
  const line = (points: readonly (readonly [number, number])[]) =>
    points.map(([mm, share], index) => `${index === 0 ? 'M' : 'L'}${x(mm)} ${y(Math.min(1, share))}`).join('');

  const own = $derived(profile(light.optics));
  const compared = $derived.by(() => {
    const optics = view.compared && light.compared(view.compared.change);
    return optics && profile(optics);
  });
  const atMm = $derived(Math.abs(layers.share) * halfMm);
  const at = (points: readonly (readonly [number, number])[]) => points[Math.round((atMm / halfMm) * STEPS)]?.[1] ?? 0;

  function look(event: PointerEvent) {
    if (event.type === 'pointermove' && event.buttons !== 1) return;
    const { left } = (event.currentTarget as Element).getBoundingClientRect();
    layers.moveTo(x.invert(event.clientX - left) / halfMm);
  }
</script>

<div bind:clientWidth={width}>
  <!-- Only a pointer's short cut: the keys move the point on the rail. -->
  <svg
    {width}
    height={HEIGHT}
    viewBox="0 0 {width} {HEIGHT}"
    role="img"
    aria-label="Light from the middle to the darkest corner: {Math.round((own[0]?.[1] ?? 0) * 100)} % to {Math.round(
      (own.at(-1)?.[1] ?? 0) * 100
    )} %{compared && view.compared
      ? `; ${view.compared.words}: ${Math.round((compared.at(-1)?.[1] ?? 0) * 100)} % in the corner`
      : ''}"
    data-profile
    onpointerdown={look}
    onpointermove={look}
  >
    {#each [0, 0.5, 1] as share (share)}
      <path class="grid" d="M{LEFT} {y(share)}H{width - RIGHT}" />
      <text class="quiet" x={LEFT - 6} y={y(share) + 4} text-anchor="end">{share * 100} %</text>
    {/each}
    {#if !view.relative}
      <path class="wanted" d="M{LEFT} {y(light.wanted)}H{width - RIGHT}" />
      <text class="wanted-word" x={LEFT + 5} y={y(light.wanted) + 13}>{Math.round(light.wanted * 100)} % wanted</text>
    {/if}
    {#each x.ticks(6) as mm (mm)}
      <path class="grid" d="M{x(mm)} {HEIGHT - FOOT}v4" />
      <text class="quiet" x={x(mm)} y={HEIGHT - FOOT + 16} text-anchor="middle">{display.number(mm, 0)}</text>
    {/each}
    <text class="quiet" x={width - RIGHT} y={HEIGHT - 1} text-anchor="end">from the middle, {display.unit}</text>
    {#if compared}<path class="other" d={line(compared)} />{/if}
    <path class="own" d={line(own)} />
    <path class="at" d="M{x(atMm)} {TOP}V{HEIGHT - FOOT}" />
    <circle class="dot" cx={x(atMm)} cy={y(Math.min(1, at(own)))} r="4" />
    <text
      class="value"
      x={x(atMm) + (atMm > halfMm * 0.7 ? -8 : 8)}
      y={Math.min(HEIGHT - FOOT - 6, y(Math.min(1, at(own))) + 17)}
      text-anchor={atMm > halfMm * 0.7 ? 'end' : 'start'}>{Math.round(at(own) * 100)} %</text
    >
  </svg>
</div>

<style>
  svg {
    touch-action: pan-y;
  }
  text {
    font-size: 10.5px;
    fill: var(--color-base-content);
  }
  .quiet {
    fill: var(--ink-muted);
  }
  .grid {
    stroke: var(--color-line);
    stroke-width: 1;
  }
  .wanted {
    stroke: var(--color-success);
    stroke-dasharray: 5 4;
  }
  .wanted-word {
    fill: var(--color-success);
  }
  .own {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  .other {
    fill: none;
    stroke: var(--color-secondary);
    stroke-width: 1.5;
    stroke-dasharray: 4 3;
  }
  .at {
    stroke: var(--color-primary);
    stroke-width: 1;
    stroke-opacity: 0.6;
  }
  .dot {
    fill: var(--color-primary);
  }
  .value {
    font-weight: 600;
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 3px;
  }
</style>
