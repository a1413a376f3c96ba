<script lang="ts">
  import { illumination, type Light } from '@lodestone/core/light';
  import type { LayerView } from '$lib/rail/layers.svelte.ts';
  import { isoLines } from './contours.ts';
  import type { FaceView } from './faceView.svelte.ts';
  import { LightMaps, type LightMap } from './lightMap.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { onDestroy, onMount } from 'svelte';

  interface Props {
    light: Light;
    view: FaceView;
    layers: LayerView;
    pxPerMm: number;
  }
  const { light, view, layers, pxPerMm }: Props = $props();
  const uid = $props.id();
  const notices = useNotices();

  const { widthMm, heightMm } = $derived(light.sensor);
  const compared = $derived(view.compared && light.compared(view.compared.change));

  let alive = $state(false);
  let map = $state.raw<LightMap>();
  let other = $state.raw<LightMap>();
  const maps = [new LightMaps(), new LightMaps()] as const;
  onMount(() => (alive = true));
  onDestroy(() => maps.forEach((each) => each.end()));

  let tries = $state(0);
  const fail = (error: Error): void =>
    notices.say(`The light map was not made. ${error.message}`, { label: 'Try again', run: () => tries++ });

  // A worker makes the maps: where it is done the picture follows.
  $effect(() => {
    void tries;
    if (alive) maps[0].of(light, light.optics, (made) => (map = made)).catch(fail);
  });
  $effect(() => {
    void tries;
    if (alive && compared) maps[1].of(light, compared, (made) => (other = made)).catch(fail);
    else other = undefined;
  });

  const lines = $derived(map ? isoLines(map, [widthMm, heightMm], view.relative) : []);
  const otherLines = $derived(other ? isoLines(other, [widthMm, heightMm], view.relative) : []);
  const [half, tall] = $derived([(widthMm / 2) * pxPerMm, (heightMm / 2) * pxPerMm]);
  /** Room that two words beside each other need in the sensor, and one row of them, px. */
  const CORNER_WORDS_PX = 92;
  const CORNER_ROW_PX = 15;
  /** The words of the corners stand outside it. */
  const isSmall = $derived(2 * half < CORNER_WORDS_PX || 2 * tall < 3 * CORNER_ROW_PX);
  const splitX = $derived((view.split - 0.5) * widthMm * pxPerMm);

  const shareAt = (at: readonly [number, number], optics: typeof light.optics): number => {
    const share = illumination(at, optics);
    const centre = view.relative ? illumination([0, 0], optics) : 1;
    return centre > 0 ? share / centre : 0;
  };
  /** Corners, each in its own half of the picture where two are compared. */
  const corners = $derived(
    [
      [1, 1],
      [-1, 1],
      [-1, -1],
      [1, -1]
    ].map(([x, y]) => {
      const optics = compared && (x! * widthMm) / 2 > (view.split - 0.5) * widthMm ? compared : light.optics;
      const share = shareAt([(x! * widthMm) / 2, (y! * heightMm) / 2], optics);
      return { x: x!, y: y!, share };
    })
  );
  const point = $derived(light.atHeight(layers.share * light.halfDiagonalMm));

  /** Words of lines nearer than this to the next are left out, px. */
  const WORD_PX = 22;
  function spaced(all: typeof lines): typeof lines {
    let last = Infinity;
    return all
      .toReversed()
      .filter(({ wordAtMm }) => {
        if (wordAtMm === undefined || last - wordAtMm * pxPerMm < WORD_PX) return false;
        last = wordAtMm * pxPerMm;
        return true;
      })
      .toReversed();
  }
</script>

<g class="pointer-events-none" aria-hidden="true" data-light-map={map ? 'there' : 'coming'}>
  <clipPath id="{uid}-is"
    ><rect x={-half} y={-tall} width={other ? half + splitX : 2 * half} height={2 * tall} /></clipPath
  >
  <clipPath id="{uid}-other"
    ><rect x={splitX} y={-tall} width={Math.max(0, half - splitX)} height={2 * tall} /></clipPath
  >
  {#each [{ clip: `${uid}-is`, shown: lines }, ...(other ? [{ clip: `${uid}-other`, shown: otherLines }] : [])] as { clip, shown } (clip)}
    <g clip-path="url(#{clip})">
      <g transform="scale({pxPerMm})">
        {#each shown as { share, path } (share)}
          <path class={['iso', share === 0.9 && 'main']} d={path} />
        {/each}
      </g>
      {#each spaced(shown) as { share, wordAtMm } (share)}
        <text class="iso-word" x={(wordAtMm ?? 0) * pxPerMm - 3} y="-3" text-anchor="end"
          >{Math.round(share * 100)}</text
        >
      {/each}
    </g>
  {/each}
  {#each corners as { x, y, share } (`${x} ${y}`)}
    <text
      class={['corner', share < light.wanted - 0.005 && !view.relative && 'bad']}
      x={x * (isSmall ? half + 5 : half - 5)}
      y={-y * (isSmall ? Math.max(tall, CORNER_ROW_PX / 2) : tall - 9) + 4}
      text-anchor={x > 0 === isSmall ? 'start' : 'end'}
      data-corner>{Math.round(share * 100)} %</text
    >
  {/each}
  {#if layers.has('light')}
    <circle class="point" cx={point[0] * pxPerMm} cy={-point[1] * pxPerMm} r="4" />
  {/if}
</g>
{#if other && view.compared}
  <g class="pointer-events-none" aria-hidden="true">
    <path class="line" d="M{splitX} {-tall - 6}V{tall + 6}" />
    <path class="grip" d="M{splitX - 7} 0l5 -5v10zM{splitX + 7} 0l-5 -5v10z" />
  </g>
{/if}

<style>
  .iso {
    fill: var(--color-base-content);
    fill-opacity: 0.045;
    stroke: var(--color-base-content);
    stroke-opacity: 0.5;
    stroke-width: 1px;
    vector-effect: non-scaling-stroke;
  }
  .iso.main {
    stroke-opacity: 0.95;
    stroke-width: 1.4px;
  }
  .iso-word,
  .corner {
    fill: var(--color-base-content);
    font-size: 10.5px;
    paint-order: stroke;
    stroke: var(--color-base-200);
    stroke-width: 2.5px;
  }
  .corner {
    font-size: 11.5px;
    font-weight: 600;
  }
  .corner.bad {
    fill: var(--color-error);
  }
  .point {
    fill: var(--color-primary);
    stroke: var(--color-base-200);
    stroke-width: 1.5;
  }
  .line {
    stroke: var(--color-primary);
    stroke-width: 1.6;
  }
  .grip {
    fill: var(--color-primary);
  }
</style>
