<script lang="ts" module>
  /** What a typed text means: something to keep, or why it cannot be kept. */
  export type Parsed<T> = { ok: true; parsed: T } | { ok: false; message: string };
</script>

<script lang="ts" generics="T">
  interface Props {
    /** What the document holds, as text. */
    text: string;
    label: string;
    parse: (text: string) => Parsed<T>;
    /** Puts it into the document; says why not when it is refused there. */
    commit: (parsed: T) => string | undefined;
    suffix?: string | undefined;
    placeholder?: string | undefined;
    list?: string;
    numeric?: boolean;
    describedBy?: string | undefined;
    compact?: boolean;
    onmessage?: (message: string | undefined) => void;
  }
  const {
    text,
    label,
    parse,
    commit,
    suffix,
    placeholder,
    list,
    numeric = false,
    describedBy,
    compact = false,
    onmessage
  }: Props = $props();

  // Unfinished input lives here and never enters the document.
  let draft = $state<string>();
  let message = $state<string>();
  /** What the document held after the last letter was taken over. */
  let textThen: string | undefined;

  function tell(next: string | undefined) {
    message = next;
    onmessage?.(next);
  }

  function typed(event: Event & { currentTarget: HTMLInputElement }) {
    draft = event.currentTarget.value;
    const parsed = parse(draft);
    tell(parsed.ok ? commit(parsed.parsed) : parsed.message);
    textThen = text;
  }

  $effect(() => {
    // Somebody else has changed it meanwhile, or it was turned down: what stands here would be a lie.
    if (draft !== undefined && message === undefined && text !== textThen) draft = undefined;
  });

  function left() {
    // What could be kept is shown as the document writes it; what could not stays, with its reason.
    if (message === undefined) draft = undefined;
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key !== 'Escape' || draft === undefined) return;
    event.stopPropagation();
    event.preventDefault();
    draft = undefined;
    tell(undefined);
  }
</script>

<label class={['input w-full', compact ? 'input-xs px-1.5' : 'input-sm', message && 'input-error']}>
  <input
    value={draft ?? text}
    aria-label={label}
    aria-invalid={message !== undefined}
    aria-describedby={describedBy}
    {placeholder}
    {list}
    inputmode={numeric ? 'decimal' : undefined}
    class={['min-w-0', numeric && 'text-right']}
    autocomplete="off"
    spellcheck="false"
    oninput={typed}
    onblur={left}
    {onkeydown}
  />
  {#if suffix}<span class="text-muted text-xs">{suffix}</span>{/if}
</label>
