<script lang="ts" module>
  /** What a typed text means: something to keep, or why it cannot be kept. */
  export type Parsed<T> = { ok: true; parsed: T } | { ok: false; message: string };
</script>

<script lang="ts" generics="T">
  interface Props {
    /** What the document holds, as text. */
    text: string;
    /** What the document holds, where the text does not say it to the last digit. */
    current?: T;
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
    current,
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
  /** What stood here before it was typed in: Escape gives it back. */
  let before: { text: string; current: T | undefined } | undefined;

  /** “16.” on the way to 16.5, “12 −” on the way to a difference: nothing to keep yet, and nothing wrong either. */
  const isUnfinished = (typing: string): boolean => numeric && /[.,+−-]\s*$/.test(typing);

  function take(typing: string) {
    const parsed = parse(typing);
    tell(parsed.ok ? commit(parsed.parsed) : parsed.message);
    textThen = text;
  }

  /** Puts a text in as if it had been typed. */
  export function put(typing: string) {
    draft = typing;
    take(typing);
    left();
  }

  function tell(next: string | undefined) {
    message = next;
    onmessage?.(next);
  }

  function typed(event: Event & { currentTarget: HTMLInputElement }) {
    before ??= { text, current };
    draft = event.currentTarget.value;
    if (isUnfinished(draft)) tell(undefined);
    else take(draft);
  }

  $effect(() => {
    // Somebody else has changed it meanwhile, or it was turned down: what stands here would be a lie.
    if (draft !== undefined && message === undefined && text !== textThen) draft = undefined;
  });

  function left() {
    if (draft !== undefined && isUnfinished(draft)) take(draft);
    before = undefined;
    // What could be kept is shown as the document writes it; what could not stays, with its reason.
    if (message === undefined) draft = undefined;
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key !== 'Escape' || draft === undefined) return;
    event.stopPropagation();
    event.preventDefault();
    const stood = before;
    before = undefined;
    draft = undefined;
    tell(undefined);
    if (!stood || stood.text === text) return;
    const parsed = parse(stood.text);
    if (parsed.ok) tell(commit(stood.current ?? parsed.parsed));
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
    onchange={left}
    {onkeydown}
  />
  {#if suffix}<span class="text-muted text-xs">{suffix}</span>{/if}
</label>
