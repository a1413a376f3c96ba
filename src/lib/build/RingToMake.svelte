<script lang="ts">
  import { plainMm } from '@lodestone/core/why';
  import type { RingSpec } from '@lodestone/core/finder';
  import { askFile } from '$lib/api/ask.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import FileDown from '@lucide/svelte/icons/file-down';

  const { ring }: { ring: RingSpec } = $props();
  const train = useTrain();
  const notices = useNotices();

  const title = $derived(`Ring ${plainMm(ring.lengthMm)} for ${train.document.name}`);

  const save = (as: 'svg' | 'dxf' | 'stl' | 'pdf') =>
    notices.attempt(async () => {
      if (as === 'pdf') return saveFile(await askFile('/api/ring', { title, parts: [ring] }), `${title}.pdf`);
      const { ringDrawing, writeDxf, writeStl, writeSvg } = await import('@lodestone/core/drawing');
      const text = {
        svg: () => writeSvg(ringDrawing(ring, title)),
        dxf: () => writeDxf(ringDrawing(ring, title)),
        stl: () => writeStl(ring, title)
      }[as]();
      const type = as === 'svg' ? 'image/svg+xml' : 'application/octet-stream';
      saveFile(new Blob([text], { type }), `${title}.${as}`);
    });
</script>

<div class="mt-1 flex flex-wrap items-center gap-1 text-xs">
  <span class="text-muted">Drawing:</span>
  {#each ['pdf', 'svg', 'dxf'] as const as format (format)}
    <button class="btn btn-outline btn-xs" onclick={() => save(format)}
      ><FileDown size={12} />{format.toUpperCase()}</button
    >
  {/each}
  <span class="text-muted">printed dummy:</span>
  <button class="btn btn-outline btn-xs" onclick={() => save('stl')}><FileDown size={12} />STL</button>
</div>
