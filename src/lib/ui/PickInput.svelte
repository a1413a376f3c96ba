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
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import Check from '@lucide/svelte/icons/check';
  import { anchored } from './anchored.ts';
  import { Combobox } from './combobox.svelte.ts';

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

  /** Typing offers the list as long as what was typed is not understood; a key or the arrow asks for it. */
  let wanted = $state<'shut' | 'offered' | 'asked'>('shut');
  const open = $derived(choices.length > 0 && (wanted === 'asked' || (wanted === 'offered' && !settled)));
  let input: HTMLInputElement;
  let field = $state<HTMLElement>();
  const combo = new Combobox<Choice<T>>({
    id: uid,
    items: () => choices,
    pick,
    // Nothing walked to: Enter takes what was typed, where that is understood.
    takesFirst: () => !settled && text.trim() !== '',
    goesRound: true,
    onopen: (now) => (wanted = now ? 'asked' : 'shut')
  });
  const walkedTo = $derived(open && combo.at >= 0 ? combo.active : undefined);

  export const focus = () => input.focus();

  function pick(choice: Choice<T>) {
    wanted = 'shut';
    combo.reset();
    onpick(choice);
    input.focus();
  }

  function onkeydown(event: KeyboardEvent) {
    // Put away, the list has no say: what was walked to in it is forgotten.
    if (!open && event.key === 'Enter') combo.reset();
    if (!combo.onkeydown(event) && event.key === 'Escape' && open) {
      event.preventDefault();
      event.stopPropagation();
      wanted = 'shut';
    }
  }
</script>

<div
  class="relative"
  onfocusout={({ relatedTarget, currentTarget }) => {
    if (!(relatedTarget instanceof Node) || !currentTarget.contains(relatedTarget)) wanted = 'shut';
  }}
>
  <span bind:this={field} class={['input w-full', message && 'input-error']}>
    <input
      bind:this={input}
      bind:value={text}
      role="combobox"
      aria-label={label}
      aria-expanded={open}
      aria-controls={combo.listId}
      aria-autocomplete="list"
      aria-activedescendant={walkedTo === undefined ? undefined : combo.activeId}
      aria-invalid={message !== undefined}
      aria-describedby={describedBy}
      {placeholder}
      autocomplete="off"
      spellcheck="false"
      maxlength="200"
      oninput={() => {
        wanted = 'offered';
        combo.reset();
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
        wanted = open ? 'shut' : 'asked';
        input.focus();
      }}><ChevronDown size={16} /></button
    >
  </span>
  {#if open && field}
    {@const place = anchored(field, { sameWidth: true, apartPx: 4 })}
    <ul
      {@attach place}
      popover="manual"
      id={combo.listId}
      role="listbox"
      aria-label="{label}: what can be picked"
      class="panel popup overflow-y-auto p-1 shadow-lg"
    >
      {#each choices as choice, index (choice.id)}
        {#if choice.group !== choices[index - 1]?.group}
          <li role="presentation" class="text-muted px-2 pt-1.5 pb-0.5 text-xs font-semibold">{choice.group}</li>
        {/if}
        <!-- The field has the keys; the list is for the pointer. -->
        <!-- svelte-ignore a11y_click_events_have_key_events -->
        <li
          id={combo.optionId(index)}
          role="option"
          aria-selected={index === walkedTo}
          class={[
            'flex cursor-pointer flex-wrap items-baseline justify-between gap-x-3 rounded px-2 py-1.5',
            index === walkedTo && 'bg-base-300'
          ]}
          onpointerdown={(event) => event.preventDefault()}
          onpointermove={() => (combo.at = index)}
          onclick={() => pick(choice)}
        >
          <span>{choice.label}</span>
          {#if choice.hint}<span class="text-muted text-xs">{choice.hint}</span>{/if}
        </li>
      {/each}
    </ul>
  {/if}
</div>
