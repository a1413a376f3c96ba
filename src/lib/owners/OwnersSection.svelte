<script lang="ts">
  import type { MadeInvitation, OtherOwner } from '$lib/api/owners.ts';
  import { dayOf, minuteOf } from '$lib/ui/time.ts';
  import type { SectionProps } from './change.ts';
  import ToldOnce from './ToldOnce.svelte';
  import { invite, setClosed, takeBackInvitation } from './transport.ts';

  /** For whoever looks after the server: who has an account, and who may have one. */
  interface Props extends SectionProps {
    owners: OtherOwner[];
  }
  const { account, owners, change }: Props = $props();
  let keeps = $state(false);
  let made = $state.raw<MadeInvitation>();
  let forName = $state<string>();

  const nameOf = (id: string): string => owners.find(({ owner }) => owner === id)?.name ?? 'somebody';

  const makeLink = (other?: OtherOwner) =>
    change(async () => {
      made = await invite(other ? false : keeps, other?.owner);
      forName = other?.name;
      keeps = false;
    });
</script>

<section class="mt-8" aria-labelledby="owners">
  <h2 id="owners" class="text-lg font-semibold">Owners on this server</h2>
  <ul class="mt-2 grid" aria-labelledby="owners">
    {#each owners as other (other.owner)}
      <li class="border-line flex flex-wrap items-center gap-x-3 border-t py-2" data-owner={other.owner}>
        <span class={['font-medium', other.closedAt && 'text-muted line-through']}>{other.name}</span>
        <span class="text-muted text-sm"
          >{other.closedAt ? `shut out since ${dayOf(other.closedAt)}` : `since ${dayOf(other.madeAt)}`}</span
        >
        {#if other.owner === account.owner}
          <span class="text-muted ml-auto px-3 text-sm">you</span>
        {:else}
          <span class="ml-auto flex">
            <button
              class="btn btn-ghost btn-sm"
              aria-label="New link for {other.name}"
              onclick={() => void makeLink(other)}>New link</button
            >
            {#if other.closedAt}
              <button
                class="btn btn-ghost btn-sm"
                aria-label="Let in again: {other.name}"
                onclick={() => void change(() => setClosed(other.owner, false), `${other.name} may sign in again.`)}
                >Let in again</button
              >
            {:else}
              <button
                class="btn btn-ghost btn-sm"
                aria-label="Shut out: {other.name}"
                onclick={() =>
                  void change(
                    () => setClosed(other.owner, true),
                    `${other.name} is shut out. Their trains and parts stay as they are.`
                  )}>Shut out</button
              >
            {/if}
          </span>
        {/if}
      </li>
    {/each}
  </ul>
  {#if account.invitations && account.invitations.length > 0}
    <h3 class="mt-3 text-sm font-semibold">Links not used yet</h3>
    <ul class="grid">
      {#each account.invitations as invitation (invitation.id)}
        <li class="flex flex-wrap items-center gap-x-3 py-1 text-sm">
          <span
            >{invitation.for ? `${nameOf(invitation.for)}, to get in again` : 'A new owner'}{invitation.keeps
              ? ', who looks after the server too'
              : ''}</span
          >
          <span class="text-muted">until {minuteOf(invitation.expiresAt)}</span>
          <button
            class="btn btn-ghost btn-xs ml-auto"
            onclick={() => {
              if (made?.id === invitation.id) made = undefined;
              void change(() => takeBackInvitation(invitation.id), 'Link taken back.');
            }}>Take back</button
          >
        </li>
      {/each}
    </ul>
  {/if}
  {#if made}
    <ToldOnce
      label="Link"
      secret={location.origin + made.path}
      words={forName === undefined
        ? 'Send this link to the person who is to join. It works once, within a week, and is not shown again.'
        : `Send this link to ${forName}, to choose a new passphrase. It works once, within a week, and is not shown again.`}
    />
  {/if}
  <div class="mt-3 flex flex-wrap items-center gap-3">
    <button class="btn btn-primary btn-sm" onclick={() => void makeLink()}>Invite somebody</button>
    <label class="flex items-center gap-2 text-sm"
      ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={keeps} />May invite others and shut them out</label
    >
  </div>
</section>
