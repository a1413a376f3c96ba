<script lang="ts">
  import type { Account } from '$lib/api/owners.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { forgetKept } from '$lib/ui/offline/offline.svelte.ts';
  import OwnersSection from './OwnersSection.svelte';
  import PasskeySection from './PasskeySection.svelte';
  import PassphraseSection from './PassphraseSection.svelte';
  import SessionSection from './SessionSection.svelte';
  import TokenSection from './TokenSection.svelte';
  import { readAccount, signOut } from './transport.ts';

  /** All that belongs to signing in. */
  interface Props {
    account: Account;
  }
  const { account: loaded }: Props = $props();
  let account = $derived(loaded);
  const notices = useNotices();

  /** Does something, and shows how things are then. @returns whether it was done */
  const change = (work: () => Promise<unknown>, words?: string): Promise<boolean> =>
    notices.attempt(async () => {
      if ((await work()) === false) return;
      account = await readAccount();
      if (words !== undefined) notices.say(words);
    });

  const leave = () =>
    notices.attempt(async () => {
      await signOut();
      if ('caches' in window) await forgetKept();
      location.assign('/sign-in');
    });
</script>

<main class="mx-auto max-w-3xl px-6 py-8">
  <div class="flex flex-wrap items-center justify-between gap-3">
    <h1 class="text-2xl font-semibold">{account.name}</h1>
    <button class="btn btn-outline btn-sm" onclick={() => void leave()}>Sign out</button>
  </div>
  <p class="text-muted mt-1 max-w-prose text-sm">
    Nobody else sees your trains, parts and records, unless you share a train. What was not sent yet stays in this
    browser when you sign out, and is sent when you sign in here again.
  </p>
  {#if account.owners}
    <OwnersSection {account} owners={account.owners} {change} />
  {/if}
  <PassphraseSection {account} {change} />
  <PasskeySection {account} {change} />
  <SessionSection {account} {change} />
  <TokenSection {account} {change} />
</main>
