<script lang="ts">
  import { page } from '$app/state';
  import type { Who } from '$lib/api/owners.ts';
  import { minuteOf } from '$lib/ui/time.ts';
  import CloudAlert from '@lucide/svelte/icons/cloud-alert';
  import CloudCheck from '@lucide/svelte/icons/cloud-check';
  import CloudOff from '@lucide/svelte/icons/cloud-off';
  import CloudUpload from '@lucide/svelte/icons/cloud-upload';
  import LogIn from '@lucide/svelte/icons/log-in';
  import type { OutboxStatus } from './outbox.ts';

  interface Props {
    status: OutboxStatus;
    /** How many changes wait for a decision. */
    aside: number;
    /** ISO 8601, of what was stored last. */
    savedAt?: string;
    /** Tries to send now. */
    onretry: () => void;
  }
  const { status, aside, savedAt, onretry }: Props = $props();

  const KEPT = 'Everything is kept in this browser and sent when it can be.';
  const shown = $derived.by(() => {
    const { state, message = '' } = status;
    if (aside > 0 && state === 'saved') {
      return {
        Icon: CloudAlert,
        words: 'not all stored',
        tone: 'text-warning',
        title: 'Some changes wait for your word'
      };
    }
    switch (state) {
      case 'saved': {
        const title = savedAt ? `Saved ${minuteOf(savedAt)}` : 'Everything is stored';
        return { Icon: CloudCheck, words: 'saved', tone: 'text-muted', title };
      }
      case 'unsaved':
      case 'saving':
        return { Icon: CloudUpload, words: 'saving', tone: 'text-muted', title: 'On its way to the server' };
      case 'offline':
        return { Icon: CloudOff, words: 'kept here, server away', tone: 'text-warning', title: `${message} ${KEPT}` };
      case 'blocked':
        return { Icon: CloudAlert, words: 'kept here, not stored', tone: 'text-warning', title: `${message} ${KEPT}` };
      case 'sign-in':
        return { Icon: LogIn, words: 'kept here, sign in', tone: 'text-warning', title: `${message} ${KEPT}` };
    }
  });
  // Pages that have to be fetched are asked for with care while the server is away.
  $effect(() => {
    if (status.state === 'offline') document.documentElement.dataset.away = '';
    else delete document.documentElement.dataset.away;
  });
  /** Where one token is for all, the page itself asks for it when it is loaded anew. */
  const signsIn = $derived((page.data as { who?: Who }).who !== undefined);
  const waits = $derived(['offline', 'blocked', 'sign-in'].includes(status.state));
</script>

<span
  class={['flex items-center gap-1.5 text-xs whitespace-nowrap', shown.tone]}
  role="status"
  title={shown.title}
  data-save-state={aside > 0 && status.state === 'saved' ? 'aside' : status.state}
>
  <shown.Icon size={15} class="shrink-0" /><span class={waits || status.state === 'saved' ? 'max-sm:sr-only' : ''}
    >{shown.words}</span
  >
  {#if status.state === 'sign-in' && signsIn}<a
      class="btn btn-ghost btn-xs"
      href="/sign-in?to={encodeURIComponent(page.url.pathname + page.url.search)}"
      data-sveltekit-reload>Sign in</a
    >{:else if waits}<button class="btn btn-ghost btn-xs" onclick={onretry}>Try now</button>{/if}
</span>
