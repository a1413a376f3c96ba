<script lang="ts">
  import { LONGEST_NAME } from '$lib/api/owners.ts';
  import { deviceName } from '$lib/ui/device.ts';
  import { minuteOf } from '$lib/ui/time.ts';
  import { onMount } from 'svelte';
  import type { SectionProps } from './change.ts';
  import { addPasskey, dropPasskey, hasPasskeys } from './transport.ts';

  const { account, change }: SectionProps = $props();
  let can = $state<boolean>();
  let name = $state('');
  onMount(() => {
    can = hasPasskeys();
    name = deviceName() ?? '';
  });
</script>

<section class="mt-8" aria-labelledby="passkeys">
  <h2 id="passkeys" class="text-lg font-semibold">Passkeys</h2>
  <p class="text-muted mt-1 max-w-prose text-sm">
    A passkey signs you in with the lock of your phone or computer, without the passphrase.
  </p>
  {#if account.passkeys.length > 0}
    <ul class="mt-2 grid" aria-labelledby="passkeys">
      {#each account.passkeys as passkey (passkey.id)}
        <li class="border-line flex flex-wrap items-center gap-x-3 border-t py-2">
          <span class="font-medium">{passkey.name}</span>
          <span class="text-muted text-sm"
            >{passkey.usedAt ? `last used ${minuteOf(passkey.usedAt)}` : `made ${minuteOf(passkey.madeAt)}`}</span
          >
          <button
            class="btn btn-ghost btn-sm ml-auto"
            aria-label="Remove passkey {passkey.name}"
            onclick={() => void change(() => dropPasskey(passkey.id), `Passkey “${passkey.name}” removed.`)}
            >Remove</button
          >
        </li>
      {/each}
    </ul>
  {/if}
  {#if can}
    <form
      class="mt-2 flex flex-wrap items-end gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        void change(() => addPasskey(name.trim() || 'Passkey'));
      }}
    >
      <label class="grid gap-1"
        ><span class="text-muted text-sm">Name of the passkey</span>
        <input class="input input-sm" maxlength={LONGEST_NAME} bind:value={name} /></label
      >
      <button class="btn btn-outline btn-sm">Add a passkey</button>
    </form>
  {:else if can === false}
    <p class="text-muted mt-2 max-w-prose text-sm" data-passkeys="impossible">
      Browsers use passkeys only at a secure address with a name: <code>https://…</code>, or <code>localhost</code>.
    </p>
  {/if}
</section>
