<script lang="ts">
  import { LONGEST_NAME, SCOPES, TOKEN_DAYS, type MadeToken, type Scope } from '$lib/api/owners.ts';
  import { dayOf, minuteOf } from '$lib/ui/time.ts';
  import type { SectionProps } from './change.ts';
  import ToldOnce from './ToldOnce.svelte';
  import { makeToken, takeBackToken } from './transport.ts';

  const { account, change }: SectionProps = $props();
  const WORDS: Readonly<Record<Scope, string>> = {
    read: 'read',
    frames: 'read, and send frames',
    write: 'read and change everything'
  };
  let name = $state('');
  let scope = $state<Scope>('frames');
  let days = $state<number>();
  let made = $state.raw<MadeToken>();

  const make = () =>
    change(async () => {
      made = await makeToken(name.trim(), scope, days);
      name = '';
    });
</script>

<section class="mt-8" aria-labelledby="tokens">
  <h2 id="tokens" class="text-lg font-semibold">Tokens for scripts</h2>
  <p class="text-muted mt-1 max-w-prose text-sm">
    A capture program or a script of yours shows a token in place of you. No token signs in, invites, or makes another.
  </p>
  {#if account.tokens.length > 0}
    <ul class="mt-2 grid" aria-labelledby="tokens">
      {#each account.tokens as token (token.id)}
        <li class="border-line flex flex-wrap items-center gap-x-3 border-t py-2" data-token={token.id}>
          <span class="font-medium">{token.name}</span>
          <span class="text-muted text-sm"
            >may {WORDS[token.scope]}{token.expiresAt ? `, until ${dayOf(token.expiresAt)}` : ''}, {token.usedAt
              ? `last used ${minuteOf(token.usedAt)}`
              : 'not used yet'}</span
          >
          <button
            class="btn btn-ghost btn-sm ml-auto"
            aria-label="Take back token {token.name}"
            onclick={() => {
              if (made?.id === token.id) made = undefined;
              void change(
                () => takeBackToken(token.id),
                `Token “${token.name}” taken back: it opens nothing any more.`
              );
            }}>Take back</button
          >
        </li>
      {/each}
    </ul>
  {/if}
  {#if made}<ToldOnce label="Token" secret={made.token} words="Copy this token now: it is not shown again." />{/if}
  <form
    class="mt-3 flex flex-wrap items-end gap-2"
    onsubmit={(event) => {
      event.preventDefault();
      void make();
    }}
  >
    <label class="grid gap-1"
      ><span class="text-muted text-sm">What it is for</span>
      <input class="input input-sm" maxlength={LONGEST_NAME} required placeholder="capture machine" bind:value={name} />
    </label>
    <label class="grid gap-1"
      ><span class="text-muted text-sm">It may</span>
      <select class="select select-sm" bind:value={scope}>
        {#each SCOPES as each (each)}<option value={each}>{WORDS[each]}</option>{/each}
      </select></label
    >
    <label class="grid gap-1"
      ><span class="text-muted text-sm">For</span>
      <select class="select select-sm" bind:value={days}>
        <option value={undefined}>until taken back</option>
        {#each TOKEN_DAYS as each (each)}<option value={each}>{each} days</option>{/each}
      </select></label
    >
    <button class="btn btn-outline btn-sm">Make a token</button>
  </form>
</section>
