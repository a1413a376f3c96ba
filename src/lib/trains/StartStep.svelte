<script lang="ts" generics="T">
  import PickInput, { type Choice } from '$lib/ui/PickInput.svelte';

  interface Props {
    title: string;
    placeholder: string;
    text: string;
    choices: readonly Choice<T>[];
    onpick: (choice: Choice<T>) => void;
    /** What was understood of it; undefined: nothing yet. */
    said: string | undefined;
    isSaid: boolean;
    wrong: string | undefined;
    /** What there is to type. */
    hint: string;
    onleave: () => void;
    /** Another thing it may mean. */
    otherwise?: { words: string; onchoose: () => void } | undefined;
  }
  let {
    title,
    placeholder,
    text = $bindable(),
    choices,
    onpick,
    said,
    isSaid,
    wrong,
    hint,
    onleave,
    otherwise
  }: Props = $props();
  const uid = $props.id();
  let field: PickInput<T>;

  export const focus = () => field.focus();
</script>

<li class="step">
  <h2 class="font-semibold">{title}</h2>
  <div class="mt-1.5" onfocusout={onleave}>
    <PickInput
      bind:this={field}
      bind:text
      label={title}
      {placeholder}
      {choices}
      {onpick}
      settled={isSaid}
      message={wrong}
      describedBy="{uid}-said"
    />
  </div>
  <p id="{uid}-said" class="mt-1 text-xs" aria-live="polite">
    {#if wrong}<span class="text-error">{wrong}</span>
    {:else if said}<span class="text-success">{said}</span>
    {:else}<span class="text-muted">{hint}</span>{/if}
    {#if otherwise}
      <button type="button" class="link ml-2" onclick={otherwise.onchoose}>{otherwise.words}</button>
    {/if}
  </p>
</li>

<style>
  .step {
    counter-increment: step;
    position: relative;
    padding-left: 2.5rem;
  }
  .step::before {
    content: counter(step);
    position: absolute;
    left: 0;
    top: -0.15rem;
    width: 1.6rem;
    height: 1.6rem;
    display: grid;
    place-items: center;
    border: 1px solid var(--color-primary);
    color: var(--color-primary);
    border-radius: 0.3rem;
    font-weight: 600;
  }
</style>
