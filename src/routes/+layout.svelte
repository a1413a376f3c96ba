<script lang="ts">
  import '../app.css';
  import { browser } from '$app/environment';
  import { beforeNavigate, goto } from '$app/navigation';
  import { page } from '$app/state';
  import CommandPalette from '$lib/ui/CommandPalette.svelte';
  import { provideCommands } from '$lib/ui/commands.svelte.ts';
  import { provideDisplay } from '$lib/ui/display.svelte.ts';
  import Later from '$lib/ui/Later.svelte';
  import NoticeList from '$lib/ui/NoticeList.svelte';
  import DropZone from '$lib/ui/DropZone.svelte';
  import { handOver, pageFor } from '$lib/ui/handover.ts';
  import { provideNotices } from '$lib/ui/notices.svelte.ts';
  import { isKept, provideOffline } from '$lib/ui/offline/offline.svelte.ts';
  import { beginAs } from '$lib/sync/whose.ts';
  import { isServerThere, whenThere } from '$lib/ui/reach.ts';
  import { onMount, untrack } from 'svelte';

  const { data, children } = $props();
  // Before anything is kept or heard.
  const begunAs = untrack(() => data.who?.owner);
  if (browser) beginAs(begunAs);
  // Somebody else signed in, or this one out, in another tab: nothing of before may go on under another name.
  $effect(() => {
    if (data.who?.owner !== begunAs) location.reload();
  });
  const display = provideDisplay(untrack(() => data.preferences));
  const commands = provideCommands();
  const notices = provideNotices();
  const offline = provideOffline();
  onMount(() => offline.start());
  $effect(() => offline.tell({ theme: display.theme }));
  $effect(() => {
    if (!offline.hasNewer) return;
    untrack(() =>
      notices.say('A newer version of Lodestone is ready. All its windows reload.', {
        label: 'Use it',
        run: () => offline.useNewer()
      })
    );
  });

  /** A page of the server's is only left for when it can be fetched: without it the browser would show its own error. */
  let going: string | undefined;
  let stopWaiting: (() => void) | undefined;
  beforeNavigate(({ to, type, cancel, willUnload }) => {
    const url = to?.url;
    if (!url || willUnload || (type !== 'link' && type !== 'goto') || url.origin !== location.origin) return;
    if (going === url.href || url.pathname === page.url.pathname) return void (going = undefined);
    const isAway = !navigator.onLine || document.documentElement.dataset.away !== undefined;
    // The drawer and the guide are in the page already; whoever waits for `goto` must not be kept waiting for nothing.
    if (!isAway && (type === 'goto' || /^\/(drawer|measure|guide)/.test(url.pathname))) return;
    cancel();
    const go = () => {
      going = url.href;
      delete document.documentElement.dataset.away;
      void goto(url);
    };
    void Promise.all([isServerThere(), isKept(url)]).then(([there, kept]) => {
      stopWaiting?.();
      if (there || kept) return go();
      notices.complain('The server does not answer. The page opens when it does; what you changed is kept here.');
      stopWaiting = whenThere(go);
    });
  });

  /** The pages of trains, of a train and of the drawer take their own files. */
  const takesItsOwn = $derived(/^\/($|drawer|trains\/)/.test(page.url.pathname));
  async function dropped(files: FileList) {
    const [file] = files;
    if (!file) return;
    const path = await pageFor(file);
    if (!path) {
      notices.complain(
        `${file.name} is neither a train nor a drawer document, nor a table of parts: nothing was done with it.`
      );
      return;
    }
    handOver(files);
    await goto(path);
  }

  // Until then the page is only a picture of itself, sent by the server.
  onMount(() => {
    commands.recall();
    display.tellZone();
    display.recall();
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
    { id: 'season', group: 'Lodestone', title: 'Season: nights of all trains', run: () => void goto('/season') },
    { id: 'settings', group: 'Lodestone', title: 'Open settings', run: () => void goto('/settings') },
    ...untrack(() =>
      data.who
        ? [{ id: 'account', group: 'Lodestone', title: 'Open your account', run: () => void goto('/account') }]
        : []
    ),
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

{#if !takesItsOwn}<DropZone
    words="Drop a train, a drawer or a table of parts here"
    ondrop={(files) => void dropped(files)}
  />{/if}
{@render children()}
<CommandPalette />
{#if commands.helpOpen}<Later load={() => import('$lib/ui/ShortcutHelp.svelte')} of={{}} />{/if}
<NoticeList />
