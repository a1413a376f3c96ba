<script lang="ts" module>
  export type FieldKind = 'text' | 'length' | 'number' | 'whole';
</script>

<script lang="ts">
  import { fieldOf } from '@lodestone/core';
  import { useEditing } from './editing.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import DraftInput, { type Parsed } from '$lib/ui/DraftInput.svelte';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';

  interface Props {
    label: string;
    kind: FieldKind;
    /** Element id, `host` or `train`. */
    at: string;
    path: [string, ...string[]];
    current: string | number | undefined;
    /** Definition of the schema that holds this key, for its limits. */
    within?: string;
    unit?: string;
    required?: boolean;
    hint?: string | undefined;
    /** Puts the value elsewhere than at `path`. */
    commit?: (to: string | number | undefined) => string | undefined;
  }
  const { label, kind, at, path, current, within, unit, required = false, hint, commit }: Props = $props();
  const editing = useEditing();
  const display = useDisplay();
  const uid = $props.id();

  let message = $state<string>();
  const isLength = $derived(kind === 'length');
  const text = $derived(
    typeof current === 'number' ? numberText(current, isLength ? display.unit : undefined) : (current ?? '')
  );
  const suffix = $derived(isLength ? display.unit : unit);

  const limits = $derived(within ? fieldOf(within, path.at(-1)!).limits : undefined);
  /** The limits in words, as an empty field shows them. */
  const range = $derived.by(() => {
    if (!limits || limits.least === undefined || limits.most === undefined) return required ? '' : 'not stated';
    const [least, most] = [limits.least, limits.most].map((end) =>
      numberText(end, isLength ? display.unit : undefined)
    );
    if (limits.least === -limits.most) return `±${most}`;
    return limits.above && limits.least === 0 ? `up to ${most}` : `${least} – ${most}`;
  });

  function parse(typed: string): Parsed<string | number | undefined> {
    if (kind === 'text') {
      const trimmed = typed.trim();
      return trimmed === '' && required
        ? { ok: false, message: `${label} is needed.` }
        : { ok: true, parsed: trimmed === '' ? undefined : trimmed };
    }
    const parsed = parseNumber(typed, isLength ? display.unit : undefined);
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

<div class="field" data-field={path.join('.')}>
  <span class="text-muted text-xs" id="{uid}-label">{label}</span>
  <DraftInput
    {text}
    {current}
    {label}
    {parse}
    commit={keep}
    {suffix}
    numeric={kind !== 'text'}
    placeholder={kind === 'text' ? '' : range}
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
