<script lang="ts">
  import type { BackupSchedule, KeptBackups } from '$lib/api/backup.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { sizeInWords } from '$lib/ui/size.ts';
  import { minuteOf } from '$lib/ui/time.ts';
  import Download from '@lucide/svelte/icons/download';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import { dropKept, keptPath, makeKept, setSchedule } from './transport.ts';

  /** Backups that are made by themselves and kept in the server's folder. */
  interface Props {
    kept: KeptBackups;
    busy: boolean;
    onrestore: (name: string) => void;
  }
  const { kept: loaded, busy, onrestore }: Props = $props();
  const notices = useNotices();
  let kept = $derived(loaded);
  const { folder, list, schedule, failure } = $derived(kept);
  let working = $state(false);

  const EVERY = [
    ['', 'never'],
    ['1', 'every day'],
    ['7', 'every week'],
    ['30', 'every 30 days']
  ] as const;
  const KEEP = [3, 8, 15, 30];
  const choices = $derived([...new Set([...KEEP, schedule.keep])].sort((a, b) => a - b));

  /** One after the other: what was chosen last is what is kept. */
  let queue: Promise<unknown> = Promise.resolve();
  let waiting = 0;
  function settle(work: () => Promise<KeptBackups>) {
    working = true;
    waiting++;
    queue = queue
      .then(() =>
        notices.attempt(async () => {
          const answer = await work();
          // What was chosen meanwhile is on its way still.
          kept = waiting > 1 ? { ...answer, schedule: kept.schedule } : answer;
        })
      )
      .finally(() => {
        waiting--;
        working = waiting > 0;
      });
  }
  function change(to: Partial<BackupSchedule>) {
    const next = { ...schedule, ...to };
    // Shown at once: what is chosen next goes on from it.
    kept = { ...kept, schedule: next };
    settle(() => setSchedule(next));
  }
</script>

{#if folder !== null}
  <h3 class="mt-5 font-semibold">Kept on the server</h3>
  <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
    <label class="flex items-center gap-2"
      >Made <select
        class="select select-sm w-36"
        aria-label="How often a backup is made by itself"
        value={String(schedule.days ?? '')}
        onchange={({ currentTarget: { value } }) => change({ days: value === '' ? null : Number(value) })}
      >
        {#each EVERY as [days, words] (days)}<option value={days}>{words}</option>{/each}
        {#if EVERY.every(([days]) => days !== String(schedule.days ?? ''))}
          <option value={String(schedule.days)}>every {schedule.days} days</option>
        {/if}
      </select></label
    >
    <label class="flex items-center gap-2"
      >Keep the newest <select
        class="select select-sm w-20"
        aria-label="How many backups are kept"
        value={String(schedule.keep)}
        onchange={({ currentTarget: { value } }) => change({ keep: Number(value) })}
      >
        {#each choices as each (each)}<option value={String(each)}>{each}</option>{/each}
      </select></label
    >
    <button class="btn btn-outline btn-sm" disabled={working || busy} onclick={() => settle(makeKept)}
      >{working ? 'At it …' : 'Make one there now'}</button
    >
  </div>
  {#if failure}
    <p class="text-error mt-2 flex items-start gap-2 text-sm" role="alert">
      <TriangleAlert size={15} class="mt-0.5 shrink-0" />The last one was not made: {failure}
    </p>
  {/if}
  <p class="text-muted mt-2 text-xs">
    In {folder}, without the pixels of test frames. On the same disk they help against mistakes, not against a broken
    disk: copy them elsewhere.
  </p>
  {#if list.length > 0}
    <ul class="mt-2 text-sm" data-kept>
      {#each list as { name, bytes, madeAt, isOwn } (name)}
        <li class="border-line flex flex-wrap items-center justify-between gap-x-3 border-t py-1">
          <span>
            {minuteOf(madeAt)} <span class="text-muted">{sizeInWords(bytes)}{isOwn ? '' : `, ${name}`}</span>
          </span>
          <span class="flex gap-1">
            <button class="btn btn-ghost btn-xs" disabled={busy} onclick={() => onrestore(name)}
              >Restore<span class="sr-only"> {name}</span></button
            >
            <a
              class="btn btn-ghost btn-xs btn-square"
              href={keptPath(name)}
              download
              aria-label="Download {name}"
              title="Download"><Download size={13} /></a
            >
            <button
              class="btn btn-ghost btn-xs btn-square"
              aria-label="Delete {name}"
              title="Delete"
              disabled={working}
              onclick={() => settle(() => dropKept(name))}><Trash2 size={13} /></button
            >
          </span>
        </li>
      {/each}
    </ul>
  {:else}
    <p class="mt-2 text-sm">None yet.</p>
  {/if}
{/if}
