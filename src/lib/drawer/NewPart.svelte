<script lang="ts">
  import { KIND_CHOICES, isElementKind, type ElementKind, type Port, type SolidElement } from '@lodestone/core';
  import { freePartId, usualName, type Part } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { elementFrom } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import { untrack } from 'svelte';

  interface Props {
    open: boolean;
    /** A part to begin from: another like it. */
    like: Part | undefined;
    onmade: (partId: string) => void;
  }
  let { open = $bindable(), like, onmade }: Props = $props();
  const drawer = useDrawer();
  const display = useDisplay();

  type PartKind = Exclude<ElementKind, 'gap'>;
  let kind = $state<PartKind>('spacer');
  let partId = $state('');
  let name = $state('');
  let lengthText = $state('');
  let location = $state('');
  let sky = $state.raw<Port>();
  let camera = $state.raw<Port>();
  let message = $state<string>();

  const taken = $derived(new Set(drawer.plain.map((part) => part.partId)));
  const freeId = $derived(freePartId(taken, kind));
  const kinds = KIND_CHOICES.filter(([each]) => each !== 'gap');

  $effect(() => {
    if (open) untrack(start);
  });

  function start() {
    message = undefined;
    partId = '';
    name = '';
    kind = like?.element.kind ?? 'spacer';
    lengthText = like ? numberText(like.element.lengthMm, display.unit) : '';
    location = like?.location ?? '';
    sky = like && 'sky' in like.element ? like.element.sky : undefined;
    camera = like && 'camera' in like.element ? like.element.camera : undefined;
  }

  const suggestedName = $derived(usualName(kind, lengthText.trim(), sky));

  function elementOf(lengthMm: number, id: string): SolidElement {
    const base = { id, name: name.trim() || suggestedName, lengthMm };
    const faces = { ...(sky ? { sky } : {}), ...(camera ? { camera } : {}) };
    const own = like && like.element.kind === kind ? like.element : undefined;
    if (own) return { ...own, ...base, ...(kind === 'shim' ? {} : faces) } as SolidElement;
    return elementFrom({ ...base, kind, sky, camera }, id) as SolidElement;
  }

  function submit(event: SubmitEvent) {
    event.preventDefault();
    const length = parseNumber(lengthText, display.unit);
    if (!length.ok) return void (message = length.message);
    if (length.parsed === undefined) return void (message = 'Its length is needed.');
    const id = partId.trim() || freeId;
    if (taken.has(id)) return void (message = `${id} is already the number of another part.`);
    message = drawer.change(`Add ${id}`, [
      {
        partId: id,
        element: elementOf(length.parsed, id),
        quantity: 1,
        owned: like?.owned ?? true,
        location: location.trim(),
        state: 'spare',
        measurements: []
      }
    ]);
    if (message !== undefined) return;
    open = false;
    onmade(id);
  }

  const keep = (face: 'sky' | 'camera') => (port: Port | undefined) => {
    if (face === 'sky') sky = port;
    else camera = port;
    return undefined;
  };
</script>

<Modal title={like ? `Another like ${like.partId}` : 'A new part'} bind:open>
  <form class="grid gap-3" onsubmit={submit}>
    <div class="grid grid-cols-3 gap-3">
      <label class="grid gap-0.5">
        <span class="text-muted text-xs">Kind</span>
        <select
          class="select select-sm w-full"
          value={kind}
          onchange={({ currentTarget: { value } }) => {
            if (isElementKind(value) && value !== 'gap') kind = value;
          }}
        >
          {#each kinds as [each, words] (each)}<option value={each}>{words}</option>{/each}
        </select>
      </label>
      <label class="grid gap-0.5">
        <span class="text-muted text-xs">{kind === 'camera' ? 'Flange to sensor' : 'Length'}</span>
        <span class="input input-sm w-full">
          <!-- svelte-ignore a11y_autofocus -->
          <input bind:value={lengthText} inputmode="decimal" autocomplete="off" autofocus class="min-w-0 text-right" />
          <span class="text-muted text-xs">{display.unit}</span>
        </span>
      </label>
      <label class="grid gap-0.5">
        <span class="text-muted text-xs">Number</span>
        <input
          class="input input-sm w-full"
          bind:value={partId}
          maxlength="100"
          autocomplete="off"
          placeholder={freeId}
        />
      </label>
    </div>
    <div class="grid grid-cols-2 gap-3">
      <label class="grid gap-0.5">
        <span class="text-muted text-xs">Name</span>
        <input
          class="input input-sm w-full"
          bind:value={name}
          maxlength="200"
          autocomplete="off"
          placeholder={suggestedName}
        />
      </label>
      <label class="grid gap-0.5">
        <span class="text-muted text-xs">Lies in</span>
        <input
          class="input input-sm w-full"
          bind:value={location}
          maxlength="200"
          list="places-new"
          autocomplete="off"
          placeholder="Tin 2 / Bag C"
        />
        <datalist id="places-new">
          {#each new Set(drawer.plain.map((part) => part.location)) as place (place)}<option value={place}
            ></option>{/each}
        </datalist>
      </label>
    </div>
    {#if kind !== 'shim'}
      <div class={['grid gap-3', kind !== 'camera' && 'sm:grid-cols-2']}>
        <PortEditor label="Sky face" port={sky} commit={keep('sky')} />
        {#if kind !== 'camera'}<PortEditor label="Camera face" port={camera} commit={keep('camera')} />{/if}
      </div>
    {/if}
    <p class="text-muted text-xs">
      The length is from shoulder to shoulder: of a ring “12 long, 3.5 of it screws in” it is 8.5, and may be typed as
      “12 − 3.5”. The number cannot be changed later; it is what trains and labels call the part.
    </p>
    {#if message}<p class="text-error" role="alert">{message}</p>{/if}
    <div class="flex justify-end gap-2">
      <button type="button" class="btn btn-ghost btn-sm" onclick={() => (open = false)}>Leave it</button>
      <button class="btn btn-primary btn-sm">Put it in the drawer</button>
    </div>
  </form>
</Modal>
