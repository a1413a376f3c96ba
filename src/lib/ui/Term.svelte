<script lang="ts">
  import { anchored } from './anchored.ts';
  import { GLOSSARY } from './glossary.ts';

  interface Props {
    label: string;
    /** Key the answer is kept under. */
    word: string;
    id?: string;
  }
  const { label, word, id }: Props = $props();
  const meant = $derived(GLOSSARY[word]);

  let open = $state(false);
  let button = $state<HTMLElement>();

  /** Opens or closes what the word means. */
  export function toggle() {
    if (meant) open = !open;
  }
</script>

{#if meant}
  <!-- Tab goes from field to field: there F1 asks, and here the pointer. -->
  <button
    bind:this={button}
    {id}
    type="button"
    tabindex="-1"
    class="term text-muted text-xs"
    aria-expanded={open}
    aria-label="{label}: what is that?"
    onclick={toggle}>{label}</button
  >
  {#if open && button}
    {@const place = anchored(button, { apartPx: 4 })}
    <div
      {@attach place}
      popover="auto"
      role="note"
      class="panel popup w-72 overflow-y-auto p-3 text-xs shadow-xl"
      ontoggle={({ newState }) => newState === 'closed' && (open = false)}
    >
      <p class="font-semibold">{meant.term}</p>
      <p class="mt-1">{meant.says}</p>
      <p class="mt-2">
        <a class="link-quiet inline-flex min-h-6 items-center" href="/guide#{word}">More in the guide</a>
      </p>
    </div>
  {/if}
{:else}
  <span {id} class="text-muted text-xs">{label}</span>
{/if}

<style>
  .term {
    justify-self: start;
    /* Pressed more easily than it is large, without moving its neighbours. */
    min-height: 1.5rem;
    margin-block: -0.25rem;
    text-align: left;
    cursor: help;
    text-decoration: underline dotted;
    text-decoration-color: color-mix(in srgb, currentColor 40%, transparent);
    text-underline-offset: 0.2em;
  }
</style>
