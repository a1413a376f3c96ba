<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { MAX_BACKUP_BYTES, type RestoreReport } from '$lib/api/backup.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { counted, sizeInWords } from '$lib/ui/size.ts';
  import { minuteOf } from '$lib/ui/time.ts';
  import Download from '@lucide/svelte/icons/download';
  import FileUp from '@lucide/svelte/icons/file-up';
  import { sendBackup } from './transport.ts';

  /** Everything into one archive, and back: first what that would do, then doing it. */
  interface Props {
    /** What pixels of test frames take, bytes. */
    pixelBytes: number;
  }
  const { pixelBytes }: Props = $props();
  const notices = useNotices();

  let pixels = $state(false);
  let archive = $state.raw<File>();
  let report = $state.raw<RestoreReport>();
  let done = $state(false);
  let message = $state<string>();
  let busy = $state<'reading' | 'restoring'>();
  let input: HTMLInputElement;

  async function choose(file: File | undefined) {
    report = undefined;
    done = false;
    message = undefined;
    archive = file;
    if (!file) return;
    if (file.size > MAX_BACKUP_BYTES) {
      message = `${file.name} has ${sizeInWords(file.size)}; an archive may have ${sizeInWords(MAX_BACKUP_BYTES)}.`;
      return;
    }
    await work('reading', async () => (report = await sendBackup(file, true)));
  }
  const carryOut = () =>
    archive &&
    work('restoring', async () => {
      report = await sendBackup(archive!, false);
      done = true;
      await invalidateAll();
      notices.say('The backup was restored.');
    });
  async function work(what: 'reading' | 'restoring', doIt: () => Promise<unknown>) {
    busy = what;
    try {
      await doIt();
    } catch (error) {
      message = error instanceof Error ? error.message : String(error);
    }
    busy = undefined;
    // The same file may be chosen again.
    input.value = '';
  }

  const brings = $derived(report !== undefined && (report.trains.fresh.length > 0 || report.parts.fresh > 0));
  const named = (names: readonly string[]): string =>
    names.length <= 6 ? names.join(', ') : `${names.slice(0, 6).join(', ')} and ${names.length - 6} more`;
</script>

<section class="mt-8" aria-labelledby="backup">
  <h2 id="backup" class="text-lg font-semibold">Backup</h2>
  <p class="text-muted mt-1 max-w-prose text-sm">
    Everything in one ZIP archive: trains with all their states, records, nights, parts, measurements, photos and test
    frames. It is read back before it is handed over. Restored, it adds what is not here; nothing here is changed.
  </p>
  <div class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
    <a class="btn btn-primary btn-sm" href="/api/backup{pixels ? '?pixels=yes' : ''}" download
      ><Download size={14} />Make a backup</a
    >
    <label class="flex items-center gap-2 text-sm"
      ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={pixels} />with the pixels of test frames ({sizeInWords(
        pixelBytes
      )})</label
    >
  </div>
  <div class="mt-4">
    <label class={['btn btn-outline btn-sm', busy && 'btn-disabled']}>
      <FileUp size={14} />{busy === 'reading' ? 'Reading it …' : 'Restore from a backup'}
      <input
        bind:this={input}
        type="file"
        accept=".zip,application/zip"
        class="sr-only"
        disabled={busy !== undefined}
        onchange={({ currentTarget }) => void choose(currentTarget.files?.[0])}
      />
    </label>
  </div>
  {#if message}<p class="text-error mt-2" role="alert">{message}</p>{/if}
  {#if report}
    {@const { trains, parts, records, frames, photos, apart, madeAt } = report}
    <div class="border-primary mt-3 rounded border p-3" data-restore={done ? 'done' : 'tried'} role="status">
      <p class="font-semibold">
        {archive?.name}, made {minuteOf(madeAt)}{done ? ', was restored' : ''}
      </p>
      <ul class="mt-1 list-disc pl-5 text-sm">
        <li>
          {trains.fresh.length === 0 ? 'No train' : counted(trains.fresh.length, 'train')}
          {done ? 'added' : 'to add'}{trains.fresh.length > 0 ? `: ${named(trains.fresh)}` : ''}
        </li>
        <li>{parts.fresh === 0 ? 'No part' : counted(parts.fresh, 'part')} {done ? 'added' : 'to add'}</li>
        {#if records + frames + photos > 0}
          <li>{counted(records, 'record')}, {counted(frames, 'frame')}, {counted(photos, 'photo')} with them</li>
        {/if}
        {#if trains.there.length + parts.there > 0 && !done}
          <li>
            here already, and not changed: {counted(trains.there.length, 'train')}, {counted(parts.there, 'part')}
          </li>
        {/if}
        {#if apart.length > 0}
          <li>not marked as assembled, since their parts are in other trains here: {named(apart)}</li>
        {/if}
      </ul>
      {#if !done}
        <div class="mt-3 flex gap-2">
          <button
            class="btn btn-primary btn-sm"
            disabled={!brings || busy !== undefined}
            onclick={() => void carryOut()}>{busy === 'restoring' ? 'Restoring …' : 'Restore it'}</button
          >
          <button class="btn btn-ghost btn-sm" onclick={() => void choose(undefined)}>Cancel</button>
        </div>
      {/if}
    </div>
  {/if}
</section>
