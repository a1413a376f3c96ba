<script lang="ts">
  import { Search } from '@lucide/svelte';
  import type { Snippet } from 'svelte';
  import { useCommands } from './commands.svelte.ts';
  import Mark from './Mark.svelte';
  import ThemeMenu from './ThemeMenu.svelte';

  interface Props {
    /** Which of the two places beside the guide this page belongs to. */
    here?: 'trains' | 'drawer';
    children?: Snippet;
  }
  const { here, children }: Props = $props();
  const PLACES = [
    ['/', 'trains', 'Trains'],
    ['/drawer', 'drawer', 'Drawer']
  ] as const;
  const commands = useCommands();
</script>

<header class="border-line flex h-11 items-center gap-2 border-b px-4 sm:gap-4">
  <a href="/" class="flex items-center gap-2 font-semibold" title="All trains (Alt T)"
    ><Mark /><span class="max-sm:sr-only">Lodestone</span></a
  >
  <nav class={['flex h-full', !here && 'max-sm:hidden']} aria-label="Places">
    {#each PLACES as [href, place, words] (place)}
      <a
        {href}
        aria-current={here === place ? 'page' : undefined}
        class={['flex items-center px-2', here === place ? 'font-semibold' : 'text-muted hover:text-base-content']}
        >{words}</a
      >
    {/each}
  </nav>
  {@render children?.()}
  <div class="ml-auto flex items-center">
    <button
      class="btn btn-ghost btn-sm text-muted font-normal max-md:hidden"
      onclick={() => (commands.paletteOpen = true)}
    >
      <Search size={14} />Find a command<kbd class="kbd kbd-xs">Ctrl K</kbd>
    </button>
    <a class="btn btn-ghost btn-sm font-normal max-sm:hidden" href="/guide">Guide</a>
    <ThemeMenu />
  </div>
</header>
