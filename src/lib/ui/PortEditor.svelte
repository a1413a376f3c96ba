<script lang="ts">
  import { USUAL_THREADS, parseThread, pitchChoices, threadQuestion } from '@lodestone/core/joint';
  import type { Gender, Port, ThreadPort } from '@lodestone/core/train';
  import { USUAL_BAYONETS } from '@lodestone/core/catalogue';
  import { useDisplay } from './display.svelte.ts';
  import DraftInput, { type Parsed } from './DraftInput.svelte';
  import { numberText, parseNumber } from './parse.ts';

  interface Props {
    label: string;
    port: Port | undefined;
    /** Called with every finished port; says why not when it is refused. */
    commit: (port: Port | undefined) => string | undefined;
    /** Whether "not known" may be chosen. */
    optional?: boolean;
  }
  const { label, port, commit, optional = true }: Props = $props();
  const display = useDisplay();
  const uid = $props.id();

  const KINDS = [
    ['none', 'not known'],
    ['thread', 'thread'],
    ['bayonet', 'bayonet'],
    ['bolts', 'bolt circle'],
    ['slip', 'slip fit'],
    ['clamp', 'clamp or dovetail']
  ] as const;
  type Kind = (typeof KINDS)[number][0];

  const kindOf = (of: Port | undefined): Kind => KINDS.find(([each]) => of !== undefined && each in of)?.[0] ?? 'none';

  /** Kind chosen but not yet filled in: it is not in the document. */
  let chosen = $state<Kind>();
  const kind = $derived(chosen ?? kindOf(port));
  let message = $state<string>();

  /** Said before its name is: kept until there is a face to have it. */
  let genderSaid = $state<Gender>();
  const gender = $derived(port && 'gender' in port ? port.gender : (genderSaid ?? 'female'));
  let nameInput = $state<DraftInput<string>>();
  /** Threads that a name without its pitch may mean. */
  let choices = $state.raw<readonly string[]>([]);
  const threadLength = $derived(port && 'thread' in port ? port.lengthMm : undefined);

  /** Whoever says something of a face has looked at it: it is assumed no more. */
  function keep(next: Port | undefined): string | undefined {
    const confirmed = next && { ...next };
    delete confirmed?.assumed;
    const refusal = commit(confirmed);
    if (refusal === undefined) chosen = undefined;
    return refusal;
  }

  function choose(next: string) {
    message = undefined;
    choices = [];
    chosen = KINDS.find(([each]) => each === next)?.[0];
    if (chosen === 'none') message = keep(undefined);
    if (chosen === kindOf(port)) chosen = undefined;
  }

  /** What a thread keeps when its gender changes: a plain mouth is the female's, a lock ring the male's. */
  const threadNamed = (thread: string, as: Gender): Port => {
    const startDeg = port && 'thread' in port ? port.startDeg : undefined;
    const before = port && 'thread' in port && port.gender === as ? port : {};
    return {
      ...before,
      thread,
      gender: as,
      ...(threadLength === undefined ? {} : { lengthMm: threadLength }),
      ...(startDeg === undefined ? {} : { startDeg })
    };
  };

  /** Of all ticks the only one whose set state is a `false` in the document. */
  const NO_SHOULDER = 'no-shoulder';

  /** Sets or clears one of a thread's rarer keys. */
  function keepKey(key: keyof ThreadPort, to: number | boolean | typeof NO_SHOULDER | undefined): string | undefined {
    if (!port || !('thread' in port)) return undefined;
    const { [key]: _old, ...rest } = port;
    const set = to === undefined || to === false ? rest : { ...rest, [key]: to === NO_SHOULDER ? false : to };
    return keep(set as ThreadPort);
  }

  const named = (name: string, as: Gender): Port =>
    kind === 'thread'
      ? threadNamed(name, as)
      : kind === 'bayonet'
        ? { bayonet: name, gender: as }
        : kind === 'clamp'
          ? { clamp: name, gender: as }
          : { slip: name, gender: as };

  const currentName = $derived(
    !port || chosen
      ? ''
      : 'thread' in port
        ? (parseThread(port.thread)?.designation ?? port.thread)
        : 'bayonet' in port
          ? port.bayonet
          : 'slip' in port
            ? port.slip
            : 'clamp' in port
              ? port.clamp
              : ''
  );

  function parseName(text: string): Parsed<string> {
    const trimmed = text.trim();
    if (trimmed === '') return { ok: false, message: 'Its name is needed.' };
    if (kind !== 'thread') return { ok: true, parsed: trimmed };
    const thread = parseThread(trimmed);
    choices = pitchChoices(trimmed);
    if (thread) return { ok: true, parsed: thread.designation };
    return { ok: false, message: `${threadQuestion(trimmed) ?? 'Which thread is it'}.` };
  }

  function parseInner(text: string): Parsed<string | undefined> {
    if (text.trim() === '') return { ok: true, parsed: undefined };
    const thread = parseThread(text.trim());
    return thread
      ? { ok: true, parsed: thread.designation }
      : { ok: false, message: `${threadQuestion(text.trim()) ?? 'Which thread is it'}.` };
  }

  /** A thread inside the face takes what a filter has: hers where the filter has a male. */
  function keepInner(thread: string | undefined): string | undefined {
    if (!port || !('thread' in port)) return undefined;
    const { second: _old, ...rest } = port;
    return keep(thread === undefined ? rest : { ...rest, second: { thread, gender: 'female' } });
  }

  const bolts = $derived(port && 'bolts' in port ? port.bolts : undefined);
  let boltDraft = $state<{ count?: number | undefined; circleMm?: number | undefined }>({});
  function keepBolts(change: typeof boltDraft): string | undefined {
    boltDraft = { ...boltDraft, ...change };
    const { count = bolts?.count, circleMm = bolts?.circleMm } = boltDraft;
    return count === undefined || circleMm === undefined ? undefined : keep({ bolts: { count, circleMm } });
  }

  const wantNumber =
    (unit: 'mm' | 'in' | undefined, needed: boolean) =>
    (text: string): Parsed<number | undefined> => {
      const parsed = parseNumber(text, unit);
      return parsed.ok && parsed.parsed === undefined && needed
        ? { ok: false, message: 'A number is needed.' }
        : parsed;
    };
</script>

<fieldset class="grid gap-1" data-port={label}>
  <legend class="text-muted mb-0.5 text-xs">{label}</legend>
  <div class="grid grid-cols-[minmax(0,5fr)_minmax(0,7fr)] gap-1">
    <select
      class={['select select-sm w-full', kind === 'none' && 'col-span-2']}
      aria-label="{label}: kind"
      value={kind}
      onchange={({ currentTarget }) => choose(currentTarget.value)}
    >
      {#each KINDS as [each, words] (each)}
        {#if each !== 'none' || optional}<option value={each}>{words}</option>{/if}
      {/each}
    </select>
    {#if kind !== 'none' && kind !== 'bolts'}
      <DraftInput
        bind:this={nameInput}
        text={currentName}
        label="{label}: {kind === 'thread' ? 'diameter and pitch' : 'name'}"
        placeholder={{ thread: 'M48×0.75', bayonet: 'dslr-44.0', slip: '2in', clamp: 'dovetail 70' }[kind]}
        list={kind === 'thread' || kind === 'bayonet' ? `${uid}-names` : ''}
        parse={parseName}
        commit={(name) => keep(named(name, gender))}
        onmessage={(next) => (message = next)}
      />
    {:else if kind === 'bolts'}
      <DraftInput
        text={bolts ? String(bolts.count) : ''}
        label="{label}: number of bolts"
        numeric
        suffix="bolts"
        parse={wantNumber(undefined, true)}
        commit={(count) => keepBolts({ count })}
        onmessage={(next) => (message = next)}
      />
    {/if}
  </div>
  {#if kind !== 'none' && kind !== 'bolts'}
    <div class="grid grid-cols-[minmax(0,5fr)_minmax(0,7fr)] gap-1">
      <select
        class="select select-sm w-full"
        aria-label="{label}: gender"
        value={gender}
        onchange={({ currentTarget }) => {
          genderSaid = currentTarget.value === 'male' ? 'male' : 'female';
          if (currentName !== '') message = keep(named(currentName, genderSaid));
        }}
      >
        <option value="female">female</option>
        <option value="male">male</option>
      </select>
      {#if port && 'thread' in port && kind === 'thread'}
        <DraftInput
          text={numberText(port.lengthMm, display.unit)}
          label="{label}: {gender === 'male' ? 'thread length' : 'thread depth'}"
          numeric
          suffix={`${display.unit} ${gender === 'male' ? 'long' : 'deep'}`}
          placeholder="?"
          parse={wantNumber(display.unit, false)}
          commit={(lengthMm) => keepKey('lengthMm', lengthMm)}
          onmessage={(next) => (message = next)}
        />
      {/if}
    </div>
  {:else if kind === 'bolts'}
    <DraftInput
      text={numberText(bolts?.circleMm, display.unit)}
      label="{label}: bolt circle diameter"
      numeric
      suffix={`${display.unit} circle`}
      parse={wantNumber(display.unit, true)}
      commit={(circleMm) => keepBolts({ circleMm })}
      onmessage={(next) => (message = next)}
    />
  {/if}
  {#if port && 'thread' in port && kind === 'thread'}
    <details class="text-xs">
      <summary class="text-muted cursor-pointer">More about this thread</summary>
      <div class="mt-1 grid gap-1">
        <DraftInput
          compact
          text={numberText(port.startDeg)}
          label="{label}: start of the thread"
          numeric
          suffix="° start, from its mark"
          placeholder="not tried yet"
          parse={wantNumber(undefined, false)}
          commit={(startDeg) => keepKey('startDeg', startDeg)}
          onmessage={(next) => (message = next)}
        />
        {#if gender === 'female'}
          <DraftInput
            compact
            text={numberText(port.reliefMm, display.unit)}
            label="{label}: plain mouth"
            numeric
            suffix="{display.unit} plain mouth"
            placeholder="none"
            parse={wantNumber(display.unit, false)}
            commit={(reliefMm) => keepKey('reliefMm', reliefMm)}
            onmessage={(next) => (message = next)}
          />
          {@render tick('Bored right through', 'through', port.through)}
          {@render tick('Ends on glass', 'endsOnGlass', port.endsOnGlass)}
        {:else}
          <DraftInput
            compact
            text={numberText(port.reliefMm, display.unit)}
            label="{label}: plain lead"
            numeric
            suffix="{display.unit} plain lead at the tip"
            placeholder="none"
            parse={wantNumber(display.unit, false)}
            commit={(reliefMm) => keepKey('reliefMm', reliefMm)}
            onmessage={(next) => (message = next)}
          />
          {@render tick('Long thread with a lock ring', 'lockRing', port.lockRing)}
          <label class="flex items-center gap-1.5">
            <input
              type="checkbox"
              class="checkbox checkbox-xs"
              aria-label="{label}: no shoulder"
              checked={port.shoulder === false}
              onchange={({ currentTarget }) =>
                (message = keepKey('shoulder', currentTarget.checked ? NO_SHOULDER : undefined))}
            />
            No shoulder: sinks into the bore
          </label>
        {/if}
        {@render tick('Union nut: closes at any angle', 'union', port.union)}
        <DraftInput
          compact
          text={port.second ? (parseThread(port.second.thread)?.designation ?? port.second.thread) : ''}
          label="{label}: inner thread"
          suffix="inner thread, for a filter"
          placeholder="none"
          parse={parseInner}
          commit={(thread) => keepInner(thread)}
          onmessage={(next) => (message = next)}
        />
      </div>
    </details>
  {/if}
  {#if message}<span class="text-error text-xs" role="alert">{message}</span>{/if}
  {#if message && choices.length > 0 && kind === 'thread'}
    <div class="flex flex-wrap gap-1.5" role="group" aria-label="{label}: which thread is meant">
      {#each choices as choice (choice)}
        <button type="button" class="btn btn-outline btn-sm font-normal" onclick={() => nameInput?.put(choice)}
          >{choice}</button
        >
      {/each}
    </div>
  {/if}
  {#if port?.assumed}
    <p class="text-warning flex flex-wrap items-center gap-1.5 text-xs" data-assumed>
      Assumed, until somebody looks.
      <button type="button" class="btn btn-ghost btn-xs" onclick={() => (message = keep(port))}>It is so</button>
    </p>
  {/if}
  {#if kind === 'thread' || kind === 'bayonet'}
    <datalist id="{uid}-names">
      {#if kind === 'thread'}
        {#each USUAL_THREADS as { designation, use } (designation)}<option value={designation}>{use}</option>{/each}
      {:else}
        {#each USUAL_BAYONETS as name (name)}<option value={name}></option>{/each}
      {/if}
    </datalist>
  {/if}
</fieldset>

{#snippet tick(words: string, key: 'through' | 'endsOnGlass' | 'lockRing' | 'union', current: boolean | undefined)}
  <label class="flex items-center gap-1.5">
    <input
      type="checkbox"
      class="checkbox checkbox-xs"
      aria-label="{label}: {words.toLowerCase()}"
      checked={current ?? false}
      onchange={({ currentTarget }) => (message = keepKey(key, currentTarget.checked))}
    />
    {words}
  </label>
{/snippet}
