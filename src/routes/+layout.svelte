<script lang="ts">
  import '../app.css';
  import { goto } from '$app/navigation';
  import CommandPalette from '$lib/ui/CommandPalette.svelte';
  import { provideCommands } from '$lib/ui/commands.svelte.ts';
  import { provideDisplay } from '$lib/ui/display.svelte.ts';
  import NoticeList from '$lib/ui/NoticeList.svelte';
  import { provideNotices } from '$lib/ui/notices.svelte.ts';
  import ShortcutHelp from '$lib/ui/ShortcutHelp.svelte';
  import { onMount, untrack } from 'svelte';

  const { data, children } = $props();
  const display = provideDisplay(untrack(() => data.preferences));
  const commands = provideCommands();
  provideNotices();

  // Until then the page is only a picture of itself, sent by the server.
  onMount(() => {
    commands.recall();
    document.documentElement.dataset.alive = '';
  });

  commands.register([
    {
      id: 'palette',
      group: 'Lodestone',
      title: 'Find a command',
      key: 'Ctrl+K',
      run: () => (commands.paletteOpen = true)
    },
    { id: 'keys', group: 'Lodestone', title: 'Show the keys', key: '?', run: () => (commands.helpOpen = true) },
    { id: 'trains', group: 'Lodestone', title: 'All trains', key: 'Alt+T', run: () => void goto('/') },
    { id: 'drawer', group: 'Lodestone', title: 'The drawer', key: 'Alt+D', run: () => void goto('/drawer') },
    { id: 'new', group: 'Lodestone', title: 'Start a new train', key: 'Alt+N', run: () => void goto('/new') },
    { id: 'guide', group: 'Lodestone', title: 'Open the guide', run: () => void goto('/guide') },
    {
      id: 'theme',
      group: 'Display',
      title: 'Next theme: daylight, dusk, night',
      key: 'T',
      run: () => display.nextTheme()
    },
    { id: 'night', group: 'Display', title: 'Night theme', run: () => display.chooseTheme('night') },
    { id: 'unit', group: 'Display', title: 'Millimetres or inches', key: 'U', run: () => display.toggleUnit() }
  ]);
</script>

<svelte:window onkeydown={commands.onkeydown} />

{@render children()}
<CommandPalette />
<ShortcutHelp />
<NoticeList />
