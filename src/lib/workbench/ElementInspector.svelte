<script lang="ts">
  import { KINDS, isShim, isSolid, type Element } from '@lodestone/core/train';
  import ElementFields from '$lib/element/ElementFields.svelte';
  import Field from '$lib/element/Field.svelte';
  import Section from '$lib/element/Section.svelte';
  import ArrowLeft from '@lucide/svelte/icons/arrow-left';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import PencilRuler from '@lucide/svelte/icons/pencil-ruler';
  import RefreshCcw from '@lucide/svelte/icons/refresh-ccw';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import Later from '$lib/ui/Later.svelte';
  import MeasuredTogether from './MeasuredTogether.svelte';
  import PartOrigin from './PartOrigin.svelte';
  import type { Snippet } from 'svelte';

  interface Props {
    element: Element;
    /** Left out where a stage has nothing to put in its place. */
    onreplace?: (() => void) | undefined;
    /** Left out where nothing is made to measure in its place. */
    onmake?: (() => void) | undefined;
    onremove: () => void;
    onshift: (by: -1 | 1) => void;
    /** What may go into an open place. */
    place?: Snippet;
  }
  const { element, onreplace, onmake, onremove, onshift, place }: Props = $props();

  const planner = () => import('./RotationPlanner.svelte');

  const at = $derived(element.id);
</script>

<div class="flex items-start justify-between gap-2">
  <div class="min-w-0">
    <p class="text-muted text-xs">{KINDS[element.kind].words}</p>
    <h2 class="mb-2 text-lg leading-tight font-semibold">{element.name}</h2>
  </div>
  <div class="flex shrink-0">
    {#if element.kind !== 'camera'}
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Toward the sky (Alt ←)"
        aria-label="Move toward the sky"
        onclick={() => onshift(-1)}
      >
        <ArrowLeft size={14} />
      </button>
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Toward the camera (Alt →)"
        aria-label="Move toward the camera"
        onclick={() => onshift(1)}
      >
        <ArrowRight size={14} />
      </button>
    {/if}
    {#if onreplace}
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Replace (R)"
        aria-label="Replace by another part"
        onclick={onreplace}
      >
        <RefreshCcw size={14} />
      </button>
    {/if}
    {#if onmake}
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Made to measure (Shift M)"
        aria-label="Have the part made to measure"
        onclick={onmake}
      >
        <PencilRuler size={14} />
      </button>
    {/if}
    {#if element.kind !== 'camera'}
      <button
        class="btn btn-ghost btn-xs btn-square"
        title="Remove (Delete)"
        aria-label="Remove from the train"
        onclick={onremove}
      >
        <Trash2 size={14} />
      </button>
    {/if}
  </div>
</div>

{#if isSolid(element)}
  <PartOrigin {element} />
  <ElementFields {element} />
  {#if !isShim(element)}
    <MeasuredTogether {element} />
    <Section title="Turn it" gist="framing angle" lazy><Later load={planner} of={{ id: element.id }} /></Section>
  {/if}
{:else}
  <div class="grid gap-2 pb-3">
    <p class="text-muted text-xs">A gap: parts are still missing here. It has no length and joins nothing.</p>
    <Field label="Name" kind="text" {at} path={['name']} current={element.name} required />
    <div class="grid grid-cols-2 gap-2">
      <Field label="At least" kind="length" {at} path={['minMm']} current={element.minMm} />
      <Field label="At most" kind="length" {at} path={['maxMm']} current={element.maxMm} />
    </div>
    {#if place}<div class="border-line mt-1 border-t pt-3">{@render place()}</div>{/if}
  </div>
{/if}
