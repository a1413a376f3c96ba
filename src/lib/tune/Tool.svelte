<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLButtonAttributes } from 'svelte/elements';

  /** A switch, or a plain button where it is neither on nor off, in a row of them over a picture. */
  interface Props extends HTMLButtonAttributes {
    on?: boolean;
    children: Snippet;
  }
  const { on, children, ...further }: Props = $props();
</script>

<button class={['tool', on && 'on']} aria-pressed={on} {...further}>{@render children()}</button>

<style>
  .tool {
    min-height: 1.75rem;
    padding: 0 0.55rem;
    border-radius: 0.3rem;
    font-size: 0.8rem;
    color: var(--ink-muted);
    cursor: pointer;
  }
  .tool.on {
    color: var(--color-base-content);
    box-shadow: inset 0 -2px var(--color-primary);
  }
</style>
