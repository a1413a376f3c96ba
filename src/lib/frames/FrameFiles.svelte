<script lang="ts">
  import { useFrames } from './frames.svelte.ts';

  /** Lets somebody choose files that are frames, one or several; `open` asks for them. */
  const { multiple = false }: { multiple?: boolean } = $props();
  const frames = useFrames();
  let input: HTMLInputElement;

  export const open = (): void => input.click();
</script>

<input
  bind:this={input}
  type="file"
  {multiple}
  class="hidden"
  aria-label="Test frames"
  accept=".fit,.fits,.fts,.fz,.gz,.tif,.tiff,.png"
  onchange={({ currentTarget }) => {
    frames.add([...(currentTarget.files ?? [])]);
    currentTarget.value = '';
  }}
/>
