<script lang="ts">
  import { LONGEST_NAME } from '$lib/api/owners.ts';
  import { reasonOf } from '$lib/api/reason.ts';
  import { onMount } from 'svelte';
  import Entrance from './Entrance.svelte';
  import PassphraseField from './PassphraseField.svelte';
  import { join, openInvitation } from './transport.ts';

  /** Takes an invitation up. Its secret stands behind the mark in the address, where no server and no log sees it. */
  let secret = '';
  let invited = $state.raw<{ name?: string }>();
  let name = $state('');
  let passphrase = $state('');
  let message = $state<string>();
  let isBusy = $state(false);

  onMount(() => {
    secret = location.hash.slice(1);
    openInvitation(secret).then(
      (found) => (invited = found),
      () => (message = 'This link was used, taken back, or has expired. Get a new one.')
    );
  });

  async function enter() {
    isBusy = true;
    message = undefined;
    try {
      await join(secret, invited?.name === undefined ? name : undefined, passphrase);
      location.assign('/');
    } catch (error) {
      message = reasonOf(error);
      isBusy = false;
    }
  }
</script>

<Entrance title={invited?.name === undefined ? 'Make your account' : 'Choose a new passphrase'}>
  {#if invited}
    <form
      class="grid gap-3"
      onsubmit={(event) => {
        event.preventDefault();
        void enter();
      }}
    >
      {#if invited.name === undefined}
        <label class="grid gap-1"
          ><span class="text-muted text-sm">Name you sign in with</span>
          <input class="input w-full" autocomplete="username" maxlength={LONGEST_NAME} required bind:value={name} />
        </label>
      {:else}
        <p>You sign in as {invited.name}. You will be signed out everywhere else.</p>
        <input class="hidden" autocomplete="username" value={invited.name} readonly aria-hidden="true" tabindex="-1" />
      {/if}
      <PassphraseField label="Passphrase" bind:value={passphrase} />
      {#if message}<p class="text-error text-sm" role="alert">{message}</p>{/if}
      <button class="btn btn-primary mt-1" disabled={isBusy}
        >{invited.name === undefined ? 'Make account' : 'Set passphrase'}</button
      >
    </form>
  {:else if message}
    <p class="text-error" role="alert">{message}</p>
    <a class="btn btn-outline" href="/sign-in">Sign in</a>
  {:else}
    <p class="text-muted">Looking …</p>
  {/if}
</Entrance>
