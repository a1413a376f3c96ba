<script lang="ts">
  import { reasonOf } from '$lib/api/reason.ts';
  import type { StrangersPart } from '@lodestone/core/drawer';
  import {
    MAX_DOCUMENT_CHARS,
    complaintLine,
    partIdsOf,
    readTrainText,
    type Complaint,
    type Train
  } from '@lodestone/core/train';
  import Later from '$lib/ui/Later.svelte';
  import { createTrain } from '$lib/train/transport.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import FileUp from '@lucide/svelte/icons/file-up';

  interface Props {
    open: boolean;
    onimported: (id: string, name: string) => void;
  }
  let { open = $bindable(), onimported }: Props = $props();

  let pasted = $state('');
  let source = $state('');
  let complaints = $state.raw<readonly Complaint[]>([]);
  let failure = $state('');
  let busy = $state(false);
  /** A train with parts that are not of this drawer, and what is asked of them. */
  let asked = $state.raw<{ train: Train; strangers: readonly StrangersPart[] }>();
  const strangersList = () => import('./Strangers.svelte');
  const SHOWN = 12;
  const HEAD_CHARS = 2000;

  /** Reads a file that was chosen or dropped on the page. */
  export async function take(files: FileList | undefined | null) {
    const file = files?.[0];
    if (!file) return;
    open = true;
    forget();
    if (file.size > 4 * MAX_DOCUMENT_CHARS) {
      source = file.name;
      failure = `${file.name} is too large to be a train: ${(file.size / 1e6).toFixed(1)} MB.`;
      return;
    }
    try {
      await bringIn(new TextDecoder('utf-8', { fatal: true }).decode(await file.arrayBuffer()), file.name);
    } catch {
      source = file.name;
      failure = `${file.name} is not a text file in UTF-8, so it is no train document.`;
    }
  }

  async function bringIn(text: string, from: string) {
    source = from;
    failure = '';
    if (/"lodestone"\s*:\s*"drawer\//.test(text.slice(0, HEAD_CHARS))) {
      failure = 'This is a drawer, not a train: import it on the drawer page.';
      return;
    }
    const reading = readTrainText(text);
    complaints = reading.ok ? [] : reading.complaints;
    if (!reading.ok) return;
    const train = reading.document;
    await attempt(async () => {
      // Numbers mean something in the drawer they come from: whose it is has to be known.
      const isNumbered = train.elements.some((element) => partIdsOf(element).length > 0);
      const strangers = isNumbered ? await (await import('./strangers.ts')).strangersIn(train) : [];
      if (strangers.length > 0) asked = { train, strangers };
      else await create(train);
    });
  }

  async function create(train: Train) {
    const stored = await createTrain(crypto.randomUUID(), train);
    open = false;
    pasted = '';
    onimported(stored.id, stored.document.name);
  }

  async function attempt(work: () => Promise<void>) {
    busy = true;
    try {
      await work();
    } catch (error) {
      failure = `The server did not take it: ${reasonOf(error)}`;
    } finally {
      busy = false;
    }
  }

  function forget() {
    complaints = [];
    failure = '';
    source = '';
    asked = undefined;
  }
</script>

<Modal title="Import a train document" bind:open onclose={forget} wide>
  {#if asked}
    <Later
      load={strangersList}
      of={{ ...asked, busy, oncreate: (train: Train) => void attempt(() => create(train)) }}
    />
    {#if failure}<p class="text-error mt-2" role="alert">{failure}</p>{/if}
  {:else}
    <div class="grid gap-3">
      <label
        class="border-line hover:border-primary grid cursor-pointer place-items-center gap-1 rounded border border-dashed p-6 focus-within:outline-2"
      >
        <FileUp size={20} />
        <span>Choose a file, or drop one anywhere on this page</span>
        <input
          type="file"
          accept=".json,application/json"
          class="sr-only"
          onchange={({ currentTarget }) => take(currentTarget.files)}
        />
      </label>
      <label class="grid gap-1">
        <span class="text-muted text-xs">or paste its text</span>
        <textarea class="textarea h-28 w-full font-mono text-xs" bind:value={pasted} spellcheck="false"></textarea>
      </label>
      <div class="flex justify-end">
        <button
          class="btn btn-primary btn-sm"
          disabled={busy || pasted.trim() === ''}
          onclick={() => bringIn(pasted, 'The pasted text')}
        >
          Import
        </button>
      </div>
      {#if failure}<p class="text-error" role="alert">{failure}</p>{/if}
      {#if complaints.length > 0}
        <div role="alert">
          <p class="text-error font-semibold">{source} was not brought in; nothing was stored.</p>
          <ul class="mt-1 max-h-48 overflow-y-auto text-xs">
            {#each complaints.slice(0, SHOWN) as complaint, index (index)}
              <li class="border-line border-t py-1">{complaintLine(complaint)}</li>
            {/each}
          </ul>
          {#if complaints.length > SHOWN}<p class="text-muted text-xs">and {complaints.length - SHOWN} more</p>{/if}
        </div>
      {/if}
    </div>
  {/if}
</Modal>
