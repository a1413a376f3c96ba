<script lang="ts">
  import type { Variant } from '@lodestone/core/drawing';
  import { askFile } from '$lib/api/ask.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import FileDown from '@lucide/svelte/icons/file-down';

  /** The workshop drawing of a part, or of its variants, as files. */
  const { variants, title }: { variants: readonly Variant[]; title: string } = $props();
  const notices = useNotices();

  const save = (as: 'svg' | 'dxf' | 'stl' | 'pdf') =>
    notices.attempt(async () => {
      if (as === 'pdf') {
        const parts = variants.map(({ name, spec }) => ({ name, ...spec }));
        return saveFile(await askFile('/api/ring', { title, parts }), `${title}.pdf`);
      }
      const { workshopDrawing, writeDxf, writeStl, writeSvg } = await import('@lodestone/core/drawing');
      const text = {
        svg: () => writeSvg(workshopDrawing(variants, title)),
        dxf: () => writeDxf(workshopDrawing(variants, title)),
        stl: () => writeStl(variants[0]!.spec, title)
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
  {#if variants.length === 1}
    <span class="text-muted">printed dummy:</span>
    <button class="btn btn-outline btn-xs" onclick={() => save('stl')}><FileDown size={12} />STL</button>
  {/if}
</div>
