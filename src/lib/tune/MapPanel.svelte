<script lang="ts">
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import type { TuneDesk } from './desk.svelte.ts';
  import FrameToCome from './FrameToCome.svelte';
  import { FACTORS } from './map.svelte.ts';
  import StarMap from './StarMap.svelte';
  import TiltFace from './TiltFace.svelte';
  import Tool from './Tool.svelte';
  import type { Snippet } from 'svelte';

  /** The picture under Tune: the stars of a frame, the tilt of the sensor, or a frame to practise on. */
  interface Props {
    desk: TuneDesk;
    /** Stands where there is no frame yet. */
    empty: Snippet;
  }
  const { desk, empty }: Props = $props();
  const frames = useFrames();
  const { map, trainer } = $derived(desk);
  const { chosen } = $derived(frames);

  /** What a frame says is shown first, the map in the next picture of the screen: both at once are felt. */
  let mayDraw = $state(false);
  $effect(() => {
    if (mayDraw || !chosen?.summary) return undefined;
    const next = requestAnimationFrame(() => (mayDraw = true));
    return () => cancelAnimationFrame(next);
  });

  const LAYERS = [
    ['stars', 'Stars'],
    ['tilt', 'Tilt']
  ] as const;
</script>

{#snippet layers()}
  {#if desk.hasTilt}
    <div class="flex" role="group" aria-label="Layer of the face">
      {#each LAYERS as [id, title] (id)}
        <Tool on={(desk.isTilt ? 'tilt' : 'stars') === id} title="G" data-layer={id} onclick={() => (desk.layer = id)}
          >{title}</Tool
        >
      {/each}
    </div>
    <span class="border-line h-4 border-l"></span>
  {/if}
{/snippet}
{#snippet whiskers()}
  <Tool on={map.whiskers} title="W" onclick={() => (map.whiskers = !map.whiskers)}>Whiskers</Tool>
{/snippet}
{#snippet loupes(title: string)}
  <Tool on={map.loupesShown} {title} onclick={() => (map.loupesShown = !map.loupesShown)}>Loupes</Tool>
{/snippet}
{#snippet zooming()}
  <span class="flex-1"></span>
  <Tool aria-label="Smaller" title="−" onclick={() => map.view.zoom(1 / 1.4)}>−</Tool>
  <Tool title="0" onclick={() => map.view.whole()}
    >{map.view.isWhole ? 'all of it' : `${Math.round(map.view.scale * 100)} %`}</Tool
  >
  <Tool aria-label="Larger" title="+" onclick={() => map.view.zoom(1.4)}>+</Tool>
{/snippet}

<section
  class="panel relative flex min-h-[26rem] flex-col overflow-hidden lg:min-h-0"
  aria-label={desk.isTilt ? 'Tilt of the sensor' : 'Star-shape map'}
>
  {#if trainer.isOpen}
    {#if trainer.frame}
      <div class="tools" role="toolbar" aria-label="Map">
        {#if trainer.state === 'told'}{@render whiskers()}{/if}
        {@render loupes('L')}
        {@render zooming()}
      </div>
      <div class="min-h-0 flex-1">
        <StarMap frame={trainer.frame} other={undefined} {map} isQuiz={trainer.state !== 'told'} />
      </div>
    {:else}
      <div class="grid flex-1 place-content-center p-6 text-center">
        <p class="text-muted" role="status">
          {trainer.state === 'failed'
            ? 'The simulated camera gave no frame.'
            : 'The simulated camera exposes a frame …'}
        </p>
      </div>
    {/if}
  {:else if desk.isTilt && desk.tilt && desk.sensor}
    {@const { widthMm, heightMm } = desk.sensor}
    <div class="tools" role="toolbar" aria-label="Map">{@render layers()}</div>
    <div class="min-h-0 flex-1">
      <TiltFace tilt={desk.tilt} {widthMm} {heightMm} plate={desk.tuning.plate} turns={desk.turns} />
    </div>
    <p class="legend" aria-hidden="true">
      <span class="key outward drawn"></span>farther than the middle, µm<span class="key circling drawn"></span>nearer
    </p>
  {:else if chosen?.summary}
    <div class="tools" role="toolbar" aria-label="Map">
      {@render layers()}
      {@render whiskers()}
      <Tool
        on={map.single}
        title="S; where one looks closer they are there anyway"
        onclick={() => (map.single = !map.single)}>Each star</Tool
      >
      <label class="flex items-center gap-1 text-xs" title="Longer . shorter ,"
        ><span class="text-muted">drawn</span>
        <select class="select select-xs w-16" bind:value={map.factor}>
          {#each FACTORS as factor (factor)}<option value={factor}>{factor} ×</option>{/each}
        </select></label
      >
      <Tool on={map.without} title="D: remove the drift all stars share" onclick={() => (map.without = !map.without)}
        >without drift</Tool
      >
      {@render loupes('L; a double click lays another')}
      <Tool on={map.sizes} title="Z" onclick={() => (map.sizes = !map.sizes)}>Sizes</Tool>
      <Tool on={map.image} title="P" onclick={() => (map.image = !map.image)}>Picture</Tool>
      {@render zooming()}
    </div>
    <div class="min-h-0 flex-1">
      {#if mayDraw}<StarMap frame={chosen} other={frames.other} {map} />{/if}
    </div>
    {#if map.whiskers}
      <p class="legend" aria-hidden="true">
        <span class="key outward"></span>radial<span class="key circling"></span>tangential<span class="key calm"
        ></span>within chance
      </p>
    {/if}
  {:else if chosen}
    <FrameToCome frame={chosen} />
  {:else}
    {@render empty()}
  {/if}
</section>

<style>
  .tools {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.25rem;
    padding: 0.4rem 0.5rem;
    border-bottom: 1px solid var(--color-line);
  }
  .legend {
    position: absolute;
    left: 0.75rem;
    bottom: 0.5rem;
    display: flex;
    align-items: center;
    gap: 0.35rem;
    padding: 0.1rem 0.5rem;
    border-radius: 0.3rem;
    background: var(--color-base-200);
    font-size: 0.75rem;
  }
  .key {
    width: 1.1rem;
    border-top: 2px solid var(--whisker-outward);
  }
  .key.circling {
    margin-left: 0.5rem;
    border-top: 2px dashed var(--whisker-circling);
  }
  .key.calm {
    width: 5px;
    height: 5px;
    margin-left: 0.5rem;
    border: 0;
    border-radius: 50%;
    background: var(--ink-muted);
  }
  .key.drawn {
    border-color: var(--drawn-outward);
  }
  .key.circling.drawn {
    border-color: var(--drawn-circling);
  }
</style>
