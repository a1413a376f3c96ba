<script lang="ts">
  import FirstAnswer from './FirstAnswer.svelte';
  import type { FirstTrain } from './firstTrain.ts';

  interface Props {
    start: FirstTrain;
    name: string;
    /** The name it gets where none is given. */
    suggestedName: string;
    message: string | undefined;
    busy: boolean;
  }
  let { start, name = $bindable(), suggestedName, message, busy }: Props = $props();
</script>

<aside class="panel grid h-fit content-start gap-2 p-4 lg:sticky lg:top-6">
  <FirstAnswer {start} />
  <label class="mt-2 grid gap-0.5">
    <span class="text-muted text-xs">Name of the train</span>
    <input
      class="input input-sm w-full"
      bind:value={name}
      placeholder={suggestedName}
      maxlength="200"
      autocomplete="off"
    />
  </label>
  {#if message}<p class="text-error" role="alert">{message}</p>{/if}
  <button class="btn btn-primary w-full" disabled={busy}>Go on to Build</button>
</aside>
