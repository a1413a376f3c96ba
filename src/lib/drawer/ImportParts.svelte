<script lang="ts">
  import { reasonOf } from '$lib/api/reason.ts';
  import { KIND_CHOICES, isElementKind } from '@lodestone/core/train';
  import {
    MEANINGS,
    groupProblems,
    type CsvColumn,
    type CsvProblem,
    type DecimalSign,
    type SplitOptions
  } from '@lodestone/core/drawer-csv';
  import { differencesOf, type Part } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import {
    forgetLastImport,
    keepLastImport,
    readLastImport,
    takingBack,
    type LastImport
  } from '$lib/parts/lastImport.ts';
  import { sameParts } from '$lib/parts/rules.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { counted } from '$lib/ui/size.ts';
  import TryAgain from '$lib/ui/TryAgain.svelte';
  import { CalledOff, HeldWorker } from '$lib/workers/ask.ts';
  import type { Opened, PartsReader, Read } from '$lib/workers/readParts.worker.ts';
  import { startReader } from '$lib/workers/start.ts';
  import FileUp from '@lucide/svelte/icons/file-up';
  import Undo2 from '@lucide/svelte/icons/undo-2';
  import { decodeFile } from './decode.ts';

  let { open = $bindable(), onimported }: { open: boolean; onimported: (words: string) => void } = $props();
  const drawer = useDrawer();

  const MAX_BYTES = 48_000_000;
  const SHOWN = 30;

  let reader: HeldWorker<PartsReader> | undefined;
  /** The worker that read the file is gone: the same may be tried once more. */
  let broken = $state<string>();
  /** The file that is read. */
  let chosen: File | undefined;
  let fileName = $state('');
  let doubt = $state<string>();
  let failures = $state.raw<readonly string[]>([]);
  let isTable = $state(false);
  let table = $state.raw<Extract<Opened, { kind: 'csv' }>>();
  let splitting = $state.raw<SplitOptions>({});
  let decimalSign = $state<DecimalSign>();
  let mapping = $state.raw<(CsvColumn | undefined)[]>([]);
  let kinds = $state.raw<ReadonlyMap<string, Part['element']['kind']>>(new Map());
  let withoutKind = $state<Part['element']['kind']>('spacer');
  let withoutBad = $state(false);
  let parts = $state.raw<readonly Part[]>([]);
  let problems = $state.raw<readonly CsvProblem[]>([]);
  let busy = $state(false);
  let last = $state.raw<LastImport>();

  const storedPart = (partId: string): Part | undefined => drawer.byId.get(partId)?.part;
  const sameAsStored = (part: Part): boolean => sameParts(storedPart(part.partId), part);
  const fresh = $derived(parts.filter(({ partId }) => !drawer.byId.has(partId)));
  const changed = $derived(parts.filter((part) => drawer.byId.has(part.partId) && !sameAsStored(part)));
  const same = $derived(parts.length - fresh.length - changed.length);
  const coming = $derived(fresh.length + changed.length);
  const kindMapped = $derived(mapping.includes('kind'));
  const groups = $derived(groupProblems(problems));
  const badLines = $derived(new Set(problems.map(({ line }) => line)).size);
  /** Words in the column of kinds that no list knows. */
  const oddKinds = $derived([
    ...new Set(
      problems.flatMap(({ message }) => {
        const word = /^“(.+)” is not a kind of part$/.exec(message)?.[1];
        return word === undefined ? [] : [word];
      })
    ),
    ...kinds.keys()
  ]);
  const changes = $derived(
    changed
      .map((part) => ({ partId: part.partId, differences: differencesOf(storedPart(part.partId)!, part) }))
      .sort((a, b) => Number(b.differences[0]?.lost ?? false) - Number(a.differences[0]?.lost ?? false))
  );
  const losing = $derived(changes.filter(({ differences }) => differences.some(({ lost }) => lost)).length);

  $effect(() => {
    if (open) void readLastImport().then((found) => (last = found));
  });

  /** Reads a file that was chosen or dropped on the page. */
  export async function take(files: FileList | undefined | null) {
    const file = files?.[0];
    if (!file) return;
    forget();
    open = true;
    fileName = file.name;
    if (files.length > 1) {
      const others = [...files].slice(1).map(({ name }) => name);
      doubt = `Only ${file.name} was read. Import ${others.join(', ')} next.`;
    }
    if (file.size > MAX_BYTES) {
      failures = [`${file.name} is too large to be a drawer: ${(file.size / 1e6).toFixed(0)} MB.`];
      return;
    }
    await read(file);
  }

  async function read(file: File) {
    busy = true;
    chosen = file;
    broken = undefined;
    try {
      const decoded = decodeFile(new Uint8Array(await file.arrayBuffer()));
      doubt = [doubt, decoded.doubt].filter((each) => each !== undefined).join(' ') || undefined;
      const there = $state.snapshot(drawer.plain) as Part[];
      reader = new HeldWorker(startReader);
      await asked(async (held) => show(await held.ask<Opened>((each) => each.open(decoded.text, there))));
    } catch (error) {
      failures = [`${file.name} cannot be read: ${reasonOf(error)}`];
    } finally {
      busy = false;
    }
  }

  /** Asks the worker that holds the file; what goes wrong is told, and may be tried again from the start. */
  async function asked(question: (held: HeldWorker<PartsReader>) => Promise<void>) {
    if (!reader || !chosen) return;
    try {
      await question(reader);
    } catch (error) {
      if (error instanceof CalledOff) return;
      broken = `${chosen.name} could not be read. ${reasonOf(error)}`;
    }
  }

  async function show(opened: Opened) {
    failures = [];
    if (opened.kind === 'refused') {
      failures = opened.messages;
      ({ isTable } = opened);
      [table, parts, problems] = [undefined, [], []];
    } else if (opened.kind === 'parts') ({ parts } = opened);
    else {
      isTable = true;
      table = opened;
      ({ mapping } = opened);
      await readTable();
    }
  }

  async function splitAnew(change: SplitOptions) {
    splitting = { ...splitting, ...change };
    await asked(async (held) => show(await held.ask<Opened>((each) => each.split({ ...splitting }))));
  }

  async function readTable() {
    await asked(async (held) => {
      const options = {
        kinds,
        ...(kindMapped ? {} : { kind: withoutKind }),
        ...(decimalSign ? { decimalSign } : {})
      };
      ({ parts, problems } = await held.ask<Read>((each) => each.read([...mapping], options)));
    });
  }

  function map(index: number, to: string) {
    const column = MEANINGS.find((each) => each === to);
    mapping = mapping.map((before, at) => (at === index ? column : before === column ? undefined : before));
    void readTable();
  }

  function sayKind(word: string, kind: string) {
    const others = [...kinds].filter(([each]) => each !== word.toLowerCase());
    kinds = new Map(isElementKind(kind) && kind !== 'gap' ? [...others, [word.toLowerCase(), kind]] : others);
    void readTable();
  }

  function bringIn() {
    const put = [...fresh, ...changed];
    // Once they are in, none is new any more.
    const words = [
      fresh.length > 0 ? `${counted(fresh.length, 'part')} brought in` : '',
      changed.length > 0 ? `${counted(changed.length, 'part')} changed` : ''
    ];
    const kept: LastImport = {
      fileName,
      at: Date.now(),
      changes: put.map((after) => ({ before: storedPart(after.partId), after }))
    };
    const refusal = drawer.change(`Import ${fileName}`, put);
    if (refusal) return void (failures = [refusal]);
    void keepLastImport($state.snapshot(kept) as LastImport);
    onimported(`${words.filter(Boolean).join(', ')}.`);
    open = false;
  }

  function takeLastBack() {
    if (!last) return;
    const { put, remove, left } = takingBack(last, storedPart);
    const refusal =
      put.length + remove.length > 0 ? drawer.change(`Take ${last.fileName} back`, put, remove) : undefined;
    if (refusal) return void (failures = [refusal]);
    void forgetLastImport();
    const stay =
      left.length > 0 ? ` ${left.slice(0, 6).join(', ')}${left.length > 6 ? ' …' : ''} changed since, and stayed.` : '';
    onimported(`${last.fileName} was taken back.${stay}`);
    last = undefined;
    open = false;
  }

  function forget() {
    reader?.end();
    reader = undefined;
    broken = undefined;
    fileName = '';
    doubt = undefined;
    failures = [];
    isTable = false;
    table = undefined;
    splitting = {};
    decimalSign = undefined;
    kinds = new Map();
    withoutBad = false;
    parts = [];
    problems = [];
  }

  const DELIMITERS: readonly (readonly [string, string])[] = [
    [',', 'commas'],
    [';', 'semicolons'],
    ['\t', 'tabs'],
    ['|', 'bars']
  ];
  const SIGNS = ['', ',', '.'] as const;
</script>

<Modal title="Import parts" bind:open onclose={forget} wide>
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
    {#if last && !fileName}
      <p class="flex flex-wrap items-center gap-2">
        <span class="text-muted">
          Brought in last: {last.fileName}, {counted(last.changes.length, 'part')}, {new Date(
            last.at
          ).toLocaleString()}.
        </span>
        <button type="button" class="btn btn-sm" onclick={takeLastBack}><Undo2 size={14} /> Take it back</button>
      </p>
    {/if}
    {#if busy}<p class="text-muted" role="status">Reading {fileName} …</p>{/if}
    {#if broken}<TryAgain message={broken} onagain={() => chosen && void read(chosen)} />{/if}
    {#if doubt}<p class="text-warning" role="status">{doubt}</p>{/if}

    {#if isTable}
      <div class="flex flex-wrap items-center gap-x-4 gap-y-2 text-xs">
        <label class="flex items-center gap-1.5">
          Cells parted by
          <select
            class="select select-xs w-28"
            value={splitting.delimiter ?? table?.delimiter ?? ','}
            onchange={({ currentTarget }) => void splitAnew({ delimiter: currentTarget.value })}
          >
            {#each DELIMITERS as [sign, words] (sign)}<option value={sign}>{words}</option>{/each}
          </select>
        </label>
        <label class="flex items-center gap-1.5">
          Decimal sign
          <select class="select select-xs w-28" bind:value={decimalSign} onchange={() => void readTable()}>
            {#each SIGNS as sign (sign)}
              <option value={sign || undefined}>{sign === '' ? 'either' : sign === ',' ? 'comma' : 'point'}</option>
            {/each}
          </select>
        </label>
        <label class="flex items-center gap-1.5">
          <input
            type="checkbox"
            class="checkbox checkbox-sm"
            checked={splitting.heading ?? true}
            onchange={({ currentTarget }) => void splitAnew({ heading: currentTarget.checked })}
          />
          First line is a heading
        </label>
      </div>
    {/if}
    {#if table}
      <div class="overflow-x-auto">
        <table class="text-xs">
          <caption class="text-muted pb-1 text-left">
            {counted(table.lines, 'line')}. Choose what each column is. Keys without a column stay unchanged.
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
                    <option value="">skip</option>
                    {#each MEANINGS as column (column)}<option value={column}>{column}</option>{/each}
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
          No column has the kind. Import the parts as
          <select class="select select-xs w-32" bind:value={withoutKind} onchange={() => void readTable()}>
            {#each KIND_CHOICES as [kind, words] (kind)}{#if kind !== 'gap'}<option value={kind}>{words}</option
                >{/if}{/each}
          </select>
        </label>
      {/if}
      {#each oddKinds.slice(0, SHOWN) as word (word)}
        <label class="flex items-center gap-2 text-xs">
          “{word}” is
          <select
            class="select select-xs w-32"
            value={kinds.get(word.toLowerCase()) ?? ''}
            onchange={({ currentTarget }) => sayKind(word, currentTarget.value)}
          >
            <option value="">not known yet</option>
            {#each KIND_CHOICES as [kind, words] (kind)}{#if kind !== 'gap'}<option value={kind}>{words}</option
                >{/if}{/each}
          </select>
        </label>
      {/each}
    {/if}

    {#if failures.length > 0}
      <div role="alert">
        <p class="text-error font-semibold">{fileName} was not brought in; nothing was stored.</p>
        <ul class="mt-1 max-h-48 overflow-y-auto text-xs">
          {#each failures.slice(0, SHOWN) as failure, index (index)}
            <li class="border-line border-t py-1">{failure}</li>
          {/each}
        </ul>
      </div>
    {/if}
    {#if groups.length > 0}
      <div role="alert">
        <p class="text-error font-semibold">
          {counted(badLines, 'line')}
          {badLines === 1 ? 'has' : 'have'} something to be mended in the file first, or {badLines === 1 ? 'is' : 'are'} skipped.
        </p>
        <ul class="mt-1 max-h-48 overflow-y-auto text-xs">
          {#each groups as { column, lines, examples } (column ?? '')}
            <li class="border-line border-t py-1">
              <span class="font-semibold">{column ?? 'The line itself'}</span>
              <span class="text-muted">{counted(lines.length, 'line')}</span>
              {#each examples as { line, message } (line)}
                <span class="block">line {line}{column ? `, ${column}` : ''}: {message}</span>
              {/each}
            </li>
          {/each}
        </ul>
        <label class="mt-1 flex items-center gap-2">
          <input type="checkbox" class="checkbox checkbox-sm" bind:checked={withoutBad} />
          Leave {badLines === 1 ? 'that line' : 'those lines'} out
        </label>
      </div>
    {/if}
    {#if parts.length > 0 && failures.length === 0}
      <p role="status">
        {fresh.length} new, {changed.length} changed, {same} as they are here already.
        {#if losing > 0}
          <span class="text-error font-semibold">{counted(losing, 'part')} would lose something.</span>{/if}
      </p>
      {#if changes.length > 0}
        <ul class="max-h-48 overflow-y-auto text-xs" data-changes>
          {#each changes.slice(0, SHOWN) as { partId, differences } (partId)}
            <li class="border-line border-t py-1">
              <span class="font-semibold">{partId}</span>
              {#each differences as { what, from, to, lost } (what)}
                <span class={['mr-2 inline-block', lost && 'text-error font-semibold']}>
                  {what}: {from ?? 'not stated'} → {to ?? 'gone'}{lost && to !== undefined ? ', some gone' : ''}
                </span>
              {/each}
            </li>
          {/each}
          {#if changes.length > SHOWN}<li class="text-muted border-line border-t py-1">
              and {changes.length - SHOWN} more
            </li>{/if}
        </ul>
      {/if}
    {/if}
    <div class="flex justify-end gap-2">
      <button type="button" class="btn btn-ghost btn-sm" onclick={() => (open = false)}>Leave it</button>
      <button
        class="btn btn-primary btn-sm"
        disabled={busy || (groups.length > 0 && !withoutBad) || failures.length > 0 || coming === 0}
        onclick={bringIn}
      >
        Import {counted(coming, 'part')}
      </button>
    </div>
  </div>
</Modal>
