<script lang="ts" module>
  import type { ElementKind, Port } from '@lodestone/core/train';

  type PartKind = Exclude<ElementKind, 'gap'>;

  interface Draft {
    line: string;
    /** What a usual part is searched by. */
    usual: string;
    kind: PartKind;
    partId: string;
    name: string;
    lengthText: string;
    location: string;
    sky: Port | undefined;
    camera: Port | undefined;
  }
  const EMPTY: Draft = {
    line: '',
    usual: '',
    kind: 'spacer',
    partId: '',
    name: '',
    lengthText: '',
    location: '',
    sky: undefined,
    camera: undefined
  };

  /** What was typed is there again when the form is, whoever left it and wherever they went. */
  let draft = $state<Draft>({ ...EMPTY });
  let draftOf: string | undefined;
</script>

<script lang="ts">
  import { usualParts, type UsualThing } from '@lodestone/core/catalogue';
  import { KIND_CHOICES, isElementKind, type SolidElement } from '@lodestone/core/train';
  import { elementOfEntry, freePartId, usualName, type Part, type QuickEntry } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import QuickLine from '$lib/parts/QuickLine.svelte';
  import { elementFrom } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { fieldInError } from '$lib/ui/form.ts';
  import Modal from '$lib/ui/Modal.svelte';
  import PickInput, { type Choice } from '$lib/ui/PickInput.svelte';
  import { numberText, parseNumber } from '$lib/ui/parse.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import { tick, untrack } from 'svelte';

  interface Props {
    open: boolean;
    /** A part to begin from: another like it. */
    like: Part | undefined;
    onmade: (partIds: readonly string[]) => void;
  }
  let { open = $bindable(), like, onmade }: Props = $props();
  const drawer = useDrawer();
  const display = useDisplay();

  let message = $state<string>();
  let made = $state.raw<readonly string[]>([]);
  let byFields = $state(false);
  let lengthInput = $state<HTMLInputElement>();

  const freeId = $derived(freePartId(drawer.takenIds, draft.kind));
  const kinds = KIND_CHOICES.filter(([each]) => each !== 'gap');

  $effect(() => {
    if (open) untrack(start);
  });

  function start() {
    message = undefined;
    made = [];
    byFields = like !== undefined || draft.lengthText !== '' || draft.name !== '';
    if (draftOf === like?.partId) return;
    draftOf = like?.partId;
    draft = like ? draftLike(like) : { ...EMPTY };
  }

  const draftLike = ({ element, location }: Part): Draft => ({
    ...EMPTY,
    kind: element.kind,
    lengthText: numberText(element.lengthMm, display.unit),
    location,
    sky: 'sky' in element ? element.sky : undefined,
    camera: 'camera' in element ? element.camera : undefined
  });

  const usualChoices = $derived(
    usualParts(draft.usual.trim() || 'ring').map(({ thing }): Choice<UsualThing> => ({
      id: thing.id,
      label: thing.words,
      hint: display.length(thing.element.lengthMm),
      group: 'Usual ones, to be checked',
      of: thing
    }))
  );

  /** Fills the fields; its faces stay assumed until somebody looks at the part. */
  function beginWith({ of: { words, element } }: Choice<UsualThing>) {
    draft.usual = words;
    draft.kind = element.kind;
    draft.name = words;
    draft.lengthText = numberText(element.lengthMm, display.unit);
    draft.sky = 'sky' in element ? element.sky : undefined;
    draft.camera = 'camera' in element ? element.camera : undefined;
    lengthInput?.focus();
  }

  const suggestedName = $derived(usualName(draft.kind, draft.lengthText.trim(), draft.sky));

  function elementOf(lengthMm: number, id: string): SolidElement {
    const { kind, name, sky, camera } = draft;
    const base = { id, name: name.trim() || suggestedName, lengthMm };
    const faces = { ...(sky ? { sky } : {}), ...(camera ? { camera } : {}) };
    const own = like && like.element.kind === kind ? like.element : undefined;
    if (own) return { ...own, ...base, ...(kind === 'shim' ? {} : faces) } as SolidElement;
    return elementFrom({ ...base, kind, sky, camera }, id) as SolidElement;
  }

  const partOf = (element: SolidElement, quantity: number, location: string): Part => ({
    partId: element.id,
    element,
    quantity,
    owned: like?.owned ?? true,
    location,
    state: 'spare',
    measurements: []
  });

  function told(partIds: readonly string[], stay: boolean) {
    onmade(partIds);
    made = [...made, ...partIds];
    if (!stay) open = false;
  }

  function takeLine(entries: readonly QuickEntry[]): string | undefined {
    // Numbers of the same line are not given twice either.
    const given: string[] = [];
    const parts = entries.map((entry) => {
      const id = freePartId(new Set([...drawer.takenIds, ...given]), entry.kind);
      given.push(id);
      return partOf(elementOfEntry(entry, id), entry.quantity, draft.location.trim());
    });
    const refusal = drawer.change(`Add ${given.join(', ')}`, parts);
    if (refusal === undefined) told(given, true);
    return refusal;
  }

  function takeThing({ element }: UsualThing): string | undefined {
    const id = freePartId(drawer.takenIds, element.kind);
    const refusal = drawer.change(`Add ${id}`, [partOf({ ...element, id }, 1, draft.location.trim())]);
    if (refusal === undefined) told([id], true);
    return refusal;
  }

  function submit(event: SubmitEvent & { currentTarget: HTMLFormElement }) {
    event.preventDefault();
    const another = event.submitter?.dataset.another !== undefined;
    message = fieldInError(event.currentTarget);
    if (message !== undefined) return;
    const length = parseNumber(draft.lengthText, display.unit);
    if (!length.ok || length.parsed === undefined) {
      message = length.ok ? 'Its length is needed.' : length.message;
      return lengthInput?.focus();
    }
    const id = draft.partId.trim() || freeId;
    if (drawer.byId.has(id)) return void (message = `${id} is already the number of another part.`);
    message = drawer.change(`Add ${id}`, [partOf(elementOf(length.parsed, id), 1, draft.location.trim())]);
    if (message !== undefined) return;
    draft = another ? { ...draft, partId: '', name: '', lengthText: '' } : { ...EMPTY };
    if (!another) draftOf = undefined;
    told([id], another);
    if (another) void tick().then(() => lengthInput?.focus());
  }

  const keep = (face: 'sky' | 'camera') => (port: Port | undefined) => {
    draft[face] = port;
    return undefined;
  };
</script>

<Modal title={like ? `Another like ${like.partId}` : 'New parts'} bind:open>
  {#if !like}
    <QuickLine
      bind:line={draft.line}
      autofocus={!byFields}
      action={(count) => `Put ${count} ${count === 1 ? 'part' : 'parts'} in the drawer`}
      onentries={takeLine}
      onthing={takeThing}
    />
  {/if}
  {#if made.length > 0}
    <p class="text-success mt-2" role="status">
      In the drawer: {made.slice(-8).join(', ')}.
      <button type="button" class="link-quiet" onclick={() => (open = false)}>Done</button>
    </p>
  {/if}
  {#if !like}
    <button
      type="button"
      class="btn btn-ghost btn-sm mt-2 -ml-2 font-normal"
      aria-expanded={byFields}
      onclick={() => (byFields = !byFields)}
    >
      {byFields ? 'Only in one line' : 'Or field by field'}
    </button>
  {/if}
  {#if byFields}
    <form class="grid gap-3" onsubmit={submit}>
      {#if !like}
        <PickInput
          bind:text={draft.usual}
          label="Begin with a usual part"
          placeholder="A usual part: T-ring, step ring, lens adapter"
          choices={usualChoices}
          onpick={beginWith}
          settled={false}
        />
      {/if}
      <div class="grid grid-cols-3 gap-3">
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">Kind</span>
          <select
            class="select select-sm w-full"
            value={draft.kind}
            onchange={({ currentTarget: { value } }) => {
              if (isElementKind(value) && value !== 'gap') draft.kind = value;
            }}
          >
            {#each kinds as [each, words] (each)}<option value={each}>{words}</option>{/each}
          </select>
        </label>
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">{draft.kind === 'camera' ? 'Flange to sensor' : 'Length'}</span>
          <span class="input input-sm w-full">
            <!-- svelte-ignore a11y_autofocus -->
            <input
              bind:this={lengthInput}
              bind:value={draft.lengthText}
              inputmode="decimal"
              autocomplete="off"
              autofocus
              placeholder="16.5"
              class="min-w-0 text-right"
            />
            <span class="text-muted text-xs">{display.unit}</span>
          </span>
        </label>
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">Number</span>
          <input
            class="input input-sm w-full"
            bind:value={draft.partId}
            maxlength="100"
            autocomplete="off"
            placeholder={freeId}
          />
        </label>
      </div>
      <div class="grid grid-cols-2 gap-3">
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">Name</span>
          <input
            class="input input-sm w-full"
            bind:value={draft.name}
            maxlength="200"
            autocomplete="off"
            placeholder={suggestedName}
          />
        </label>
        <label class="grid gap-0.5">
          <span class="text-muted text-xs">Place</span>
          <input
            class="input input-sm w-full"
            bind:value={draft.location}
            maxlength="200"
            list="places-new"
            autocomplete="off"
            placeholder="Tin 2 / Bag C"
          />
          <datalist id="places-new">
            {#each new Set(drawer.plain.map((part) => part.location)) as place (place)}<option value={place}
              ></option>{/each}
          </datalist>
        </label>
      </div>
      {#if draft.kind !== 'shim'}
        <div class={['grid gap-3', draft.kind !== 'camera' && 'sm:grid-cols-2']}>
          <PortEditor label="Sky face" port={draft.sky} commit={keep('sky')} />
          {#if draft.kind !== 'camera'}<PortEditor
              label="Camera face"
              port={draft.camera}
              commit={keep('camera')}
            />{/if}
        </div>
      {/if}
      <p class="text-muted text-xs">
        The length is from shoulder to shoulder: of a ring “12 long, 3.5 of it screws in” it is 8.5, and may be typed as
        “12 − 3.5”. The number cannot be changed later; it is what trains and labels call the part.
      </p>
      {#if message}<p class="text-error" role="alert">{message}</p>{/if}
      <div class="flex flex-wrap justify-end gap-2">
        <button class="btn btn-primary btn-sm order-2">Put it in the drawer</button>
        <button class="btn btn-outline btn-sm order-1" data-another>Put it in, and another</button>
        <button type="button" class="btn btn-ghost btn-sm" onclick={() => (open = false)}>Leave it</button>
      </div>
    </form>
  {/if}
</Modal>
