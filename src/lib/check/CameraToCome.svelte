<script lang="ts">
  import { hangFor } from '@lodestone/core/load';
  import { HOST, isCamera } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { numberIn } from '$lib/ui/parse.ts';

  /** What to hang on a joint to test it for a heavier camera: the difference, where the camera's centre of mass is. */
  interface Props {
    /** Joint that is tested. */
    at: string;
    onhang: (hung: { massG: number; atMm: number }) => void;
  }
  const { at, onhang }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const { facts } = $derived(train.assessment);
  const camera = $derived(train.shown.elements.find(isCamera));
  const hanging = $derived(facts.load.hanging.find(({ id, isAttached }) => id === camera?.id && !isAttached));
  const faceMm = $derived.by(() => {
    const index = train.shown.elements.findIndex(({ id }) => id === at);
    return at === HOST || index < 0 ? 0 : facts.axis.spans[index]!.fromMm - facts.axis.hostFaceMm;
  });
  let text = $state('');
  const nextG = $derived(numberIn(text));
  const hung = $derived(
    hanging && nextG !== undefined ? hangFor(hanging.massG, nextG, hanging.behindMm - faceMm) : undefined
  );
</script>

{#if camera && hanging}
  <div class="col-span-full flex flex-wrap items-center gap-1" data-camera-to-come>
    <label class="flex items-center gap-1"
      >For a camera of
      <input class="input input-xs w-20 text-right" inputmode="decimal" placeholder="750" bind:value={text} /> g</label
    >
    {#if hung}
      <button type="button" class="btn btn-outline btn-xs" onclick={() => onhang(hung)}
        >hang {hung.massG.toFixed(0)} g at {display.length(hung.atMm, display.unit === 'mm' ? 0 : 2)}</button
      >
    {:else if nextG !== undefined}
      <span class="text-muted">the {hanging.massG.toFixed(0)} g of {camera.name} are a harder test already.</span>
    {/if}
  </div>
{/if}
