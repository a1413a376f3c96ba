<script lang="ts">
  import { dayOf } from '$lib/ui/time.ts';
  import { purgeTrain } from '$lib/train/transport.ts';
  import type { DeletedTrain } from '$lib/api/trains.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { counted } from '$lib/ui/size.ts';
  import ArchiveRestore from '@lucide/svelte/icons/archive-restore';
  import Trash2 from '@lucide/svelte/icons/trash-2';

  interface Props {
    trains: readonly DeletedTrain[];
    onback: (train: DeletedTrain) => void;
    /** Some are gone for good. */
    onpurged: () => Promise<void>;
  }
  const { trains, onback, onpurged }: Props = $props();
  const notices = useNotices();

  /** Those that are to go, while the question is asked. */
  let asked = $state.raw<readonly DeletedTrain[]>([]);
  let open = $state(false);
  let busy = $state(false);

  function ask(chosen: readonly DeletedTrain[]) {
    asked = chosen;
    open = true;
  }

  const sum = (of: (train: DeletedTrain) => number): number => asked.reduce((total, train) => total + of(train), 0);
  const going = $derived([
    [sum(({ revision }) => revision.number), 'revision'],
    [sum(({ records }) => records), 'record'],
    [sum(({ frames }) => frames), 'test frame']
  ] as const);
  const goingInWords = $derived(
    new Intl.ListFormat('en').format(going.flatMap(([count, one]) => (count > 0 ? [counted(count, one)] : [])))
  );
  const title = $derived(
    asked.length === 1 ? `Delete ${asked[0]!.name} permanently?` : `Delete ${asked.length} trains permanently?`
  );

  async function purge() {
    busy = true;
    const words = asked.length === 1 ? asked[0]!.name : `${asked.length} trains`;
    const isDone = await notices.attempt(async () => {
      for (const { id } of asked) await purgeTrain(id);
    });
    busy = false;
    open = false;
    await onpurged();
    if (isDone) notices.say(`${words} deleted permanently.`);
  }
</script>

<div class="mt-4 flex flex-wrap items-center justify-between gap-2">
  <p class="text-muted max-w-prose text-sm">
    Deleted trains keep their revisions and records until you delete them permanently; pixels of their test frames are
    deleted after a day.
  </p>
  {#if trains.length > 1}
    <button class="btn btn-outline btn-sm" onclick={() => ask(trains)}
      ><Trash2 size={15} />Delete all {trains.length} permanently</button
    >
  {/if}
</div>
<ul class="mt-2" aria-label="Deleted trains">
  {#each trains as train (train.id)}
    <li class="border-line flex flex-wrap items-center gap-x-4 gap-y-2 border-b py-3" data-train={train.name}>
      <div class="min-w-0 flex-1 basis-56">
        <h2 class="font-semibold wrap-anywhere">{train.name}</h2>
        <p class="text-muted text-xs">
          deleted {dayOf(train.deletedAt)}, {counted(train.revision.number, 'revision')}{train.records > 0
            ? `, ${counted(train.records, 'record')}`
            : ''}{train.frames > 0 ? `, ${counted(train.frames, 'test frame')}` : ''}
        </p>
      </div>
      <button class="btn btn-outline btn-sm" aria-label="Bring back {train.name}" onclick={() => onback(train)}
        ><ArchiveRestore size={15} />Bring back</button
      >
      <button class="btn btn-ghost btn-sm" aria-label="Delete {train.name} permanently" onclick={() => ask([train])}
        ><Trash2 size={15} />Delete permanently</button
      >
    </li>
  {/each}
</ul>

<Modal {title} bind:open>
  <p>{goingInWords} will be deleted. This cannot be undone.</p>
  <div class="mt-4 flex flex-wrap justify-end gap-2">
    <button class="btn btn-outline btn-sm" disabled={busy} onclick={() => (open = false)}>Keep</button>
    <button class="btn btn-error btn-sm" disabled={busy} onclick={() => void purge()}
      ><Trash2 size={15} />Delete permanently</button
    >
  </div>
</Modal>
