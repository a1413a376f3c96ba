<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { MAX_BACKUP_BYTES, type KeptBackups, type RestoreReport } from '$lib/api/backup.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { sizeInWords } from '$lib/ui/size.ts';
  import Download from '@lucide/svelte/icons/download';
  import FileUp from '@lucide/svelte/icons/file-up';
  import BackupSchedule from './BackupSchedule.svelte';
  import RestoreCard from './RestoreCard.svelte';
  import { restoreKept, sendBackup } from './transport.ts';

  /** Everything into one archive, and back: first what that would do, then doing it. */
  interface Props {
    /** What pixels of test frames take, bytes. */
    pixelBytes: number;
    kept: KeptBackups;
  }
  const { pixelBytes, kept }: Props = $props();
  const notices = useNotices();

  let pixels = $state(false);
  /** The archive that is looked at. */
  let source = $state.raw<{ name: string; restore: (isTry: boolean) => Promise<RestoreReport> }>();
  let report = $state.raw<RestoreReport>();
  let done = $state(false);
  let message = $state<string>();
  let busy = $state<'reading' | 'restoring'>();
  let input: HTMLInputElement;

  function look(next: typeof source) {
    report = undefined;
    done = false;
    message = undefined;
    source = next;
    if (next) void work('reading', async () => (report = await next.restore(true)));
  }
  function choose(file: File | undefined) {
    if (file && file.size > MAX_BACKUP_BYTES) {
      look(undefined);
      message =
        `${file.name} has ${sizeInWords(file.size)}; here an archive may have ${sizeInWords(MAX_BACKUP_BYTES)}.` +
        (kept.folder === null ? '' : ` Copy it to ${kept.folder} on the server: then it is in the list below.`);
      return;
    }
    look(file && { name: file.name, restore: (isTry) => sendBackup(file, isTry) });
  }
  const carryOut = () =>
    source &&
    work('restoring', async () => {
      report = await source!.restore(false);
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
</script>

<section class="mt-8" aria-labelledby="backup">
  <h2 id="backup" class="text-lg font-semibold">Backup</h2>
  <p class="text-muted mt-1 max-w-prose text-sm">
    Everything in one ZIP archive: trains with all their states, records, nights, parts, measurements, photos, scans and
    test frames. It is read back before it is handed over. Restored, it adds what is not here; nothing here is changed.
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
  <BackupSchedule
    {kept}
    busy={busy !== undefined}
    onrestore={(name) => look({ name, restore: (isTry) => restoreKept(name, isTry) })}
  />
  <div class="mt-4">
    <label class={['btn btn-outline btn-sm', busy && 'btn-disabled']}>
      <FileUp size={14} />{busy === 'reading' ? 'Reading it …' : 'Restore from a backup'}
      <input
        bind:this={input}
        type="file"
        accept=".zip,application/zip"
        class="sr-only"
        disabled={busy !== undefined}
        onchange={({ currentTarget }) => choose(currentTarget.files?.[0])}
      />
    </label>
  </div>
  {#if message}<p class="text-error mt-2" role="alert">{message}</p>{/if}
  {#if report && source}
    <RestoreCard
      name={source.name}
      {report}
      {done}
      busy={busy !== undefined}
      onrestore={() => void carryOut()}
      oncancel={() => look(undefined)}
    />
  {/if}
</section>
