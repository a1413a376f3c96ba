<script lang="ts">
  /** A round magnifier: what lies under its middle, several times as large, pixel by pixel. */
  import FramePicture from './FramePicture.svelte';
  import type { LoupeState } from './map.svelte.ts';
  import type { Pixels } from '$lib/frames/pixels.ts';
  import type { MapView } from './view.svelte.ts';

  interface Props {
    loupe: LoupeState;
    number: number;
    view: MapView;
    pixels: Pixels;
    /** The other frame, right of a share of the loupe. */
    other?: { pixels: Pixels; from: number } | undefined;
    onmove: (x: number, y: number) => void;
    onremove: () => void;
  }
  const { loupe, number, view, pixels, other, onmove, onremove }: Props = $props();

  /** Pixels of the screen for one of the frame. */
  const MAGNIFIED = 5;
  const sizePx = $derived(Math.max(84, Math.min(150, Math.min(view.boxWidth, view.boxHeight) * 0.23)));
  const scale = $derived(Math.max(MAGNIFIED, view.scale * 2));
  const x = $derived(view.left + loupe.x * view.widthPx * view.scale);
  const y = $derived(view.top + loupe.y * view.heightPx * view.scale);
  /** It stays within the map, where it would hang over the edge. */
  const cx = $derived(Math.max(sizePx / 2 + 2, Math.min(view.boxWidth - sizePx / 2 - 2, x)));
  const cy = $derived(Math.max(sizePx / 2 + 2, Math.min(view.boxHeight - sizePx / 2 - 2, y)));

  let held = $state.raw<{ x: number; y: number }>();
  const place = (element: HTMLElement) => {
    element.style.left = `${cx - sizePx / 2}px`;
    element.style.top = `${cy - sizePx / 2}px`;
    element.style.width = `${sizePx}px`;
    element.style.height = `${sizePx}px`;
  };
  const cut = (element: HTMLElement) => {
    element.style.clipPath = `inset(0 0 0 ${100 * (other?.from ?? 0)}%)`;
  };
  const seam = (element: HTMLElement) => {
    element.style.left = `${100 * (other?.from ?? 0)}%`;
  };
  function onpointerdown(event: PointerEvent & { currentTarget: Element }) {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    held = { x: event.clientX, y: event.clientY };
  }
  function onpointermove(event: PointerEvent) {
    if (!held) return;
    onmove(
      loupe.x + (event.clientX - held.x) / view.scale / view.widthPx,
      loupe.y + (event.clientY - held.y) / view.scale / view.heightPx
    );
    held = { x: event.clientX, y: event.clientY };
  }
  function onkeydown(event: KeyboardEvent) {
    const step = event.shiftKey ? 0.004 : 0.03;
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (by) onmove(loupe.x + by[0]! * step, loupe.y + by[1]! * step);
    else if (event.key === 'Delete' || event.key === 'Backspace') onremove();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="loupe"
  {@attach place}
  role="application"
  aria-label="Loupe {number}, at {Math.round(loupe.x * 100)} % from the left and {Math.round(
    loupe.y * 100
  )} % from the top. Arrow keys move it, Delete removes it."
  tabindex="0"
  data-loupe={number}
  {onpointerdown}
  {onpointermove}
  onpointerup={() => (held = undefined)}
  onpointercancel={() => (held = undefined)}
  ondblclick={(event) => {
    event.stopPropagation();
    onremove();
  }}
  {onkeydown}
>
  {#snippet picture(of: Pixels)}
    <FramePicture
      pixels={of}
      {scale}
      left={sizePx / 2 - loupe.x * view.widthPx * scale}
      top={sizePx / 2 - loupe.y * view.heightPx * scale}
      width={sizePx}
      height={sizePx}
    />
  {/snippet}
  {@render picture(pixels)}
  {#if other}
    <div class="after" {@attach cut}>{@render picture(other.pixels)}</div>
    <div class="seam" {@attach seam}></div>
  {/if}
</div>

<style>
  .loupe {
    position: absolute;
    overflow: hidden;
    border-radius: 50%;
    border: 2.5px solid var(--metal-edge);
    box-shadow:
      0 0 0 1px #000,
      0 4px 14px rgb(0 0 0 / 0.5);
    background: #000;
    cursor: move;
    touch-action: none;
  }
  .after {
    position: absolute;
    inset: 0;
  }
  .seam {
    position: absolute;
    top: 0;
    bottom: 0;
    border-left: 1.5px solid var(--color-primary);
  }
  .loupe:focus-visible {
    border-color: var(--color-primary);
  }
</style>
