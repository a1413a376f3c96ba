<script lang="ts">
  import type { SectionProps } from './change.ts';
  import PassphraseField from './PassphraseField.svelte';
  import { changePassphrase } from './transport.ts';

  const { account, change }: SectionProps = $props();
  let isOpen = $state(false);
  let old = $state('');
  let next = $state('');

  async function save() {
    const changed = await change(
      () => changePassphrase(old, next),
      'Passphrase changed. You are signed out everywhere else.'
    );
    if (!changed) return;
    isOpen = false;
    old = next = '';
  }
</script>

<section class="mt-8" aria-labelledby="passphrase">
  <h2 id="passphrase" class="text-lg font-semibold">Passphrase</h2>
  {#if isOpen}
    <form
      class="mt-2 grid max-w-sm gap-3"
      onsubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <input class="hidden" autocomplete="username" value={account.name} readonly aria-hidden="true" tabindex="-1" />
      {#if account.hasPassphrase}
        <label class="grid gap-1"
          ><span class="text-muted text-sm">Passphrase of now</span>
          <input
            class="input w-full"
            type="password"
            autocomplete="current-password"
            required
            bind:value={old}
          /></label
        >
      {/if}
      <PassphraseField label="New passphrase" bind:value={next} />
      <div class="flex gap-2">
        <button class="btn btn-primary btn-sm">Change passphrase</button>
        <button type="button" class="btn btn-ghost btn-sm" onclick={() => (isOpen = false)}>Cancel</button>
      </div>
    </form>
  {:else}
    <button class="btn btn-outline btn-sm mt-2" onclick={() => (isOpen = true)}
      >{account.hasPassphrase ? 'Change passphrase' : 'Set a passphrase'}</button
    >
  {/if}
</section>
