<script lang="ts">
  /** A frame's picture, or a part of it, from tiles; sharp at any size, and red alone in the night. */
  import { onMount } from 'svelte';
  import type { Pixels } from '$lib/frames/pixels.ts';
  import { Tiles, type Tint } from '$lib/frames/tiles.ts';

  interface Props {
    pixels: Pixels;
    /** Pixels of the screen for one of the frame, and the frame's corner in this box. */
    scale: number;
    left: number;
    top: number;
    width: number;
    height: number;
    class?: string;
  }
  const { pixels, scale, left, top, width, height, class: looks = '' }: Props = $props();

  let canvas = $state<HTMLCanvasElement>();
  let tint = $state.raw<Tint>([255, 255, 255]);
  /** Counts what has arrived. */
  let arrived = $state(0);
  const tiles = $derived(new Tiles(pixels, pixels.sizes, () => arrived++));

  onMount(() => {
    const look = () => {
      tint = document.documentElement.dataset.theme === 'night' ? [255, 0, 0] : [255, 255, 255];
    };
    look();
    const watching = new MutationObserver(look);
    watching.observe(document.documentElement, { attributeFilter: ['data-theme'] });
    return () => watching.disconnect();
  });

  $effect(() => {
    void arrived;
    if (!canvas) return;
    const ratio = window.devicePixelRatio || 1;
    const seen = {
      scale: scale * ratio,
      left: left * ratio,
      top: top * ratio,
      width: Math.round(width * ratio),
      height: Math.round(height * ratio)
    };
    const [on, drawing, colour] = [canvas, tiles, tint];
    const frame = requestAnimationFrame(() => {
      if (on.width !== seen.width) on.width = seen.width;
      if (on.height !== seen.height) on.height = seen.height;
      const context = on.getContext('2d')!;
      context.clearRect(0, 0, seen.width, seen.height);
      drawing.draw(context, seen, colour);
      on.dataset.drawn = String(arrived);
    });
    return () => cancelAnimationFrame(frame);
  });
</script>

<canvas bind:this={canvas} class={['absolute inset-0 h-full w-full', looks]} aria-hidden="true"></canvas>
