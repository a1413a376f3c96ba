<script lang="ts">
  /** The usual star of each corner of a frame as an ellipse where it stands, its stretch drawn larger than it is. */
  import type { TriedSpacing } from '@lodestone/core/train';

  const { corners }: { corners: NonNullable<TriedSpacing['corners']> } = $props();

  const STRETCHED = 6;
  const RADIUS = 5;
  const sizes = $derived(corners.flatMap((corner) => (corner ? [corner.fwhmPx] : [])));
  const usual = $derived(sizes.length === 0 ? 1 : sizes.reduce((a, b) => a + b, 0) / sizes.length);
  const shown = $derived(
    corners.map((corner, at) => {
      const place = { x: at % 2 === 0 ? 8 : 34, y: at < 2 ? 8 : 22 };
      if (!corner) return { ...place, star: undefined };
      const ratio = Math.max(0.25, 1 - STRETCHED * corner.ellipticity);
      const size = RADIUS * Math.max(0.6, Math.min(1.5, corner.fwhmPx / usual));
      return { ...place, star: { rx: size / Math.sqrt(ratio), ry: size * Math.sqrt(ratio), deg: -corner.angleDeg } };
    })
  );
  const words = $derived(
    corners
      .map((corner, at) => {
        const where = ['top left', 'top right', 'bottom left', 'bottom right'][at]!;
        return `${where} ${corner ? corner.ellipticity.toFixed(2) : 'no star'}`;
      })
      .join(', ')
  );
</script>

<svg width="42" height="30" viewBox="0 0 42 30" role="img" aria-label="Stretch of the corners: {words}" data-corners>
  <title>{words}</title>
  {#each shown as { x, y, star }, index (index)}
    {#if star}
      <ellipse cx={x} cy={y} rx={star.rx} ry={star.ry} transform="rotate({star.deg} {x} {y})" />
    {:else}
      <path d="M{x - 2} {y}h4" />
    {/if}
  {/each}
</svg>

<style>
  ellipse {
    fill: var(--color-primary);
    fill-opacity: 0.85;
  }
  path {
    stroke: var(--ink-muted);
  }
</style>
