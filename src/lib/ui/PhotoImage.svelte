<script lang="ts">
  /** A photo; by night in red only, since a picture has green and blue in it like anything else. */
  const { src, alt, wide = false }: { src: string; alt: string; wide?: boolean } = $props();
</script>

<span class={['frame', wide ? 'block w-full' : 'inline-block']}
  ><img {src} {alt} class={['rounded', wide ? 'w-full' : 'h-28']} /></span
>

<style>
  :global([data-theme='night']) .frame {
    isolation: isolate;
    background: #c00000;
    border-radius: 0.25rem;
    overflow: hidden;
  }
  :global([data-theme='night']) img {
    filter: grayscale(1);
    mix-blend-mode: multiply;
  }
</style>
