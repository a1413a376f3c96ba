<script lang="ts">
  import { FONT_PER_CAPITAL, LINES, type Drawing, type LineStyle } from '@lodestone/core/drawing';

  /** A workshop drawing as it comes out on paper. */
  const { drawing, label }: { drawing: Drawing; label: string } = $props();

  const texts = $derived(drawing.shapes.filter((shape) => shape.kind === 'text'));
  /** Lines of one style as one path. */
  const paths = $derived(
    (Object.keys(LINES) as LineStyle[]).map((style) => ({
      style,
      d: drawing.shapes
        .flatMap((shape) =>
          shape.kind === 'line' && shape.style === style
            ? [`M${shape.x1} ${drawing.height - shape.y1}L${shape.x2} ${drawing.height - shape.y2}`]
            : []
        )
        .join('')
    }))
  );
</script>

<svg
  class="border-line bg-base-100 w-full border"
  viewBox="0 0 {drawing.width} {drawing.height}"
  role="img"
  aria-label={label}
>
  {#each paths as { style, d } (style)}
    <path
      {d}
      fill="none"
      stroke="currentColor"
      stroke-width={LINES[style].width}
      stroke-dasharray={LINES[style].dash.join(' ')}
    />
  {/each}
  {#each texts as { x, y, size, anchor, turnDeg, text }, index (index)}
    <text
      {x}
      y={drawing.height - y}
      font-size={size * FONT_PER_CAPITAL}
      text-anchor={anchor}
      fill="currentColor"
      transform={turnDeg === 0 ? undefined : `rotate(${-turnDeg} ${x} ${drawing.height - y})`}>{text}</text
    >
  {/each}
</svg>
