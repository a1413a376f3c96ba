<script lang="ts">
  import { forgetKept, keptHere, type KeptHere } from '$lib/ui/offline/offline.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { counted, sizeInWords } from '$lib/ui/size.ts';
  import { onMount } from 'svelte';

  /** What of Lodestone works in this browser while the server is away. */
  const notices = useNotices();
  let here = $state.raw<KeptHere>();
  const look = async (): Promise<void> => void (here = await keptHere());
  onMount(() => void look());

  const forget = () =>
    notices.attempt(async () => {
      await forgetKept();
      await look();
      notices.say('Kept pages deleted. A page is kept again when it is visited.');
    });
</script>

<section class="mt-8" aria-labelledby="offline">
  <h2 id="offline" class="text-lg font-semibold">Without the server</h2>
  {#if here === undefined}
    <p class="text-muted mt-1 text-sm">Looking …</p>
  {:else if here.state === 'impossible'}
    <p class="text-muted mt-1 max-w-prose text-sm" data-offline-state="impossible">
      Browsers keep pages only from a secure address: <code>https://…</code>, or this computer itself. At this address
      an open page goes on working without the server, and its changes are kept, but no page can be opened. Start the
      server with a certificate to have that.
    </p>
  {:else if here.state === 'preparing'}
    <p class="text-muted mt-1 max-w-prose text-sm" data-offline-state="preparing">
      Lodestone is being copied into this browser. Open the page again in a moment.
    </p>
  {:else}
    <p class="text-muted mt-1 max-w-prose text-sm" data-offline-state="ready">
      Every page you visited and every train you opened in this browser opens without the server, as it was last. What
      you change is kept and sent later. Your browser’s menu can install Lodestone as an application.
    </p>
    <div class="mt-2 flex flex-wrap items-center gap-3 text-sm">
      <span
        >{counted(here.trains, 'train')} and {counted(here.pages, 'page')} kept{here.bytes === undefined
          ? ''
          : `, ${sizeInWords(here.bytes)} with the program`}</span
      >
      <button class="btn btn-outline btn-sm" disabled={here.trains + here.pages === 0} onclick={() => void forget()}
        >Delete kept pages</button
      >
    </div>
  {/if}
</section>
