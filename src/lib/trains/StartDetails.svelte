<script lang="ts">
  import DatumPicture from '$lib/element/DatumPicture.svelte';
  import Fold from '$lib/ui/Fold.svelte';
  import { HOST_KIND_WORDS, isHostKind } from '@lodestone/core/train';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import type { Start } from './start.svelte.ts';

  const { start }: { start: Start } = $props();
  const display = useDisplay();
  const draft = $derived(start.draft);
</script>

<Fold
  title="More: kind, faces, where the back focus is measured from"
  class="pl-10"
  titleClass="text-muted"
  wanted={draft.datum !== 'shoulder' || draft.magnification !== ''}
>
  <div class="mt-2 grid gap-x-3 gap-y-4 sm:grid-cols-2">
    {#if !draft.host}
      <label class="grid content-start gap-0.5">
        <span class="text-muted text-xs">Kind</span>
        <select
          class="select select-sm w-full"
          value={start.hostKind}
          onchange={({ currentTarget: { value } }) => (draft.hostKind = isHostKind(value) ? value : undefined)}
        >
          {#each Object.entries(HOST_KIND_WORDS) as [each, name] (each)}<option value={each}>{name}</option>{/each}
        </select>
      </label>
      <label class="flex items-center gap-2 self-end py-1">
        <input
          type="checkbox"
          class="checkbox checkbox-sm"
          checked={start.flatField}
          onchange={({ currentTarget }) => (draft.flatStated = currentTarget.checked)}
        />
        <span>Its field is flat by itself</span>
      </label>
      <PortEditor
        label="Face of the telescope"
        port={start.hostFace}
        optional={false}
        commit={(port) => void (draft.hostFace = port)}
      />
    {/if}
    {#if !draft.corrector}
      <div class="grid content-start gap-0.5">
        <span class="text-muted text-xs">Measured from</span>
        <DatumPicture datum={draft.datum} port={draft.correctorFace} onchoose={(datum) => (draft.datum = datum)} />
      </div>
      {#if draft.datum !== 'shoulder'}
        <label class="grid content-start gap-0.5">
          <span class="text-muted text-xs"
            >{draft.datum === 'thread-tip' ? 'Male thread length' : 'Depth inside the shoulder'}</span
          >
          <span class={['input input-sm w-full', !start.offset.ok && 'input-error']}>
            <input
              bind:value={draft.datumOffset}
              inputmode="decimal"
              autocomplete="off"
              aria-invalid={!start.offset.ok}
              placeholder={draft.datum === 'thread-tip' ? 'that of its face' : '1.5'}
              class="min-w-0 text-right"
            />
            <span class="text-muted text-xs">{display.unit}</span>
          </span>
          {#if !start.offset.ok}<span class="text-error text-xs" role="alert">{start.offset.message}</span>{/if}
        </label>
      {/if}
      <label class="grid content-start gap-0.5">
        <span class="text-muted text-xs">Magnification</span>
        <span class={['input input-sm w-full', !start.magnification.ok && 'input-error']}>
          <input
            bind:value={draft.magnification}
            inputmode="decimal"
            autocomplete="off"
            aria-invalid={!start.magnification.ok}
            placeholder="0.8"
            class="min-w-0 text-right"
          />
          <span class="text-muted text-xs">×</span>
        </span>
        {#if !start.magnification.ok}<span class="text-error text-xs" role="alert">{start.magnification.message}</span
          >{/if}
      </label>
      <label class="flex items-center gap-2 self-end py-1"
        ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={draft.flattens} />Flattens the field</label
      >
      <PortEditor
        label="Face of the corrector"
        port={draft.correctorFace}
        commit={(port) => void (draft.correctorFace = port)}
      />
    {/if}
    {#if !draft.camera}
      <PortEditor
        label="Face of the camera"
        port={draft.cameraFace}
        commit={(port) => void (draft.cameraFace = port)}
      />
    {/if}
  </div>
</Fold>
