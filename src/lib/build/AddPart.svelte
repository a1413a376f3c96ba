<script lang="ts">
  import {
    KIND_CHOICES,
    findElement,
    isElementKind,
    isSolid,
    readElement,
    skyPort,
    cameraPort,
    type ElementKind,
    type Operation,
    type Port
  } from '@lodestone/core/train';
  import { MOST_QUICK, elementOfEntry, usualName, type QuickEntry } from '@lodestone/core/drawer';
  import type { UsualThing } from '@lodestone/core/catalogue';
  import QuickLine from '$lib/parts/QuickLine.svelte';
  import { useTrain } from '$lib/train/context.ts';
  import { OPEN_PLACE, elementFrom, facesAt, neighboursAt, newId } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { fieldInError } from '$lib/ui/form.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import { untrack } from 'svelte';

  interface Props {
    open: boolean;
    onend: () => void;
    /** Insert before this element, or put something else in its place. */
    target: { before: string } | { replace: string } | undefined;
  }
  const { open, onend, target }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  let kind = $state<ElementKind>('spacer');
  let name = $state('');
  let lengthText = $state('');
  let sky = $state.raw<Port>();
  let camera = $state.raw<Port>();
  let backFocusText = $state('');
  let message = $state<string>();
  let line = $state('');

  const replaced = $derived(target && 'replace' in target ? findElement(train.document, target.replace) : undefined);
  const kinds = $derived(
    KIND_CHOICES.filter(([each]) => (replaced?.kind === 'camera' ? each === 'camera' : each !== 'camera'))
  );

  $effect(() => {
    if (!open || !target) return;
    untrack(() => start(target));
  });

  function start(place: NonNullable<Props['target']>) {
    message = undefined;
    if ('replace' in place) {
      const old = findElement(train.document, place.replace);
      if (!old) return;
      ({ kind } = old);
      name = '';
      lengthText = '';
      sky = skyPort(old);
      camera = cameraPort(old);
    } else {
      kind = 'spacer';
      name = '';
      const { report } = train.assessment;
      // What is missing is the best first guess at what comes in.
      lengthText =
        report.verdict === 'short' ? numberText(Number((-(report.residualMm ?? 0)).toFixed(2)), display.unit) : '';
      ({ sky, camera } = facesAt(train.document, place.before));
    }
    backFocusText = '';
  }

  const wantsLength = $derived(kind !== 'gap');
  const wantsBackFocus = $derived(kind === 'corrector');
  const suggestedName = (length: string): string => (kind === 'gap' ? OPEN_PLACE : usualName(kind, length, sky));

  /** Every part of a line, in its order, as one step. */
  function takeLine(entries: readonly QuickEntry[]): string | undefined {
    if (!target || !('before' in target)) return undefined;
    const { before } = target;
    const elements = entries.flatMap((entry) =>
      Array.from({ length: Math.min(entry.quantity, MOST_QUICK) }, () => elementOfEntry(entry, newId()))
    );
    if (elements.length > MOST_QUICK) return `A train may take ${MOST_QUICK} parts at once.`;
    const operations = elements.map((element): Operation => ({ op: 'insert', element, before }));
    const [first] = elements;
    const what = elements.length === 1 && first ? first.name : `${elements.length} parts`;
    const refusal = train.dispatch({ op: 'batch', operations }, `Add ${what}`);
    if (refusal === undefined && first) {
      train.select({ kind: 'element', id: first.id });
      onend();
    }
    return refusal;
  }

  function takeThing(thing: UsualThing): string | undefined {
    if (!target || !('before' in target)) return undefined;
    const element = { ...thing.element, id: newId() };
    const refusal = train.dispatch({ op: 'insert', element, before: target.before }, `Add ${thing.words}`);
    if (refusal === undefined) {
      train.select({ kind: 'element', id: element.id });
      onend();
    }
    return refusal;
  }
  const around = $derived(target && 'before' in target ? neighboursAt(train.document, target.before) : undefined);

  function submit(event: SubmitEvent & { currentTarget: HTMLFormElement }) {
    event.preventDefault();
    if (!target) return;
    message = fieldInError(event.currentTarget);
    if (message !== undefined) return;
    const length = parseNumber(lengthText, display.unit);
    if (!length.ok) return void (message = length.message);
    if (wantsLength && length.parsed === undefined) return void (message = 'Its length is needed.');
    const asks = parseNumber(backFocusText, display.unit);
    if (!asks.ok) return void (message = asks.message);
    const lengthMm = length.parsed ?? 0;
    const suggested = suggestedName(numberText(lengthMm));
    const made = elementFrom({ kind, name: name.trim() || suggested, lengthMm, sky, camera });
    const element =
      wantsBackFocus && asks.parsed !== undefined ? { ...made, corrector: { backFocusMm: asks.parsed } } : made;
    const reading = readElement(element);
    if (!reading.ok) {
      const first = reading.complaints[0];
      return void (message = first
        ? `${first.place === 'the document' ? 'It' : first.place} ${first.message}`
        : 'That is not a part.');
    }
    message =
      'replace' in target
        ? train.dispatch(
            { op: 'replace', id: target.replace, element: reading.document },
            `Replace ${replaced?.name ?? 'part'}`
          )
        : train.dispatch(
            { op: 'insert', element: reading.document, before: target.before },
            `Add ${reading.document.name}`
          );
    if (message === undefined) {
      train.select({ kind: 'element', id: reading.document.id });
      onend();
    }
  }

  const keepPort = (face: 'sky' | 'camera') => (port: Port | undefined) => {
    if (face === 'sky') sky = port;
    else camera = port;
    return undefined;
  };
</script>

<Modal title={replaced ? `Instead of ${replaced.name}` : 'Add a part here'} {open} onclose={onend}>
  {#if !replaced}
    <div class="mb-3">
      <QuickLine
        bind:line
        action={(count) => `Add ${count} ${count === 1 ? 'part' : 'parts'}`}
        onentries={takeLine}
        onthing={takeThing}
        above={around?.above}
        below={around?.below}
      />
    </div>
  {/if}
  <form class="grid gap-3" onsubmit={submit}>
    <div class="grid grid-cols-2 gap-3">
      <label class="grid gap-0.5">
        <span class="text-muted text-xs">Kind</span>
        <select
          class="select select-sm w-full"
          value={kind}
          onchange={({ currentTarget: { value } }) => {
            if (isElementKind(value)) kind = value;
          }}
        >
          {#each kinds as [each, words] (each)}<option value={each}>{words}</option>{/each}
        </select>
      </label>
      {#if wantsLength}
        <label class="grid gap-0.5">
          <span class="text-muted text-xs"
            >{kind === 'camera' ? 'Flange to sensor' : 'Length, shoulder to shoulder'}</span
          >
          <span class="input input-sm w-full">
            <!-- svelte-ignore a11y_autofocus -->
            <input bind:value={lengthText} inputmode="decimal" autocomplete="off" autofocus class="text-right" />
            <span class="text-muted text-xs">{display.unit}</span>
          </span>
        </label>
      {/if}
    </div>
    {#if wantsLength && kind !== 'camera' && kind !== 'shim'}
      <p class="text-muted -mt-1 text-xs">
        What screws into the neighbour is no part of the length: a ring 12 long overall, 3.5 of it thread, may be typed
        as “12 − 3.5”.
      </p>
    {/if}
    <label class="grid gap-0.5">
      <span class="text-muted text-xs">Name</span>
      <input class="input input-sm w-full" bind:value={name} autocomplete="off" placeholder={suggestedName('')} />
    </label>
    {#if wantsBackFocus}
      <label class="grid gap-0.5">
        <span class="text-muted text-xs">Back focus, from its shoulder</span>
        <span class="input input-sm w-full">
          <input bind:value={backFocusText} inputmode="decimal" autocomplete="off" class="text-right" />
          <span class="text-muted text-xs">{display.unit}</span>
        </span>
      </label>
    {/if}
    {#if kind !== 'gap' && kind !== 'shim'}
      <div class={['grid gap-3', kind !== 'camera' && 'sm:grid-cols-2']}>
        <PortEditor label="Sky face" port={sky} commit={keepPort('sky')} />
        {#if kind !== 'camera'}<PortEditor label="Camera face" port={camera} commit={keepPort('camera')} />{/if}
      </div>
      {#if !replaced}<p class="text-muted text-xs">
          The faces are assumed from this place. Correct them, or confirm them.
        </p>{/if}
    {/if}
    {#if message}<p class="text-error" role="alert">{message}</p>{/if}
    <div class="flex justify-end gap-2">
      <button type="button" class="btn btn-ghost btn-sm" onclick={onend}>Leave it</button>
      <button class="btn btn-primary btn-sm">{replaced ? 'Replace' : 'Add'}</button>
    </div>
    {#if replaced && isSolid(replaced)}<p class="text-muted text-xs">
        One step: undo brings {replaced.name} back.
      </p>{/if}
  </form>
</Modal>
