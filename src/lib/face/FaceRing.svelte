<script lang="ts">
  import { radians } from '@lodestone/core/stats';
  /** The graduated ring round the face: degrees anticlockwise from the right, as seen from the camera. */
  const { radiusPx }: { radiusPx: number } = $props();

  const STEP_DEG = 5;
  const marks = Array.from({ length: 360 / STEP_DEG }, (_, at) => {
    const deg = at * STEP_DEG;
    const angle = radians(deg);
    return { deg, cos: Math.cos(angle), sin: Math.sin(angle), long: deg % 90 === 0 ? 11 : deg % 30 === 0 ? 8 : 5 };
  });
  const FIGURES = [
    { deg: 0, dx: 6, dy: 4, anchor: 'start' },
    { deg: 90, dx: 0, dy: -6, anchor: 'middle' },
    { deg: 180, dx: -6, dy: 4, anchor: 'end' },
    { deg: 270, dx: 0, dy: 15, anchor: 'middle' }
  ] as const;
</script>

<g aria-hidden="true" class="pointer-events-none">
  <circle class="disc" r={radiusPx} />
  {#each marks as { deg, cos, sin, long } (deg)}
    <path class="mark" d="M{cos * radiusPx} {-sin * radiusPx}L{cos * (radiusPx - long)} {-sin * (radiusPx - long)}" />
  {/each}
  {#each FIGURES as { deg, dx, dy, anchor } (deg)}
    {@const angle = radians(deg)}
    <text x={Math.cos(angle) * radiusPx + dx} y={-Math.sin(angle) * radiusPx + dy} text-anchor={anchor}>{deg}°</text>
  {/each}
</g>

<style>
  .disc {
    fill: color-mix(in srgb, var(--metal) 22%, var(--color-base-200));
    stroke: var(--color-line);
  }
  .mark {
    stroke: var(--metal-edge);
    stroke-width: 0.9;
  }
  text {
    fill: var(--ink-muted);
    font-size: 10.5px;
  }
</style>
