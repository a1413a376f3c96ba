<script lang="ts">
  import { reasonOf } from '$lib/api/reason.ts';
  import { forgetKept } from '$lib/ui/offline/offline.svelte.ts';
  import KeyRound from '@lucide/svelte/icons/key-round';
  import { onMount } from 'svelte';
  import Entrance from './Entrance.svelte';
  import { hasPasskeys, signIn, signInByPasskey } from './transport.ts';

  interface Props {
    /** Path to go on to. */
    to: string;
  }
  const { to }: Props = $props();
  let name = $state('');
  let passphrase = $state('');
  let message = $state<string>();
  let isBusy = $state(false);
  let withPasskeys = $state(false);
  onMount(() => {
    withPasskeys = hasPasskeys();
    // Whoever is not signed in is shown nothing that was kept of who was.
    if ('caches' in window) void forgetKept();
  });

  async function enter(work: () => Promise<unknown>) {
    isBusy = true;
    message = undefined;
    try {
      // The whole page anew: nothing of whoever was here before is left in it.
      if ((await work()) !== false) return location.assign(to);
    } catch (error) {
      message = reasonOf(error);
    }
    isBusy = false;
  }
</script>

<Entrance title="Sign in">
  <form
    class="grid gap-3"
    onsubmit={(event) => {
      event.preventDefault();
      void enter(() => signIn(name, passphrase));
    }}
  >
    <label class="grid gap-1"
      ><span class="text-muted text-sm">Name</span>
      <!-- svelte-ignore a11y_autofocus -->
      <input class="input w-full" autocomplete="username" autocapitalize="none" required autofocus bind:value={name} />
    </label>
    <label class="grid gap-1"
      ><span class="text-muted text-sm">Passphrase</span>
      <input class="input w-full" type="password" autocomplete="current-password" required bind:value={passphrase} />
    </label>
    {#if message}<p class="text-error text-sm" role="alert">{message}</p>{/if}
    <button class="btn btn-primary mt-1" disabled={isBusy}>Sign in</button>
  </form>
  {#if withPasskeys}
    <button class="btn btn-outline" disabled={isBusy} onclick={() => void enter(signInByPasskey)}
      ><KeyRound size={16} />Sign in with a passkey</button
    >
  {/if}
  <p class="text-muted text-sm">
    No account, or a forgotten passphrase? Ask whoever looks after this server for a link.
  </p>
</Entrance>
