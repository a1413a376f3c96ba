<script lang="ts" module>
  /** Something that can be picked. */
  export interface Choice<T> {
    id: string;
    label: string;
    /** What tells it from others. */
    hint?: string;
    /** Heading it stands under. */
    group: string;
    of: T;
  }
</script>

<script lang="ts" generics="T">
  import { ChevronDown, Check } from '@lucide/svelte';

  interface Props {
    label: string;
    placeholder: string;
    text: string;
    /** Those that go with what is typed, best first. */
    choices: readonly Choice<T>[];
    onpick: (choice: Choice<T>) => void;
    /** What was typed or picked is understood. */
    settled: boolean;
    message?: string | undefined;
    describedBy?: string;
  }
  let { label, placeholder, text = $bindable(), choices, onpick, settled, message, describedBy }: Props = $props();
  const uid = $props.id();

  let open = $state(false);
  /** Where the arrow keys stand; −1: nowhere yet, and Enter takes what was typed. */
  let at = $state(-1);
  let input: HTMLInputElement;
  const active = $derived(open && at >= 0 ? choices[Math.min(at, choices.length - 1)] : undefined);

  export const focus = () => input.focus();

  function pick(choice: Choice<T>) {
    open = false;
    at = -1;
    onpick(choice);
    input.focus();
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      open = true;
      const by = event.key === 'ArrowDown' ? 1 : -1;
      at = at < 0 ? (by > 0 ? 0 : choices.length - 1) : (at + by + choices.length) % Math.max(1, choices.length);
    } else if (event.key === 'Enter' && (active || (!settled && text.trim() !== '' && choices[0]))) {
      event.preventDefault();
      pick(active ?? choices[0]!);
    } else if (event.key === 'Escape' && open) {
      event.preventDefault();
      event.stopPropagation();
      open = false;
    }
  }

  /** The list must not hide what the arrow keys stand on. */
  $effect(() => {
    if (active) document.getElementById(`${uid}-${active.id}`)?.scrollIntoView({ block: 'nearest' });
  });
</script>

<div
  class="relative"
  onfocusout={({ relatedTarget, currentTarget }) => {
    if (!(relatedTarget instanceof Node) || !currentTarget.contains(relatedTarget)) open = false;
  }}
>
  <span class={['input w-full', message && 'input-error']}>
    <input
      bind:this={input}
      bind:value={text}
      role="combobox"
      aria-label={label}
      aria-expanded={open && choices.length > 0}
      aria-controls="{uid}-list"
      aria-autocomplete="list"
      aria-activedescendant={active ? `${uid}-${active.id}` : undefined}
      aria-invalid={message !== undefined}
      aria-describedby={describedBy}
      {placeholder}
      autocomplete="off"
      spellcheck="false"
      maxlength="200"
      oninput={() => {
        open = true;
        at = -1;
      }}
      {onkeydown}
    />
    {#if settled}<Check size={16} class="text-success shrink-0" aria-hidden="true" />{/if}
    <button
      type="button"
      tabindex="-1"
      class="btn btn-ghost btn-xs btn-square shrink-0"
      aria-label="Show what can be picked for {label}"
      onclick={() => {
        open = !open;
        input.focus();
      }}><ChevronDown size={16} /></button
    >
  </span>
  {#if open && choices.length > 0}
    <ul
      id="{uid}-list"
      role="listbox"
      aria-label="{label}: what can be picked"
      class="panel absolute inset-x-0 top-full z-30 mt-1 max-h-72 overflow-y-auto p-1 shadow-lg"
    >
      {#each choices as choice, index (choice.id)}
        {#if choice.group !== choices[index - 1]?.group}
          <li role="presentation" class="text-muted px-2 pt-1.5 pb-0.5 text-xs font-semibold">{choice.group}</li>
        {/if}
        <!-- The field has the keys; the list is for the pointer. -->
        <!-- svelte-ignore a11y_click_events_have_key_events -->
        <li
          id="{uid}-{choice.id}"
          role="option"
          aria-selected={choice === active}
          class={[
            'flex cursor-pointer flex-wrap items-baseline justify-between gap-x-3 rounded px-2 py-1.5',
            choice === active && 'bg-base-300'
          ]}
          onpointerdown={(event) => event.preventDefault()}
          onpointermove={() => (at = index)}
          onclick={() => pick(choice)}
        >
          <span>{choice.label}</span>
          {#if choice.hint}<span class="text-muted text-xs">{choice.hint}</span>{/if}
        </li>
      {/each}
    </ul>
  {/if}
</div>
