<script lang="ts">
  import { dayOf } from '$lib/ui/time.ts';
  import { assess, nextStep } from '@lodestone/core/check';
  import { commonScale, layoutOf } from '@lodestone/core/shape';
  import type { StoredTrain } from '$lib/api/trains.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import Archive from '@lucide/svelte/icons/archive';
  import ArchiveRestore from '@lucide/svelte/icons/archive-restore';
  import Copy from '@lucide/svelte/icons/copy';
  import CopyPlus from '@lucide/svelte/icons/copy-plus';
  import Download from '@lucide/svelte/icons/download';
  import Pencil from '@lucide/svelte/icons/pencil';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import { counted } from '$lib/ui/size.ts';
  import Silhouette from '$lib/rail/Silhouette.svelte';

  interface Props {
    trains: readonly StoredTrain[];
    onrename: (train: StoredTrain, name: string) => void;
    onduplicate: (train: StoredTrain) => void;
    /** Begins another train with this one. */
    onstart: (train: StoredTrain) => void;
    ontag: (tag: string) => void;
    onstate: (train: StoredTrain, state: StoredTrain['state']) => void;
  }
  const { trains, onrename, onduplicate, onstart, ontag, onstate }: Props = $props();
  const display = useDisplay();

  const shelves = $derived(
    trains.map((train) => {
      const assessment = assess(train.document);
      return { train, assessment, layout: layoutOf(train.document, assessment.ledger, assessment.facts.axis) };
    })
  );
  const scale = $derived(commonScale(shelves.map(({ layout }) => layout)));

  let renaming = $state<string>();

  function submitName(train: StoredTrain, name: string) {
    renaming = undefined;
    if (name.trim() !== '' && name.trim() !== train.document.name) onrename(train, name.trim());
  }
</script>

<ul class="grid gap-0">
  {#each shelves as { train, assessment, layout } (train.id)}
    {@const { verdict, problems } = assessment.report}
    {@const faults = problems.filter(({ severity }) => severity === 'error').length}
    <li class="shelf border-line border-b py-4" data-train={train.document.name}>
      <div class="min-w-0">
        {#if renaming === train.id}
          <form
            onsubmit={(event) => {
              event.preventDefault();
              submitName(train, String(new FormData(event.currentTarget).get('name')));
            }}
          >
            <!-- svelte-ignore a11y_autofocus -->
            <input
              name="name"
              class="input input-sm w-full"
              aria-label="New name of {train.document.name}"
              value={train.document.name}
              maxlength="200"
              autofocus
              onblur={({ currentTarget }) => submitName(train, currentTarget.value)}
              onkeydown={(event) => event.key === 'Escape' && (renaming = undefined)}
            />
          </form>
        {:else}
          <h2 class="text-lg font-semibold wrap-anywhere">
            <a class="hover:text-primary inline-flex min-h-6 items-center" href="/trains/{train.id}/build"
              >{train.document.name}</a
            >
          </h2>
        {/if}
        <p
          class={[
            'font-semibold',
            verdict === 'on-spec' && faults === 0
              ? 'text-success'
              : verdict === 'free' && faults === 0 && assessment.missing === undefined
                ? ''
                : 'text-error'
          ]}
        >
          {assessment.verdictInWords(display.unit)}{faults > 0 ? `, ${counted(faults, 'problem')}` : ''}
        </p>
        <p class="text-muted text-xs wrap-anywhere">{nextStep(assessment, display.unit).sentence}</p>
        <p class="text-muted mt-1 text-xs wrap-anywhere">
          {train.document.host.name}, saved {dayOf(train.revision.savedAt)}
        </p>
        {#if train.document.tags?.length}
          <p class="mt-1 flex flex-wrap gap-1">
            {#each train.document.tags as tag (tag)}
              <button class="btn btn-outline btn-xs font-normal" onclick={() => ontag(tag)}>{tag}</button>
            {/each}
          </p>
        {/if}
        {#if train.document.note}
          <p class="text-muted mt-1 line-clamp-2 text-xs wrap-anywhere">{train.document.note}</p>
        {/if}
      </div>
      <a href="/trains/{train.id}/build" class="h-24 min-w-0 lg:h-32" tabindex="-1" aria-hidden="true">
        <Silhouette {layout} {...scale} label="{train.document.name}, to scale" />
      </a>
      <div class="flex flex-wrap content-start sm:justify-end">
        {#if train.state === 'active'}
          <button
            class="btn btn-ghost btn-sm btn-square"
            title="Rename"
            aria-label="Rename {train.document.name}"
            onclick={() => (renaming = train.id)}><Pencil size={15} /></button
          >
          <button
            class="btn btn-ghost btn-sm btn-square"
            title="Duplicate"
            aria-label="Duplicate {train.document.name}"
            onclick={() => onduplicate(train)}><Copy size={15} /></button
          >
          <button
            class="btn btn-ghost btn-sm btn-square"
            title="Start another from this one"
            aria-label="Start another from {train.document.name}"
            onclick={() => onstart(train)}><CopyPlus size={15} /></button
          >
          <a
            class="btn btn-ghost btn-sm btn-square"
            title="Export"
            aria-label="Export {train.document.name}"
            href="/api/trains/{train.id}/document"
            download><Download size={15} /></a
          >
          <button
            class="btn btn-ghost btn-sm btn-square"
            title="Archive"
            aria-label="Archive {train.document.name}"
            onclick={() => onstate(train, 'archived')}><Archive size={15} /></button
          >
          <button
            class="btn btn-ghost btn-sm btn-square"
            title="Delete"
            aria-label="Delete {train.document.name}"
            onclick={() => onstate(train, 'deleted')}><Trash2 size={15} /></button
          >
        {:else}
          <button class="btn btn-outline btn-sm" onclick={() => onstate(train, 'active')}
            ><ArchiveRestore size={15} />Bring back</button
          >
        {/if}
      </div>
    </li>
  {/each}
</ul>

<style>
  .shelf {
    display: grid;
    gap: 0.75rem 1.5rem;
    grid-template-columns: minmax(0, 1fr);
    align-items: center;
  }
  @media (min-width: 40rem) {
    .shelf {
      grid-template-columns: minmax(0, 1fr) auto;
    }
  }
  .shelf > a {
    order: 3;
    grid-column: 1 / -1;
  }
  @media (min-width: 56rem) {
    .shelf {
      grid-template-columns: minmax(19rem, 26rem) minmax(0, 1fr) 13rem;
    }
    .shelf > a {
      order: 0;
      grid-column: auto;
    }
  }
</style>
