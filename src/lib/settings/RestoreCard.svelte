<script lang="ts">
  import type { RestoreReport } from '$lib/api/backup.ts';
  import { counted } from '$lib/ui/size.ts';
  import { minuteOf } from '$lib/ui/time.ts';

  /** What a backup would bring, or has brought. */
  interface Props {
    /** Name of the archive. */
    name: string;
    report: RestoreReport;
    done: boolean;
    busy: boolean;
    onrestore: () => void;
    oncancel: () => void;
  }
  const { name, report, done, busy, onrestore, oncancel }: Props = $props();
  const { trains, parts, records, frames, photos, apart, madeAt } = $derived(report);
  const brings = $derived(trains.fresh.length > 0 || parts.fresh > 0);

  const named = (names: readonly string[]): string =>
    names.length <= 6 ? names.join(', ') : `${names.slice(0, 6).join(', ')} and ${names.length - 6} more`;
</script>

<div class="border-primary mt-3 rounded border p-3" data-restore={done ? 'done' : 'tried'} role="status">
  <p class="font-semibold">{name}, made {minuteOf(madeAt)}{done ? ', was restored' : ''}</p>
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
      <li>here already, and not changed: {counted(trains.there.length, 'train')}, {counted(parts.there, 'part')}</li>
    {/if}
    {#if apart.length > 0}
      <li>not marked as assembled, since their parts are in other trains here: {named(apart)}</li>
    {/if}
  </ul>
  {#if !done}
    <div class="mt-3 flex gap-2">
      <button class="btn btn-primary btn-sm" disabled={!brings || busy} onclick={onrestore}
        >{busy ? 'Restoring …' : 'Restore it'}</button
      >
      <button class="btn btn-ghost btn-sm" onclick={oncancel}>Cancel</button>
    </div>
  {/if}
</div>
