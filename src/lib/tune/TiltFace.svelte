<script lang="ts">
  import { radians } from '@lodestone/core/stats';
  /** The face with the sensor's tilt on it: lines of equal distance, and the plate's screws with what to turn. */
  import type { TiltPlate } from '@lodestone/core/train';
  import type { ScrewTurn, SensorTilt } from '@lodestone/core/experiment';
  import FaceRing from '$lib/face/FaceRing.svelte';
  import { scaleLinear } from 'd3-scale';
  import { turnInWords, wayInWords } from './turns.ts';

  interface Props {
    tilt: Pick<SensorTilt, 'slopeUm' | 'covariance'>;
    widthMm: number;
    heightMm: number;
    plate: TiltPlate | undefined;
    turns: readonly ScrewTurn[];
  }
  const { tilt, widthMm, heightMm, plate, turns }: Props = $props();
  const uid = $props.id();

  let boxWidth = $state(600);
  let boxHeight = $state(500);
  const RING_PX = 30;
  const halfMm = $derived(Math.hypot(widthMm, heightMm) / 2);
  /** Room for screw heads with what is written beside them. */
  const ringMm = $derived(Math.max(halfMm * 1.1, (plate?.radiusMm ?? 0) * 1.22));
  const pxPerMm = $derived(Math.max(0.5, (Math.min(boxWidth, boxHeight) / 2 - RING_PX) / ringMm));
  const slope = $derived(Math.hypot(...tilt.slopeUm));
  /** μm a mm. */
  const perMm = $derived([tilt.slopeUm[0] / halfMm, tilt.slopeUm[1] / halfMm] as const);
  const most = $derived((Math.abs(perMm[0]) * widthMm + Math.abs(perMm[1]) * heightMm) / 2);
  /** Lines of equal distance: straight, across the way the sensor rises. */
  const lines = $derived.by(() => {
    if (slope === 0) return [];
    const [u, v] = [tilt.slopeUm[0] / slope, tilt.slopeUm[1] / slope];
    const steep = slope / halfMm;
    return scaleLinear([-most, most], [0, 1])
      .ticks(9)
      .map((um) => {
        const [x, y] = [(u * um) / steep, (v * um) / steep];
        const reach = 2 * halfMm;
        return {
          um,
          d: `M${(x - v * reach) * pxPerMm} ${-(y + u * reach) * pxPerMm}L${(x + v * reach) * pxPerMm} ${-(y - u * reach) * pxPerMm}`,
          x: x * pxPerMm,
          y: -y * pxPerMm,
          isInside: Math.abs(x) < 0.47 * widthMm && Math.abs(y) < 0.45 * heightMm
        };
      });
  });
  const signed = (um: number) => (um === 0 ? '0' : `${um > 0 ? '+' : '−'}${Math.abs(um)}`);
  const HEAD = 12;
  /** On a small face there is room for the angle alone. */
  const isSmall = $derived(Math.min(boxWidth, boxHeight) < 420);
  const inward = $derived(isSmall ? 32 : 44);
  const placed = $derived(
    turns.map((turn) => {
      const angle = radians(turn.pictureDeg);
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      const radius = (plate?.radiusMm ?? 0) * pxPerMm;
      // What is written stands inside the ring of screws, toward the middle.
      return {
        ...turn,
        x: cos * radius,
        y: -sin * radius,
        textX: cos * (radius - inward),
        textY: -sin * (radius - inward + 4)
      };
    })
  );
  /** An arrow round a screw head, so long as it is turned, up to most of the way round. */
  function arrow(turn: ScrewTurn): string {
    const reach = radians(Math.max(40, Math.min(300, 360 * turn.turns)));
    const sense = turn.way === 'clockwise' ? 1 : -1;
    const radius = HEAD + 6;
    const from = -Math.PI / 2 - (sense * reach) / 2;
    const to = from + sense * reach;
    const at = (angle: number, r = radius) => `${(Math.cos(angle) * r).toFixed(1)} ${(Math.sin(angle) * r).toFixed(1)}`;
    const head = to - sense * 0.35;
    return `M${at(from)}A${radius} ${radius} 0 ${reach > Math.PI ? 1 : 0} ${sense > 0 ? 1 : 0} ${at(to)}M${at(head, radius - 4)}L${at(to)}L${at(head, radius + 4)}`;
  }
</script>

<div class="h-full min-h-0 w-full" bind:clientWidth={boxWidth} bind:clientHeight={boxHeight}>
  <svg
    width={boxWidth}
    height={boxHeight}
    role="img"
    aria-label="Tilt of the sensor, seen from the camera{turns.length > 0
      ? `: ${turns.map((turn) => `screw ${turn.screw} ${wayInWords(turn)}`).join(', ')}`
      : ''}"
    data-tilt-face
  >
    <defs>
      <clipPath id="{uid}-sensor"
        ><rect
          x={(-widthMm / 2) * pxPerMm}
          y={(-heightMm / 2) * pxPerMm}
          width={widthMm * pxPerMm}
          height={heightMm * pxPerMm}
        /></clipPath
      >
    </defs>
    <g transform="translate({boxWidth / 2} {boxHeight / 2})">
      <FaceRing radiusPx={ringMm * pxPerMm} />
      {#if plate}<circle class="plate" r={plate.radiusMm * pxPerMm} />{/if}
      <rect
        class="sensor"
        x={(-widthMm / 2) * pxPerMm}
        y={(-heightMm / 2) * pxPerMm}
        width={widthMm * pxPerMm}
        height={heightMm * pxPerMm}
      />
      <g clip-path="url(#{uid}-sensor)">
        {#each lines as { um, d } (um)}
          <path class={['iso', um > 0 ? 'far' : um < 0 ? 'near' : 'even']} {d} />
        {/each}
      </g>
      {#each lines.filter(({ isInside }) => isInside) as { um, x, y } (um)}
        <text class="figure" {x} y={y + 4} text-anchor="middle">{signed(um)}</text>
      {/each}
      {#each placed as turn (turn.screw)}
        <g transform="translate({turn.x} {turn.y})" data-screw={turn.screw} data-way={turn.way}>
          <circle class={['head', turn.way !== 'leave' && 'turned']} r={HEAD} />
          <text class="number" y="4" text-anchor="middle">{turn.screw}</text>
          {#if turn.way !== 'leave'}<path class="arrow" d={arrow(turn)} />{/if}
        </g>
        <text class="words" x={turn.textX} y={turn.textY} text-anchor="middle"
          >{turn.way === 'leave' ? 'leave it' : `${isSmall ? '' : 'turn '}${turnInWords(turn.turns)}`}</text
        >
      {/each}
    </g>
  </svg>
</div>

<style>
  .plate {
    fill: none;
    stroke: var(--metal-edge);
    stroke-width: 10;
    stroke-opacity: 0.35;
  }
  .sensor {
    fill: var(--color-base-100);
    stroke: var(--color-primary);
    stroke-width: 1.4;
  }
  .iso {
    fill: none;
    stroke-width: 1.4;
  }
  .iso.far {
    stroke: var(--drawn-outward);
  }
  .iso.near {
    stroke: var(--drawn-circling);
    stroke-dasharray: 6 4;
  }
  .iso.even {
    stroke: var(--color-base-content);
    stroke-width: 1.8;
  }
  .figure,
  .words,
  .number {
    font-size: 12px;
    fill: var(--color-base-content);
    paint-order: stroke;
    stroke: var(--color-base-100);
    stroke-width: 4px;
  }
  .words {
    font-weight: 600;
    stroke: var(--color-base-200);
  }
  .number {
    stroke: none;
    font-weight: 600;
  }
  .head {
    fill: var(--metal);
    stroke: var(--metal-edge);
    stroke-width: 1.5;
  }
  .head.turned {
    stroke: var(--color-primary);
    stroke-width: 2;
  }
  .arrow {
    fill: none;
    stroke: var(--color-primary);
    stroke-width: 2.4;
  }
</style>
