<script lang="ts">
  import { LONGEST_NAME, type Guest, type GuestMay } from '$lib/api/owners.ts';
  import { reasonOf } from '$lib/api/reason.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { dayOf } from '$lib/ui/time.ts';
  import { onMount } from 'svelte';
  import { addGuest, dropGuest, fetchGuests } from './transport.ts';

  /** A train shared with other owners of this server. */
  const { trainId }: { trainId: string } = $props();
  const notices = useNotices();
  const WORDS: Readonly<Record<GuestMay, string>> = { read: 'look at it', edit: 'edit it' };

  let guests = $state.raw<readonly Guest[]>();
  let failure = $state<string>();
  let name = $state('');
  let may = $state<GuestMay>('read');

  const show = async (): Promise<void> => void (guests = await fetchGuests(trainId));
  onMount(() => void show().catch((error: unknown) => (failure = reasonOf(error))));

  const share = (whom: string, what: GuestMay) =>
    notices.attempt(async () => {
      guests = await addGuest(trainId, whom, what);
      name = '';
    });
  const stop = (guest: Guest) =>
    notices.attempt(async () => {
      await dropGuest(trainId, guest.guest);
      await show();
    });
</script>

<section class="border-line mt-4 grid gap-3 border-t pt-4" aria-label="With an owner on this server">
  <p>
    With somebody who signs in here: they find this train in their list, as it is then. Your drawer, records and other
    trains stay yours alone.
  </p>
  <form
    class="flex flex-wrap items-end gap-2"
    onsubmit={(event) => {
      event.preventDefault();
      void share(name.trim(), may);
    }}
  >
    <label class="grid gap-0.5 text-sm"
      >Name they sign in with
      <input class="input input-sm" autocomplete="off" maxlength={LONGEST_NAME} required bind:value={name} /></label
    >
    <label class="grid gap-0.5 text-sm"
      >May
      <select class="select select-sm" bind:value={may}>
        <option value="read">{WORDS.read}</option>
        <option value="edit">{WORDS.edit}</option>
      </select></label
    >
    <button class="btn btn-primary btn-sm">Share</button>
  </form>
  {#if failure !== undefined}
    <p class="text-warning">Who it is shared with cannot be read just now: {failure}</p>
  {:else if guests && guests.length > 0}
    <ul class="grid text-sm">
      {#each guests as guest (guest.guest)}
        <li class="border-line flex flex-wrap items-center gap-x-3 border-t py-1" data-guest={guest.name}>
          <span class="font-medium">{guest.name}</span>
          <span class="text-muted">since {dayOf(guest.since)}</span>
          <select
            class="select select-xs ml-auto w-auto"
            aria-label="What {guest.name} may do"
            value={guest.may}
            onchange={({ currentTarget }) => void share(guest.name, currentTarget.value === 'edit' ? 'edit' : 'read')}
          >
            <option value="read">{WORDS.read}</option>
            <option value="edit">{WORDS.edit}</option>
          </select>
          <button
            class="btn btn-ghost btn-xs"
            aria-label="Stop sharing with {guest.name}"
            onclick={() => void stop(guest)}>Stop sharing</button
          >
        </li>
      {/each}
    </ul>
  {/if}
</section>
