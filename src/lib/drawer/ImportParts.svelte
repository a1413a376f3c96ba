<script lang="ts">
  import { sameJson } from '@lodestone/core';
  import { CSV_COLUMNS, type CsvColumn, type CsvProblem } from '@lodestone/core/drawer-csv';
  import { partToDocument, type Part } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import type { Opened, PartsReader } from '$lib/workers/readParts.worker.ts';
  import { FileUp } from '@lucide/svelte';
  import { wrap, type Remote } from 'comlink';
  import { decodeFile } from './decode.ts';

  let { open = $bindable(), onimported }: { open: boolean; onimported: (count: number) => void } = $props();
  const drawer = useDrawer();

  const MAX_BYTES = 48_000_000;
  const PROBLEMS_SHOWN = 30;

  let worker: Worker | undefined;
  let reader: Remote<PartsReader> | undefined;
  let fileName = $state('');
  let doubt = $state<string>();
  let failures = $state.raw<readonly string[]>([]);
  let table = $state.raw<Extract<Opened, { kind: 'csv' }>>();
  let mapping = $state.raw<(CsvColumn | undefined)[]>([]);
  let withoutKind = $state<Part['element']['kind']>('spacer');
  let parts = $state.raw<readonly Part[]>([]);
  let problems = $state.raw<readonly CsvProblem[]>([]);
  let busy = $state(false);

  const sameAsStored = (part: Part): boolean => {
    const stored = drawer.byId.get(part.partId);
    return stored !== undefined && sameJson(partToDocument(stored.part), partToDocument(part));
  };
  const fresh = $derived(parts.filter(({ partId }) => !drawer.byId.has(partId)));
  const changed = $derived(parts.filter((part) => drawer.byId.has(part.partId) && !sameAsStored(part)));
  const same = $derived(parts.length - fresh.length - changed.length);
  const kindMapped = $derived(mapping.includes('kind'));

  /** Reads a file that was chosen or dropped on the page. */
  export async function take(files: FileList | undefined | null) {
    const file = files?.[0];
    if (!file) return;
    forget();
    open = true;
    fileName = file.name;
    if (file.size > MAX_BYTES) {
      failures = [`${file.name} is too large to be a drawer: ${(file.size / 1e6).toFixed(0)} MB.`];
      return;
    }
    busy = true;
    try {
      const decoded = decodeFile(new Uint8Array(await file.arrayBuffer()));
      ({ doubt } = decoded);
      worker = new Worker(new URL('../workers/readParts.worker.ts', import.meta.url), { type: 'module' });
      reader = wrap<PartsReader>(worker);
      const opened = await reader.open(decoded.text);
      if (opened.kind === 'refused') failures = opened.messages;
      else if (opened.kind === 'parts') ({ parts } = opened);
      else {
        table = opened;
        ({ mapping } = opened);
        await readTable();
      }
    } catch (error) {
      failures = [`${file.name} cannot be read: ${error instanceof Error ? error.message : String(error)}`];
    } finally {
      busy = false;
    }
  }

  async function readTable() {
    if (!reader) return;
    const taken = drawer.plain.map(({ partId }) => partId);
    const read = await reader.read([...mapping], taken, kindMapped ? undefined : withoutKind);
    ({ parts, problems } = read);
  }

  function map(index: number, to: string) {
    const column = CSV_COLUMNS.find((each) => each === to);
    mapping = mapping.map((before, at) => (at === index ? column : before === column ? undefined : before));
    void readTable();
  }

  function bringIn() {
    const refusal = drawer.change(`Bring in ${fileName}`, [...fresh, ...changed]);
    if (refusal) return void (failures = [refusal]);
    onimported(fresh.length + changed.length);
    open = false;
  }

  function forget() {
    worker?.terminate();
    worker = undefined;
    reader = undefined;
    fileName = '';
    doubt = undefined;
    failures = [];
    table = undefined;
    parts = [];
    problems = [];
  }

  const DELIMITERS: Readonly<Record<string, string>> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' };
  const KINDS = ['spacer', 'adapter', 'shim'] as const;
</script>

<Modal title="Bring parts in" bind:open onclose={forget} wide>
  <div class="grid gap-3">
    <label
      class="border-line hover:border-primary grid cursor-pointer place-items-center gap-1 rounded border border-dashed p-5 focus-within:outline-2"
    >
      <FileUp size={20} />
      <span>{fileName || 'Choose a CSV or JSON file, or drop one anywhere on this page'}</span>
      <input
        type="file"
        accept=".csv,.tsv,.txt,.json,text/csv,application/json"
        class="sr-only"
        onchange={({ currentTarget }) => take(currentTarget.files)}
      />
    </label>
    {#if busy}<p class="text-muted" role="status">Reading {fileName} …</p>{/if}
    {#if doubt}<p class="text-warning" role="status">{doubt}</p>{/if}

    {#if table}
      <div class="overflow-x-auto">
        <table class="text-xs">
          <caption class="text-muted pb-1 text-left">
            {table.lines} lines, cells parted by {DELIMITERS[table.delimiter] ?? table.delimiter}. Say what each column
            is.
          </caption>
          <thead>
            <tr>
              {#each table.header as heading, index (index)}
                <th scope="col" class="px-1 text-left font-semibold">
                  <span class="block max-w-28 truncate">{heading || '(no heading)'}</span>
                  <select
                    class="select select-xs w-28 font-normal"
                    aria-label="Meaning of column {heading}"
                    value={mapping[index] ?? ''}
                    onchange={({ currentTarget }) => map(index, currentTarget.value)}
                  >
                    <option value="">leave out</option>
                    {#each CSV_COLUMNS as column (column)}<option value={column}>{column}</option>{/each}
                  </select>
                </th>
              {/each}
            </tr>
          </thead>
          <tbody>
            {#each table.sample as cells, row (row)}
              <tr class="text-muted">
                {#each table.header as _heading, index (index)}
                  <td class="max-w-28 truncate px-1">{cells[index] ?? ''}</td>
                {/each}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if !kindMapped}
        <label class="flex items-center gap-2 text-xs">
          No column says what kind the parts are. Take them for
          <select class="select select-xs w-28" bind:value={withoutKind} onchange={() => void readTable()}>
            {#each KINDS as kind (kind)}<option value={kind}>{kind}s</option>{/each}
          </select>
        </label>
      {/if}
    {/if}

    {#if failures.length > 0}
      <div role="alert">
        <p class="text-error font-semibold">{fileName} was not brought in; nothing was stored.</p>
        <ul class="mt-1 max-h-48 overflow-y-auto text-xs">
          {#each failures.slice(0, PROBLEMS_SHOWN) as failure, index (index)}
            <li class="border-line border-t py-1">{failure}</li>
          {/each}
        </ul>
      </div>
    {/if}
    {#if problems.length > 0}
      <div role="alert">
        <p class="text-error font-semibold">
          {problems.length}
          {problems.length === 1 ? 'thing has' : 'things have'} to be mended in the file first. All of it comes in, or nothing.
        </p>
        <ul class="mt-1 max-h-48 overflow-y-auto text-xs">
          {#each problems.slice(0, PROBLEMS_SHOWN) as { line, column, message }, index (index)}
            <li class="border-line border-t py-1">
              <span class="font-semibold">line {line}{column ? `, ${column}` : ''}:</span>
              {message}
            </li>
          {/each}
        </ul>
        {#if problems.length > PROBLEMS_SHOWN}<p class="text-muted text-xs">
            and {problems.length - PROBLEMS_SHOWN} more
          </p>{/if}
      </div>
    {/if}
    {#if parts.length > 0 && failures.length === 0}
      <p role="status">
        {fresh.length} new, {changed.length} changed, {same} as they are here already.
        {#if changed.length > 0}
          <span class="text-muted"
            >Changed: {changed
              .slice(0, 6)
              .map(({ partId }) => partId)
              .join(', ')}{changed.length > 6 ? ' …' : ''}.</span
          >
        {/if}
      </p>
    {/if}
    <div class="flex justify-end gap-2">
      <button type="button" class="btn btn-ghost btn-sm" onclick={() => (open = false)}>Leave it</button>
      <button
        class="btn btn-primary btn-sm"
        disabled={busy || problems.length > 0 || failures.length > 0 || fresh.length + changed.length === 0}
        onclick={bringIn}
      >
        Bring in {fresh.length + changed.length}
        {fresh.length + changed.length === 1 ? 'part' : 'parts'}
      </button>
    </div>
  </div>
</Modal>
