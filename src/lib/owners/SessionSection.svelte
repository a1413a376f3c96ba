<script lang="ts">
  import { minuteOf } from '$lib/ui/time.ts';
  import type { SectionProps } from './change.ts';
  import { endOtherSessions, endSession } from './transport.ts';

  const { account, change }: SectionProps = $props();
</script>

<section class="mt-8" aria-labelledby="sessions">
  <h2 id="sessions" class="text-lg font-semibold">Signed in on</h2>
  <ul class="mt-2 grid" aria-labelledby="sessions">
    {#each account.sessions as session (session.id)}
      {@const device = session.device ?? 'Unknown browser'}
      <li class="border-line flex flex-wrap items-center gap-x-3 border-t py-2" data-session={session.id}>
        <span class="font-medium">{device}</span>
        <span class="text-muted text-sm"
          >{session.isThis ? 'this browser' : `last used ${minuteOf(session.usedAt)}`}, since {minuteOf(
            session.madeAt
          )}</span
        >
        {#if !session.isThis}
          <button
            class="btn btn-ghost btn-sm ml-auto"
            aria-label="Sign out {device}, since {minuteOf(session.madeAt)}"
            onclick={() => void change(() => endSession(session.id), `${device} is signed out.`)}>Sign out</button
          >
        {/if}
      </li>
    {/each}
  </ul>
  {#if account.sessions.length > 1}
    <button
      class="btn btn-outline btn-sm mt-2"
      onclick={() => void change(endOtherSessions, 'You are signed out everywhere else.')}
      >Sign out everywhere else</button
    >
  {/if}
</section>
