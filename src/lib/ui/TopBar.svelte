<script lang="ts">
  import { afterNavigate } from '$app/navigation';
  import { page } from '$app/state';
  import Menu from '@lucide/svelte/icons/menu';
  import Search from '@lucide/svelte/icons/search';
  import WifiOff from '@lucide/svelte/icons/wifi-off';
  import Settings from '@lucide/svelte/icons/settings';
  import type { Who } from '$lib/api/owners.ts';
  import type { Snippet } from 'svelte';
  import { useCommands } from './commands.svelte.ts';
  import { useDisplay } from './display.svelte.ts';
  import Mark from './Mark.svelte';
  import { useOffline } from './offline/offline.svelte.ts';
  import { minuteOf, shortly } from './time.ts';
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
  const display = useDisplay();
  const offline = useOffline();
  const uid = $props.id();
  const who = $derived((page.data as { who?: Who }).who);

  let menu: HTMLElement;
  afterNavigate(() => menu.hidePopover());
  /** Does something, the menu out of the way. */
  function then(work: () => void) {
    menu.hidePopover();
    work();
  }
</script>

<a
  href="#content"
  class="btn btn-primary btn-sm fixed top-1 left-1 z-50 -translate-y-16 focus:translate-y-0"
  onclick={(event) => {
    // Only the focus goes there: the address says what is open, and stays.
    event.preventDefault();
    const main = document.querySelector('main');
    main?.setAttribute('tabindex', '-1');
    main?.focus();
  }}>Skip to the content</a
>
<header class="border-line flex h-11 items-center gap-2 border-b px-3 sm:gap-4 sm:px-4">
  <a href="/" class="flex min-h-11 min-w-6 items-center gap-2 font-semibold" title="All trains (Alt T)"
    ><Mark /><span class="max-xl:sr-only">Lodestone</span></a
  >
  <nav class={['flex h-full', here ? 'max-sm:hidden' : 'max-lg:hidden']} aria-label="Places">
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
  {#if offline.keptAt !== undefined}
    <span
      class="text-warning flex items-center gap-1 text-xs whitespace-nowrap"
      role="status"
      title="The server is away: shown as of {minuteOf(offline.keptAt)}"
      data-offline
      ><WifiOff size={14} class="shrink-0" /><span class="sr-only">The server is away: shown as of&nbsp;</span>{shortly(
        offline.keptAt
      )}</span
    >
  {/if}
  <div class="ml-auto flex items-center max-lg:hidden">
    <button
      class={[
        'btn btn-ghost btn-sm text-muted font-normal max-xl:px-2',
        // There is room for one of the two.
        offline.keptAt !== undefined && 'max-[1439px]:hidden'
      ]}
      title="Find a command (Ctrl K)"
      onclick={() => (commands.paletteOpen = true)}
    >
      <Search size={14} /><span class="max-[1439px]:sr-only">Find a command</span><kbd class="kbd kbd-xs max-xl:hidden"
        >Ctrl K</kbd
      >
    </button>
    <a class="btn btn-ghost btn-sm font-normal" href="/guide">Guide</a>
    <a class="btn btn-ghost btn-sm btn-square" href="/settings" title="Settings" aria-label="Settings"
      ><Settings size={16} /></a
    >
    <ThemeMenu />
  </div>
  <button
    class="btn btn-ghost btn-square ml-auto h-11 w-11 shrink-0 lg:hidden"
    aria-label="Menu"
    popovertarget="{uid}-menu"><Menu size={20} /></button
  >
  <div bind:this={menu} id="{uid}-menu" popover class="menu-sheet panel p-2 shadow-lg">
    <nav aria-label="Menu" class="grid">
      {#each PLACES as [href, place, words] (place)}
        <a {href} class="menu-line" aria-current={here === place ? 'page' : undefined}>{words}</a>
      {/each}
      <a href="/new" class="menu-line">Start a new train</a>
      <a href="/measure" class="menu-line">Measure parts</a>
      <a href="/guide" class="menu-line">Guide</a>
      <a href="/settings" class="menu-line">Settings</a>
      {#if who}<a href="/account" class="menu-line">Account: {who.name}</a>{/if}
      <button class="menu-line" onclick={() => then(() => (commands.paletteOpen = true))}>Find a command</button>
      <button class="menu-line" onclick={() => then(() => (commands.helpOpen = true))}>Keys</button>
      <button class="menu-line" onclick={() => display.nextTheme()}>Theme: {display.theme}</button>
      <button class="menu-line" onclick={() => display.toggleUnit()}>Lengths in {display.unit}</button>
    </nav>
  </div>
</header>

<style>
  .menu-sheet {
    position: fixed;
    inset: 2.9rem 0.5rem auto auto;
    margin: 0;
    min-width: 14rem;
    color: inherit;
  }
  .menu-line {
    display: flex;
    align-items: center;
    min-height: 2.75rem;
    padding: 0 0.75rem;
    border-radius: 0.3rem;
    text-align: left;
    cursor: pointer;
  }
  .menu-line:hover,
  .menu-line:focus-visible {
    background: var(--color-base-300);
  }
  .menu-line[aria-current] {
    font-weight: 600;
  }
</style>
