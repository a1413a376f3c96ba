<script lang="ts">
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { dropPhoto, fetchPhoto, photoAddress, sendPhoto, type OwnedPart } from '$lib/parts/transport.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import PhotoImage from '$lib/ui/PhotoImage.svelte';
  import { tooLarge } from '$lib/ui/photos.ts';
  import Camera from '@lucide/svelte/icons/camera';
  import Trash2 from '@lucide/svelte/icons/trash-2';

  const { owned }: { owned: OwnedPart } = $props();
  const drawer = useDrawer();
  const notices = useNotices();
  const { partId } = $derived(owned.part);
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
    const refusal = tooLarge(file);
    if (refusal !== undefined) return notices.complain(refusal);
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
    <PhotoImage src={photoAddress(partId, owned.photo)} alt="Photo of {partId}" wide />
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
