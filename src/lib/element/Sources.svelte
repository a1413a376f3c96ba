<script lang="ts">
  import { SOURCE_OF_WORDS, type Source, type SourceOf } from '@lodestone/core/train';
  import { scanAddress } from '$lib/api/scans.ts';
  import { sendScan } from './scans.ts';
  import DraftInput from '$lib/ui/DraftInput.svelte';
  import { today } from '$lib/ui/time.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import FileText from '@lucide/svelte/icons/file-text';
  import FileUp from '@lucide/svelte/icons/file-up';
  import Plus from '@lucide/svelte/icons/plus';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import { useEditing } from './editing.ts';
  import Section from './Section.svelte';

  /** Who says what is published of a part or of the host, where and when, and the scan it was read from. */
  const { at, sources, usual }: { at: string; sources: readonly Source[]; usual: SourceOf } = $props();
  const editing = useEditing();
  const notices = useNotices();
  let message = $state<string>();
  let sending = $state<number>();

  function keep(next: readonly Source[], label: string, run?: string): string | undefined {
    const to = next.length === 0 ? undefined : next;
    return (message = editing.dispatch({ op: 'set', at, path: ['sources'], to }, label, run));
  }
  function put(index: number, change: Partial<Record<keyof Source, string | undefined>>, run?: string) {
    const changed = Object.fromEntries(
      Object.entries({ ...sources[index], ...change }).filter(([, value]) => value !== undefined)
    ) as unknown as Source;
    return keep(sources.with(index, changed), 'Change a source', run);
  }
  const add = () => keep([...sources, { of: usual, on: today() }], 'Add a source');

  async function scan(index: number, file: File | undefined) {
    if (!file) return;
    sending = index;
    await notices.attempt(async () => {
      const kept = await sendScan(file);
      message = put(index, { scan: kept, scanName: file.name.slice(0, 200) });
    });
    sending = undefined;
  }

  const TEXTS = [
    { key: 'by', label: 'Stated by', placeholder: 'the maker' },
    { key: 'where', label: 'Where', placeholder: 'leaflet, page 3' },
    { key: 'on', label: 'Read on', placeholder: '2026-05-01' }
  ] as const;
</script>

<Section title="Sources" gist={sources.length === 0 ? 'none' : String(sources.length)}>
  <p class="text-muted text-xs">Who published its figures, and where. “Why?” names them beside each number.</p>
  <ul class="grid gap-2" data-sources>
    {#each sources as source, index (index)}
      <li class="border-line grid gap-1 border-t pt-2">
        <div class="flex items-center gap-1">
          <select
            class="select select-sm min-w-0 flex-1"
            aria-label="Figure, source {index + 1}"
            value={source.of}
            onchange={({ currentTarget }) => put(index, { of: currentTarget.value })}
          >
            {#each Object.entries(SOURCE_OF_WORDS) as [of, words] (of)}<option value={of}>{words}</option>{/each}
          </select>
          <button
            class="btn btn-ghost btn-sm btn-square"
            aria-label="Remove source {index + 1}"
            title="Remove"
            onclick={() =>
              keep(
                sources.filter((_, each) => each !== index),
                'Remove a source'
              )}><Trash2 size={14} /></button
          >
        </div>
        <div class="grid grid-cols-2 gap-1.5">
          {#each TEXTS as { key, label, placeholder } (key)}
            <label class="grid gap-0.5">
              <span class="text-muted text-xs">{label}</span>
              <DraftInput
                text={source[key] ?? ''}
                label="{label}, source {index + 1}"
                {placeholder}
                parse={(text) => ({ ok: true, parsed: text.trim() === '' ? undefined : text.trim() })}
                commit={(to) => put(index, { [key]: to }, `${at} source ${index} ${key}`)}
                onmessage={(next) => (message = next)}
              />
            </label>
          {/each}
          <div class="grid content-end gap-0.5">
            {#if source.scan}
              <a
                class="link-quiet inline-flex min-h-8 items-center gap-1 truncate text-xs"
                href={scanAddress(source.scan)}
                ><FileText size={13} class="shrink-0" /><span class="truncate">{source.scanName ?? 'scan'}</span></a
              >
            {/if}
            <label class={['btn btn-outline btn-sm', sending === index && 'btn-disabled']}>
              <FileUp size={13} />{sending === index ? 'Keeping …' : source.scan ? 'Another scan' : 'Add a scan'}
              <input
                type="file"
                accept="application/pdf,image/*"
                class="sr-only"
                aria-label="Scan or drawing, source {index + 1}"
                onchange={({ currentTarget }) => void scan(index, currentTarget.files?.[0])}
              />
            </label>
          </div>
        </div>
      </li>
    {/each}
  </ul>
  {#if message}<p class="text-error text-xs" role="alert">{message}</p>{/if}
  <button class="btn btn-ghost btn-sm justify-self-start" onclick={add}><Plus size={14} />Add a source</button>
</Section>
