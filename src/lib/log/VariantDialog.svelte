<script lang="ts">
  import { goto } from '$app/navigation';
  import { isBody, isCamera, isShim, KINDS, type CameraElement } from '@lodestone/core/train';
  import { variantOf } from '@lodestone/core/compare';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { createTrain } from '$lib/train/transport.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { SvelteSet } from 'svelte/reactivity';

  /** What would be if: another camera, or something left out, before anything is bought. */
  let { open = $bindable() }: { open: boolean } = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const notices = useNotices();
  const uid = $props.id();

  const { elements } = $derived(train.document);
  const own = $derived(elements.at(-1)!);
  /** Rings are found anew in any case. */
  const optional = $derived(
    elements.filter(
      (element) => isBody(element) && !isShim(element) && (!KINDS[element.kind].fills || element.removable)
    )
  );
  const cameras = $derived(
    drawer.plain.flatMap(({ partId, element, owned }) =>
      isCamera(element) ? [{ partId, owned, camera: { ...element, partId } as CameraElement }] : []
    )
  );
  const without = new SvelteSet<string>();
  let cameraId = $state('');
  let colour = $state<'' | 'mono' | 'colour'>('');
  let name = $state('');
  const suggested = $derived(
    [
      train.document.name,
      ...cameras.filter(({ partId }) => partId === cameraId).map(({ camera }) => `with ${camera.name}`),
      ...optional.filter(({ id }) => without.has(id)).map((element) => `without ${element.name}`),
      ...(colour === '' ? [] : [colour === 'mono' ? 'mono' : 'one-shot colour'])
    ]
      .join(', ')
      .slice(0, 200)
  );
  const differs = $derived(without.size > 0 || cameraId !== '' || colour !== '');
  let busy = $state(false);

  async function make() {
    busy = true;
    await notices.attempt(async () => {
      const camera = cameras.find(({ partId }) => partId === cameraId)?.camera;
      const made = await createTrain(
        crypto.randomUUID(),
        variantOf(train.document, {
          name: name.trim() || suggested,
          without: [...without],
          ...(camera ? { camera } : {}),
          ...(colour === '' ? {} : { colour: colour === 'colour' })
        })
      );
      open = false;
      await goto(`/compare?of=train:${train.id}&of=train:${made.id}`);
    });
    busy = false;
  }
</script>

<Modal title="A variant of {train.document.name}" bind:open>
  <p class="text-muted">
    It shares everything else with this train. Where a length changes, its rings become one gap, which the finder fills
    from the drawer.
  </p>
  <div class="mt-3 grid gap-3">
    <label class="grid gap-1 text-sm" for="{uid}-camera"
      >Camera
      <select id="{uid}-camera" class="select w-full" bind:value={cameraId}>
        <option value="">as it is: {own.name}</option>
        {#each cameras as { partId, camera, owned } (partId)}
          <option value={partId}>{partId}, {camera.name}{owned ? '' : ' (to buy)'}</option>
        {/each}
      </select></label
    >
    <label class="grid gap-1 text-sm" for="{uid}-colour"
      >Sensor
      <select id="{uid}-colour" class="select w-full" bind:value={colour}>
        <option value="">as it is</option>
        <option value="mono">monochrome</option>
        <option value="colour">one-shot colour</option>
      </select></label
    >
    {#if optional.length > 0}
      <fieldset class="grid gap-1">
        <legend class="text-sm">Without</legend>
        {#each optional as element (element.id)}
          <label class="flex min-h-8 items-center gap-2"
            ><input
              type="checkbox"
              class="checkbox checkbox-sm"
              checked={without.has(element.id)}
              onchange={({ currentTarget: { checked } }) =>
                checked ? without.add(element.id) : without.delete(element.id)}
            />{element.name}</label
          >
        {/each}
      </fieldset>
    {/if}
    <label class="grid gap-1 text-sm" for="{uid}-name"
      >Name
      <input id="{uid}-name" class="input w-full" bind:value={name} placeholder={suggested} maxlength="200" /></label
    >
  </div>
  <div class="mt-4 flex flex-wrap items-center justify-end gap-2">
    {#if !differs}<span class="text-muted text-sm">Choose what is different about it.</span>{/if}
    <button class="btn btn-primary" disabled={busy || !differs} onclick={() => void make()}>Make it, and compare</button
    >
  </div>
</Modal>
