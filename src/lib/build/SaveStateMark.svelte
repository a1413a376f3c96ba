<script lang="ts">
  import { useTrain } from '$lib/train/context.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { CloudCheck, CloudOff, CloudUpload, TriangleAlert } from '@lucide/svelte';
  import { untrack } from 'svelte';

  const notices = useNotices();
  const train = useTrain();

  // A save that was turned down is told aloud: it will not come right by waiting.
  $effect(() => {
    const { state, message } = train.status;
    if (state === 'refused') untrack(() => notices.complain(`Not saved: ${message ?? 'the server refused it'}`));
  });

  const shown = $derived(
    {
      saved: {
        Icon: CloudCheck,
        words: 'saved',
        tone: 'text-muted',
        title: `Saved ${train.savedAt.slice(0, 16).replace('T', ' ')} UTC`
      },
      unsaved: { Icon: CloudUpload, words: 'saving', tone: 'text-muted', title: 'About to be saved' },
      saving: { Icon: CloudUpload, words: 'saving', tone: 'text-muted', title: 'Being saved' },
      offline: {
        Icon: CloudOff,
        words: 'kept here, server away',
        tone: 'text-warning',
        title: 'The server does not answer. Everything is kept in this browser and sent when it is back.'
      },
      conflict: {
        Icon: TriangleAlert,
        words: 'changed elsewhere',
        tone: 'text-warning',
        title: 'Changed in two places'
      },
      refused: { Icon: TriangleAlert, words: 'not saved', tone: 'text-error', title: train.status.message ?? '' }
    }[train.status.state]
  );
</script>

<span
  class={['flex items-center gap-1.5 text-xs whitespace-nowrap', shown.tone]}
  role="status"
  title={shown.title}
  data-save-state={train.status.state}
>
  <shown.Icon size={15} />{shown.words}
</span>
