<script lang="ts">
  import { onTangentPlane } from '@lodestone/core/sky';
  import { degrees } from '@lodestone/core/stats';
  import type { FramingView } from './framing.svelte.ts';
  import { objectInWords } from './sky.ts';

  interface Props {
    framing: FramingView;
    pxPerMm: number;
  }
  const { framing, pxPerMm }: Props = $props();

  const RAD = Math.PI / 180;
  const { object, topDeg, mmPerDeg, objectDeg, mosaic, field } = $derived(framing);
  const pxPerDeg = $derived(mmPerDeg * pxPerMm);

  /** East and north on the sky, degrees, to the picture: the top of the sensor is up. */
  function toPicture(east: number, north: number): readonly [number, number] {
    const [sin, cos] = [Math.sin(topDeg * RAD), Math.cos(topDeg * RAD)];
    return [(-east * cos + north * sin) * pxPerDeg, -(east * sin + north * cos) * pxPerDeg];
  }

  /** Stars this far from the object are looked at, degrees. */
  const reachDeg = $derived(mmPerDeg > 0 ? (framing.reachMm * 1.4) / mmPerDeg : 0);
  const MOST_STARS = 300;
  const stars = $derived.by(() => {
    const { sky } = framing;
    if (!sky || !object || !Number.isFinite(object.raDeg)) return [];
    const near = [];
    for (const [raDeg, decDeg, magnitude] of sky.stars) {
      if (Math.abs(decDeg - object.decDeg) > reachDeg) continue;
      const at = onTangentPlane({ raDeg, decDeg }, object);
      if (!at || Math.hypot(...at) > reachDeg) continue;
      near.push({ at, magnitude });
      if (near.length >= MOST_STARS) break;
    }
    return near;
  });
  /** A star of magnitude 7 is a dot, each magnitude brighter a little more. */
  const starPx = (magnitude: number) => Math.max(0.8, 1 + (7 - magnitude) * 0.45);

  const north = $derived(toPicture(0, 1));
  const northAngle = $derived(degrees(Math.atan2(north[0], -north[1])));
  const radius = $derived(Math.max(10, framing.reachMm * pxPerMm - 14));
</script>

<g class="pointer-events-none" data-framing={object?.id}>
  {#each stars as { at, magnitude }, index (index)}
    {@const [x, y] = toPicture(...at)}
    <circle class="star" cx={x} cy={y} r={starPx(magnitude)} />
  {/each}
  {#if object && pxPerDeg > 0}
    <!-- The long axis stands along north before it is turned by the position angle toward east. -->
    <g transform="rotate({northAngle - (objectDeg ?? 0)})">
      <ellipse
        class={['object', objectDeg === undefined && !framing.isRound && 'unknown']}
        rx={(object.minorArcmin / 120) * pxPerDeg}
        ry={(object.majorArcmin / 120) * pxPerDeg}
      />
    </g>
    <text class="word" x="0" y={-4} text-anchor="middle">{objectInWords(object)}</text>
  {/if}
  {#if mosaic && field && mosaic.centresDeg.length > 1}
    {#each mosaic.centresDeg as [x, y] (`${x} ${y}`)}
      <rect
        class="panel-of"
        x={(x - field[0] / 2) * pxPerDeg}
        y={(-y - field[1] / 2) * pxPerDeg}
        width={field[0] * pxPerDeg}
        height={field[1] * pxPerDeg}
      />
    {/each}
  {/if}
  {#if object && Number.isFinite(object.raDeg)}
    <g transform="rotate({northAngle})">
      <path class="north" d="M0 {-radius}v-12m-4 6l4 -6l4 6" />
      <text class="word" x="9" y={-radius - 4} transform="rotate({-northAngle} 9 {-radius - 4})">N</text>
    </g>
  {/if}
</g>

<style>
  .star {
    fill: var(--color-base-content);
    fill-opacity: 0.8;
  }
  .object {
    fill: var(--glass);
    fill-opacity: 0.2;
    stroke: var(--glass);
    stroke-width: 1.4;
  }
  .object.unknown {
    stroke-dasharray: 4 4;
  }
  .panel-of {
    fill: var(--color-primary);
    fill-opacity: 0.05;
    stroke: var(--color-primary);
    stroke-width: 1;
  }
  .north {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1.6;
  }
  .word {
    fill: var(--color-base-content);
    font-size: 11px;
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 3px;
  }
</style>
