<script lang="ts" module>
  export type FieldKind = 'text' | 'length' | 'number' | 'whole';
</script>

<script lang="ts">
  import { useEditing } from './editing.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import DraftInput, { type Parsed } from '$lib/ui/DraftInput.svelte';
  import { numberText, parseFactor, parseNumber } from '$lib/ui/parse.ts';
  import Term from '$lib/ui/Term.svelte';
  import { exampleOf } from './examples.ts';

  interface Props {
    label: string;
    kind: FieldKind;
    /** Element id, `host` or `train`. */
    at: string;
    path: [string, ...string[]];
    current: string | number | undefined;
    unit?: string;
    required?: boolean;
    hint?: string | undefined;
    /** Puts the value elsewhere than at `path`. */
    commit?: (to: string | number | undefined) => string | undefined;
  }
  const { label, kind, at, path, current, unit, required = false, hint, commit }: Props = $props();
  const editing = useEditing();
  const display = useDisplay();
  const uid = $props.id();

  let message = $state<string>();
  let term: Term;
  const isLength = $derived(kind === 'length');
  const text = $derived(
    typeof current === 'number' ? numberText(current, isLength ? display.unit : undefined) : (current ?? '')
  );
  const suffix = $derived(isLength ? display.unit : unit);

  const example = $derived.by(() => {
    const found = exampleOf(path.at(-1)!);
    if (found === undefined) return required ? '' : 'not stated';
    return `e.g. ${isLength ? numberText(Number(found), display.unit) : found}`;
  });

  function parse(typed: string): Parsed<string | number | undefined> {
    if (kind === 'text') {
      const trimmed = typed.trim();
      return trimmed === '' && required
        ? { ok: false, message: `${label} is needed.` }
        : { ok: true, parsed: trimmed === '' ? undefined : trimmed };
    }
    const parsed = unit === '×' ? parseFactor(typed) : parseNumber(typed, isLength ? display.unit : undefined);
    if (!parsed.ok) return parsed;
    if (parsed.parsed === undefined && required) return { ok: false, message: `${label} is needed.` };
    if (kind === 'whole' && parsed.parsed !== undefined && !Number.isInteger(parsed.parsed)) {
      return { ok: false, message: 'A whole number is needed.' };
    }
    return parsed;
  }

  function keep(to: string | number | undefined): string | undefined {
    if (commit) return commit(to);
    if (to === current) return undefined;
    return editing.dispatch({ op: 'set', at, path, to }, `Change ${label.toLowerCase()}`, `${uid}`);
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="field"
  data-field={path.join('.')}
  onkeydown={(event) => {
    if (event.key !== 'F1') return;
    event.preventDefault();
    term.toggle();
  }}
>
  <Term bind:this={term} {label} word={path.at(-1)!} />
  <DraftInput
    {text}
    {current}
    {label}
    {parse}
    commit={keep}
    {suffix}
    numeric={kind !== 'text'}
    placeholder={kind === 'text' ? '' : example}
    describedBy={message || hint ? `${uid}-hint` : undefined}
    onmessage={(next) => (message = next)}
  />
  {#if message || hint}
    <span
      id="{uid}-hint"
      class={['text-xs', message ? 'text-error' : 'text-muted']}
      role={message ? 'alert' : undefined}
    >
      {message ?? hint}
    </span>
  {/if}
</div>

<style>
  .field {
    display: grid;
    gap: 2px;
    align-content: start;
    min-width: 0;
  }
</style>
