<script lang="ts" module>
  import type { Component } from 'svelte';

  type Module<P extends Record<string, unknown>> = { default: Component<P> };
</script>

<script lang="ts" generics="P extends Record<string, unknown>">
  interface Props {
    /** Fetches what is shown; the browser keeps it, so that only the first time takes a moment. */
    load: () => Promise<Module<P>>;
    /** Its properties. */
    of: P;
  }
  const { load, of }: Props = $props();

  let fetching = $derived(load());
</script>

{#await fetching}
  <p class="text-muted text-xs" role="status">…</p>
{:then { default: Shown }}
  <Shown {...of} />
{:catch}
  <p class="text-error" role="alert">
    This could not be fetched: the server does not answer.
    <button class="link-quiet" onclick={() => (fetching = load())}>Try again</button>
  </p>
{/await}
