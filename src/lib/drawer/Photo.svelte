<script lang="ts">
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { dropPhoto, fetchPhoto, photoAddress, sendPhoto, type OwnedPart } from '$lib/parts/transport.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { Camera, Trash2 } from '@lucide/svelte';

  const { owned }: { owned: OwnedPart } = $props();
  const drawer = useDrawer();
  const notices = useNotices();
  const { partId } = $derived(owned.part);
  const MAX_BYTES = 20 * 1024 * 1024;
  let busy = $state(false);

  async function attempt(work: () => Promise<void>) {
    busy = true;
    await notices.attempt(work);
    await drawer.load();
    busy = false;
  }

  function take(files: FileList | null) {
    const file = files?.[0];
    if (!file) return;
    if (file.size > MAX_BYTES) {
      return notices.complain(`${file.name} has ${(file.size / 1e6).toFixed(0)} MB; a photo may have 20.`);
    }
    const id = partId;
    void attempt(() => sendPhoto(id, file));
  }

  function remove() {
    const id = partId;
    void attempt(async () => {
      const before = await fetchPhoto(id);
      await dropPhoto(id);
      notices.say(`The photo of ${id} is gone.`, {
        label: 'Undo',
        run: () => void attempt(() => sendPhoto(id, before))
      });
    });
  }
</script>

{#if owned.photo}
  <div class="relative">
    <img class="photo w-full rounded" src={photoAddress(partId, owned.photo)} alt="Photo of {partId}" />
    <button class="btn btn-sm btn-square absolute top-1 right-1" aria-label="Remove the photo" onclick={remove}>
      <Trash2 size={14} />
    </button>
  </div>
{/if}
<label class={['btn btn-outline btn-sm justify-self-start', busy && 'btn-disabled']}>
  <Camera size={14} />{busy ? 'Bringing it in …' : owned.photo ? 'Another photo' : 'Add a photo'}
  <input type="file" accept="image/*" class="sr-only" onchange={({ currentTarget }) => take(currentTarget.files)} />
</label>
<p class="text-muted text-xs">Kept smaller, without the place and time a phone writes into it.</p>

<style>
  /* No white or blue pixel by night, pictures included. */
  :global([data-theme='night']) .photo {
    filter: grayscale(1) brightness(0.6) sepia(1) hue-rotate(-50deg) saturate(8);
    mix-blend-mode: multiply;
    background: #ff2a00;
  }
</style>
