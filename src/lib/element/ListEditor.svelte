<script lang="ts" module>
  export interface Column<Entry> {
    key: string;
    label: string;
    kind: 'text' | 'length' | 'number' | 'tick' | 'choice';
    /** Of a choice: what may be chosen, with its words; the first stands where nothing is stated; an empty one states nothing. */
    options?: readonly (readonly [string, string])[];
    required?: boolean;
    width?: string;
    /** What holds where the entry does not say. */
    inForce?: (entry: Entry) => unknown;
  }
</script>

<script lang="ts" generics="Entry extends object">
  import { useEditing } from './editing.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import DraftInput, { type Parsed } from '$lib/ui/DraftInput.svelte';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';

  const asItIs = (list: readonly Entry[]): unknown => list;

  interface Props {
    title: string;
    entryName: string;
    at: string;
    path: [string, ...string[]];
    entries: readonly Entry[];
    columns: readonly Column<Entry>[];
    /** What a new entry starts as: already valid. None can be added where it is left out. */
    fresh?: () => Entry;
    /** How the document writes the list, where it is not a list of these entries. */
    toDocument?: (entries: readonly Entry[]) => unknown;
  }
  const { title, entryName, at, path, entries, columns, fresh, toDocument = asItIs }: Props = $props();
  const editing = useEditing();
  const display = useDisplay();
  const uid = $props.id();
  let message = $state<string>();

  const cell = (entry: Entry, key: string): unknown => (key in entry ? entry[key as keyof Entry] : undefined);

  const holds = (entry: Entry, column: Column<Entry>): unknown => column.inForce?.(entry) ?? cell(entry, column.key);

  function textOf(entry: Entry, { key, kind }: Column<Entry>): string {
    const there = cell(entry, key);
    return typeof there === 'number'
      ? numberText(there, kind === 'length' ? display.unit : undefined)
      : typeof there === 'string'
        ? there
        : '';
  }

  const parserOf =
    ({ kind, required, label }: Column<Entry>) =>
    (text: string): Parsed<string | number | undefined> => {
      const parsed =
        kind === 'text'
          ? { ok: true as const, parsed: text.trim() === '' ? undefined : text.trim() }
          : parseNumber(text, kind === 'length' ? display.unit : undefined);
      return parsed.ok && parsed.parsed === undefined && required
        ? { ok: false, message: `${label} is needed.` }
        : parsed;
    };

  function put(index: number, key: string, to: unknown, run?: string): string | undefined {
    const { [key as keyof Entry]: _old, ...rest } = entries[index]!;
    // Whatever comes of it is checked as part of the whole document before it is kept.
    const changed = (to === undefined ? rest : { ...entries[index], [key]: to }) as Entry;
    return editing.dispatch(
      { op: 'set', at, path, to: toDocument(entries.with(index, changed)) },
      `Change ${entryName}`,
      run
    );
  }

  function keep(next: readonly Entry[], label: string) {
    const to = next.length === 0 && toDocument === asItIs ? undefined : toDocument(next);
    message = editing.dispatch({ op: 'set', at, path, to }, label);
  }
</script>

<div class="grid gap-1" data-list={path.join('.')}>
  {#if entries.length > 0}
    <div class="overflow-x-auto">
      <table class="w-full border-separate border-spacing-x-1 border-spacing-y-0.5">
        <caption class="sr-only">{title}</caption>
        <thead>
          <tr class="text-muted text-left text-xs">
            {#each columns as { key, label, width } (key)}<th
                scope="col"
                class={['font-normal whitespace-nowrap', width ?? 'min-w-12']}>{label}</th
              >{/each}
            <th><span class="sr-only">Remove</span></th>
          </tr>
        </thead>
        <tbody>
          {#each entries as entry, index (index)}
            <tr>
              {#each columns as column (column.key)}
                <td>
                  {#if column.kind === 'tick'}
                    <input
                      type="checkbox"
                      class="checkbox checkbox-xs"
                      aria-label="{column.label}, {entryName} {index + 1}"
                      checked={holds(entry, column) === true}
                      onchange={({ currentTarget }) => (message = put(index, column.key, currentTarget.checked))}
                    />
                  {:else if column.kind === 'choice'}
                    <select
                      class="select select-xs w-full bg-[position:calc(100%-10px)_calc(1px+50%),calc(100%-6px)_calc(1px+50%)] ps-1.5 pe-4"
                      aria-label="{column.label}, {entryName} {index + 1}"
                      value={holds(entry, column) ?? column.options?.[0]?.[0]}
                      onchange={({ currentTarget }) =>
                        (message = put(index, column.key, currentTarget.value || undefined))}
                    >
                      {#each column.options ?? [] as [choice, words] (choice)}<option value={choice}>{words}</option
                        >{/each}
                    </select>
                  {:else}
                    <DraftInput
                      compact
                      text={textOf(entry, column)}
                      label="{column.label}, {entryName} {index + 1}"
                      numeric={column.kind !== 'text'}
                      parse={parserOf(column)}
                      commit={(to) => put(index, column.key, to, `${uid}-${index}-${column.key}`)}
                      onmessage={(next) => (message = next)}
                    />
                  {/if}
                </td>
              {/each}
              <td>
                <button
                  class="btn btn-ghost btn-xs btn-square"
                  aria-label="Remove {entryName} {index + 1}"
                  onclick={() => keep(entries.toSpliced(index, 1), `Remove ${entryName}`)}
                >
                  <Trash2 size={13} />
                </button>
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
  {#if message}<span class="text-error text-xs" role="alert">{message}</span>{/if}
  {#if fresh}
    <button
      class="btn btn-ghost btn-xs justify-self-start"
      onclick={() => keep([...entries, fresh()], `Add ${entryName}`)}
    >
      <Plus size={13} />Add {entryName}
    </button>
  {/if}
</div>
