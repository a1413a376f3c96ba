<script lang="ts">
  import RotateCw from '@lucide/svelte/icons/rotate-cw';

  interface Props {
    /** What went wrong. */
    message: string;
    onagain: () => void;
  }
  const { message, onagain }: Props = $props();
</script>

<p class="flex flex-wrap items-center gap-x-2 gap-y-1" role="alert" data-failed>
  <span class="text-error">{message}</span>
  <button class="btn btn-outline btn-xs" onclick={onagain}><RotateCw size={11} />Try again</button>
</p>
