<script lang="ts">
  import { page } from '$app/state';
  import type { Who } from '$lib/api/owners.ts';
  import { standingIn } from '@lodestone/core/train';
  import { askFile } from '$lib/api/ask.ts';
  import { LINK_DAYS, type MadeLink, type ShareLink } from '$lib/api/share.ts';
  import { reasonOf } from '$lib/api/reason.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import { counted } from '$lib/ui/size.ts';
  import { dayOf, minuteOf } from '$lib/ui/time.ts';
  import Copy from '@lucide/svelte/icons/copy';
  import FileText from '@lucide/svelte/icons/file-text';
  import Link from '@lucide/svelte/icons/link';
  import { onMount } from 'svelte';
  import GuestSection from './GuestSection.svelte';
  import { fetchLinks, makeLink, takeBackLink } from './transport.ts';

  /** A train passed on: by a link to look at, as a page of its own, or as a document. */
  interface Props {
    /** Whether the train is another owner's: then it is passed on as a file alone. */
    isGuest: boolean;
    onclose: () => void;
  }
  const { isGuest, onclose }: Props = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const notices = useNotices();

  let links = $state.raw<readonly ShareLink[]>();
  let failure = $state<string>();
  let made = $state.raw<MadeLink>();
  let days = $state('');
  let busy = $state(false);

  async function load() {
    try {
      links = await fetchLinks(train.id);
      failure = undefined;
    } catch (error) {
      failure = reasonOf(error);
    }
  }
  onMount(() => (isGuest ? undefined : void load()));
  let open = $state(true);

  const address = $derived(made && new URL(made.path, location.href).href);
  const isLocal = $derived(/^(?:localhost|127\.|\[::1\])/.test(location.host));

  async function make() {
    busy = true;
    await notices.attempt(async () => {
      made = await makeLink(train.id, days === '' ? undefined : Number(days));
      await load();
    });
    busy = false;
  }
  const takeBack = (id: string) =>
    notices.attempt(async () => {
      await takeBackLink(id);
      if (made?.id === id) made = undefined;
      await load();
    });
  /** What of the train is not owned yet is what is asked about. */
  const shopSheet = () =>
    notices.attempt(async () => {
      const { document } = train;
      const buy = [...standingIn(document).keys()].filter((partId) => drawer.byId.get(partId)?.part.owned === false);
      saveFile(await askFile('/api/check-sheet', { document, buy }), `${document.name} please check.pdf`);
    });
  const copy = () =>
    notices.attempt(async () => {
      await navigator.clipboard.writeText(address ?? '');
      notices.say('The link was copied.');
    });
</script>

<Modal title="Share {train.document.name}" bind:open wide {onclose}>
  <section class="grid gap-2" aria-label="As a file">
    <p>
      As a page of its own: drawing, sums, parts, steps and notes in one file that opens without a network. As the
      document, for somebody who has Lodestone. Or as a sheet with the question whether it fits, for a shop.
    </p>
    <div class="flex flex-wrap gap-2">
      <a class="btn btn-outline btn-sm" href="/api/trains/{train.id}/page" download><FileText size={14} />Web page</a>
      <a class="btn btn-outline btn-sm" href="/api/trains/{train.id}/document" download
        ><FileText size={14} />Document (JSON)</a
      >
      <button class="btn btn-outline btn-sm" onclick={() => void shopSheet()}
        ><FileText size={14} />Sheet for the shop (PDF)</button
      >
    </div>
  </section>
  {#if !isGuest && (page.data as { who?: Who }).who}<GuestSection trainId={train.id} />{/if}
  {#if !isGuest}
    <section class="border-line mt-4 grid gap-3 border-t pt-4" aria-label="By a link">
      <p>
        By a link: whoever has it sees this train as it is then, and can change nothing. No other train is reached
        through it.
        {#if isLocal}
          This server answers on this machine alone: a link is of use to others once it <a
            class="link"
            href="/guide#share">listens beyond it</a
          >.{/if}
      </p>
      <div class="flex flex-wrap items-end gap-2">
        <label class="grid gap-0.5 text-sm"
          >Holds
          <select class="select select-sm" bind:value={days}>
            <option value="">until it is taken back</option>
            {#each LINK_DAYS as each (each)}<option value={String(each)}>{counted(each, 'day')}</option>{/each}
          </select></label
        >
        <button class="btn btn-primary btn-sm" disabled={busy} onclick={() => void make()}
          ><Link size={14} />{busy ? 'Making it …' : 'Make a link'}</button
        >
      </div>
      {#if made && address}
        <div class="border-primary flex flex-wrap items-center gap-4 rounded border p-3" data-made role="status">
          <svg
            class="h-32 w-32 shrink-0 bg-white"
            viewBox="-2 -2 {made.qr.length + 4} {made.qr.length + 4}"
            role="img"
            aria-label="The link as a QR code"
            shape-rendering="crispEdges"
          >
            <path
              fill="#000"
              d={made.qr
                .flatMap((row, y) => [...row].map((module, x) => (module === '1' ? `M${x} ${y}h1v1h-1z` : '')))
                .join('')}
            />
          </svg>
          <div class="grid min-w-48 flex-1 gap-2">
            <p class="text-sm">It is shown this once: of its secret only a hash is kept.</p>
            <input
              class="input input-sm w-full"
              readonly
              aria-label="Link"
              value={address}
              onfocus={({ currentTarget }) => currentTarget.select()}
            />
            <button class="btn btn-outline btn-sm justify-self-start" onclick={() => void copy()}
              ><Copy size={14} />Copy it</button
            >
          </div>
        </div>
      {/if}
      {#if failure !== undefined}
        <p class="text-warning">The links cannot be read just now: {failure}</p>
      {:else if links && links.length > 0}
        <table class="w-full text-sm">
          <caption class="text-muted text-left text-xs">Links that hold</caption>
          <tbody>
            {#each links as { id, madeAt, expiresAt } (id)}
              <tr class="border-line border-t">
                <td class="py-1">made {minuteOf(madeAt)}</td>
                <td>{expiresAt ? `until ${dayOf(expiresAt)}` : 'until it is taken back'}</td>
                <td class="text-right"
                  ><button class="btn btn-ghost btn-xs" onclick={() => void takeBack(id)}>Take it back</button></td
                >
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    </section>
  {/if}
</Modal>
