<script lang="ts">
  import { LEAST_PASSPHRASE } from '$lib/api/owners.ts';

  /** A new passphrase, which may be looked at while it is typed. */
  interface Props {
    label: string;
    value: string;
  }
  let { label, value = $bindable() }: Props = $props();
  const uid = $props.id();
  let isShown = $state(false);
</script>

<div class="grid gap-1">
  <label for="{uid}-field" class="text-muted text-sm">{label}</label>
  <input
    id="{uid}-field"
    class="input w-full"
    type={isShown ? 'text' : 'password'}
    autocomplete="new-password"
    required
    aria-describedby="{uid}-rule"
    bind:value
  />
  <p id="{uid}-rule" class="text-muted text-sm">
    At least {LEAST_PASSPHRASE} characters. Four or five words that do not belong together are easy to type and hard to guess.
  </p>
  <label class="flex min-h-8 items-center gap-2 text-sm"
    ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={isShown} />Show it</label
  >
</div>
