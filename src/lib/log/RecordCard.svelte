<script lang="ts">
  import { assess } from '@lodestone/core/check';
  import { MOST_PHOTOS, type BuildRecord } from '$lib/api/records.ts';
  import { minuteOf, timeInWords } from '$lib/ui/time.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import PhotoImage from '$lib/ui/PhotoImage.svelte';
  import { tooLarge } from '$lib/ui/photos.ts';
  import Camera from '@lucide/svelte/icons/camera';
  import FileText from '@lucide/svelte/icons/file-text';
  import GitCompareArrows from '@lucide/svelte/icons/git-compare-arrows';
  import { recordPhotoAddress, sendRecordPhoto } from './transport.ts';

  interface Props {
    record: BuildRecord;
    onchanged: () => void;
  }
  const { record, onchanged }: Props = $props();
  const display = useDisplay();
  const notices = useNotices();

  let busy = $state(false);
  const { document } = $derived(record);
  const assessment = $derived(assess(document));
  const good = $derived(assessment.isGood);
  const seconds = $derived(Object.values(document.assembly?.seconds ?? {}).reduce((sum, each) => sum + each, 0));
  const readings = $derived(
    document.elements.filter((element) => 'measured' in element && element.measured).length +
      (document.groups?.length ?? 0)
  );

  async function add(files: FileList | null) {
    busy = true;
    for (const file of files ?? []) {
      const refusal = tooLarge(file);
      if (refusal !== undefined) notices.complain(refusal);
      else await notices.attempt(async () => void (await sendRecordPhoto(record.id, file)));
    }
    busy = false;
    onchanged();
  }
</script>

<article class="border-line border-t py-4" data-record={record.number}>
  <div class="flex flex-wrap items-baseline justify-between gap-x-4">
    <h3 class="font-semibold">
      Record {record.number},
      <time datetime={record.finishedAt}>{minuteOf(record.finishedAt)}</time>
    </h3>
    <p class={['font-semibold', good ? 'text-success' : 'text-warning']}>
      {assessment.verdictInWords(display.unit)}
    </p>
  </div>
  <p class="text-muted text-sm">
    Revision {record.revision}{readings > 0 ? `, ${readings} ${readings === 1 ? 'reading' : 'readings'}` : ''}{seconds >
    0
      ? `, put together in ${timeInWords(seconds)}`
      : ''}
  </p>
  {#if record.note}<p class="mt-1 whitespace-pre-line wrap-anywhere">{record.note}</p>{/if}
  {#if record.photos.length > 0}
    <ul class="mt-2 flex flex-wrap gap-2" aria-label="Photos">
      {#each record.photos as { position, hash } (hash)}
        <li>
          <a href={recordPhotoAddress(record.id, position)} target="_blank" rel="noopener"
            ><PhotoImage
              src={recordPhotoAddress(record.id, position)}
              alt="Photo {position} of record {record.number}"
            /></a
          >
        </li>
      {/each}
    </ul>
  {/if}
  <div class="mt-2 flex flex-wrap gap-2">
    {#if record.photos.length < MOST_PHOTOS}
      <label class={['btn btn-outline btn-sm', busy && 'btn-disabled']}>
        <Camera size={14} />{busy ? 'Bringing it in …' : 'Add photos'}
        <input
          type="file"
          accept="image/*"
          multiple
          class="sr-only"
          onchange={({ currentTarget }) => void add(currentTarget.files)}
        />
      </label>
    {/if}
    <a class="btn btn-outline btn-sm" href="/api/records/{record.id}/print" download><FileText size={14} />PDF</a>
    <a class="btn btn-outline btn-sm" href="/compare?of=record:{record.id}&of=train:{record.trainId}"
      ><GitCompareArrows size={14} />Compare with now</a
    >
  </div>
</article>
