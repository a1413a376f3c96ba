<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import type { Who } from '$lib/api/owners.ts';
  import { startedFrom } from '@lodestone/core/train';
  import { askFile } from '$lib/api/ask.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { changeState, createTrain } from '$lib/train/transport.ts';
  import { useCommands, type Command } from '$lib/ui/commands.svelte.ts';
  import ContextMenu from '$lib/ui/ContextMenu.svelte';
  import Later from '$lib/ui/Later.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { saveFile } from '$lib/ui/saveFile.ts';
  import Ellipsis from '@lucide/svelte/icons/ellipsis';

  import { untrack } from 'svelte';
  import { asText } from './asText.ts';
  import { dropGuest } from './transport.ts';

  /** What can be done with a train as a whole, on every stage of it. */
  interface Props {
    /** Whether the train is another owner's: its parts are of another drawer, and what becomes of it is not ours. */
    isGuest?: boolean;
  }
  const { isGuest = false }: Props = $props();
  const train = useTrain();
  const notices = useNotices();
  const display = useDisplay();

  let sharing = $state(false);
  const dialog = () => import('./ShareDialog.svelte');

  const copyText = () =>
    void notices.attempt(async () => {
      await navigator.clipboard.writeText(asText(train.assessment, display.unit));
      notices.say('Verdict and sums were copied as text.');
    });
  const printBench = async () => {
    const { document } = train;
    saveFile(await askFile('/api/bench-sheet', { document }), `${document.name} bench sheet.pdf`);
  };
  const startFrom = () =>
    void notices.attempt(async () => {
      const { id } = await createTrain(crypto.randomUUID(), startedFrom(train.document, [train.document.name]));
      await goto(`/trains/${id}/build`);
      notices.say('It has the telescope and the parts, and nothing of what happened with the other one.');
    });
  const duplicate = () =>
    void notices.attempt(async () => {
      const name = `${train.document.name} copy`.slice(0, 200);
      const { id } = await createTrain(crypto.randomUUID(), { ...train.document, name });
      await goto(`/trains/${id}/build`);
      notices.say(`This is ${name}.`);
    });
  /** Everything typed is stored before the train leaves the list. */
  const leave = (state: 'archived' | 'deleted') =>
    void notices.attempt(async () => {
      await train.saveNow();
      const { name } = train.document;
      await changeState(train.id, state);
      await goto('/');
      notices.say(`${name} ${state}.`, {
        label: 'Undo',
        run: () =>
          void notices.attempt(async () => {
            await changeState(train.id, 'active');
            await goto(`/trains/${train.id}/build`);
          })
      });
    });

  const leaveShared = () =>
    void notices.attempt(async () => {
      await train.saveNow();
      const { owner } = (page.data as { who: Who }).who;
      await dropGuest(train.id, owner);
      await goto('/');
      notices.say(`${train.document.name} is not shared with you any more.`);
    });

  const BY_ALL: Command[] = [
    { id: 'share', group: 'Train', title: 'Share: link, web page, document', run: () => (sharing = true) },
    { id: 'copy-text', group: 'Train', title: 'Copy verdict and sums as text', run: copyText },
    {
      id: 'bench-sheet',
      group: 'Train',
      title: 'Print the bench sheet: every part at true size',
      run: () => void notices.attempt(printBench)
    }
  ];
  const BY_OWNER: Command[] = [
    { id: 'duplicate', group: 'Train', title: 'Duplicate the train', run: duplicate },
    { id: 'start-from', group: 'Train', title: 'Start another train from this one', run: startFrom },
    { id: 'pack-train', group: 'Train', title: 'Pack for the train', run: () => void goto(`/pack?of=${train.id}`) },
    {
      id: 'compare-train',
      group: 'Train',
      title: 'Compare the train with others',
      run: () => void goto(`/compare?of=train:${train.id}`)
    },
    { id: 'archive-train', group: 'Train', title: 'Archive the train', run: () => leave('archived') },
    { id: 'delete-train', group: 'Train', title: 'Delete the train', run: () => leave('deleted') }
  ];
  const BY_GUEST: Command[] = [{ id: 'leave-shared', group: 'Train', title: 'Leave this train', run: leaveShared }];
  const COMMANDS = [...BY_ALL, ...(untrack(() => isGuest) ? BY_GUEST : BY_OWNER)];
  useCommands().register(COMMANDS);

  let menu: ContextMenu;
</script>

<button
  class="btn btn-ghost btn-sm btn-square shrink-0"
  aria-label="More of {train.document.name}"
  aria-haspopup="menu"
  title="Share, duplicate, archive, delete"
  onclick={(event) => menu.open(event, event.currentTarget)}><Ellipsis size={16} /></button
>
<ContextMenu bind:this={menu} label="What can be done with the train" ids={COMMANDS.map(({ id }) => id)} />
{#if sharing}<Later load={dialog} of={{ isGuest, onclose: () => (sharing = false) }} />{/if}
