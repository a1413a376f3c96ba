<script lang="ts">
  import { partIdOfLabel, type Part } from '@lodestone/core/drawer';
  import ImageIcon from '@lucide/svelte/icons/image';
  import { onMount } from 'svelte';
  import Modal from '$lib/ui/Modal.svelte';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { LabelReader } from './reader.ts';

  /** Reads the code of a part's label by the camera, or out of a photo. */
  interface Props {
    /** What is done with a part, in a line. */
    hint: string;
    /** @returns what was done, in words; undefined where nothing is left to do here */
    onfound: (part: Part) => string | undefined;
    onclose: () => void;
  }
  const { hint, onfound, onclose }: Props = $props();
  const drawer = useDrawer();

  let open = $state(true);
  let video = $state<HTMLVideoElement>();
  let camera = $state<'asked' | 'on' | 'none'>('asked');
  let message = $state('');
  let isWrong = $state(false);
  let reader: LabelReader | undefined;
  /** A label stays before the camera after it was read. */
  let last = '';

  function say(text: string, wrong: boolean) {
    message = text;
    isWrong = wrong;
  }

  function take(text: string) {
    if (text === last) return;
    last = text;
    const partId = partIdOfLabel(text);
    if (partId === undefined) return say('This code is not of a part’s label.', true);
    const part = drawer.byId.get(partId)?.part;
    if (!part)
      return say(drawer.isRead ? `There is no ${partId} in the drawer.` : 'The drawer was not read yet.', true);
    const done = onfound(part);
    if (done === undefined) open = false;
    else say(done, false);
  }

  async function photo({ currentTarget }: { currentTarget: HTMLInputElement }) {
    const file = currentTarget.files?.[0];
    currentTarget.value = '';
    if (!file) return;
    last = '';
    say('Looking for a code …', false);
    try {
      const text = await reader!.photo(file);
      if (text === undefined) say('No code is seen in this picture. Come nearer, and hold the label flat.', true);
      else take(text);
    } catch {
      say(`${file.name} is not a picture this browser reads.`, true);
    }
  }

  onMount(() => {
    const labels = new LabelReader();
    reader = labels;
    let stream: MediaStream | undefined;
    let isOver = false;
    const watch = async () => {
      while (!isOver) {
        const text = video && video.readyState >= 2 ? await labels.film(video).catch(() => undefined) : undefined;
        if (text !== undefined && !isOver) take(text);
        await new Promise((next) => setTimeout(next, 120));
      }
    };
    void (async () => {
      try {
        // Elsewhere than on this machine browsers give a camera to pages with TLS alone.
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
        if (isOver || !video) return stream.getTracks().forEach((track) => track.stop());
        video.srcObject = stream;
        await video.play();
        camera = 'on';
        await watch();
      } catch {
        camera = 'none';
      }
    })();
    return () => {
      isOver = true;
      stream?.getTracks().forEach((track) => track.stop());
      labels.end();
    };
  });
</script>

<Modal title="Read a label" bind:open {onclose}>
  <p>{hint}</p>
  <video
    bind:this={video}
    class={['bg-base-300 mt-3 aspect-video w-full rounded object-cover', camera !== 'on' && 'hidden']}
    muted
    playsinline
    aria-label="What the camera sees"
  ></video>
  {#if camera === 'none'}
    <p class="text-muted mt-2 text-sm">
      The camera is not available here: it was refused, there is none, or this page came without TLS. A photo does.
    </p>
  {/if}
  <p class={['mt-3 min-h-6', isWrong ? 'text-warning' : 'font-semibold']} role="status" data-scanned>{message}</p>
  <label class="btn btn-outline btn-sm mt-2">
    <ImageIcon size={15} />Take or choose a photo
    <input type="file" accept="image/*" capture="environment" class="sr-only" data-label-photo onchange={photo} />
  </label>
</Modal>
