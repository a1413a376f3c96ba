<script lang="ts" module>
  import { reasonOf } from '$lib/api/reason.ts';
  import type { Corrector, Host, Port } from '@lodestone/core/train';
  import type { CameraElement } from '@lodestone/core/train';
  import type { CorrectorPick } from './choices.ts';

  interface Draft {
    hostText: string;
    /** Picked from a train of one's own. */
    host: Host | undefined;
    /** Said by the owner, where the line does not. */
    hostKind: Host['kind'] | undefined;
    flatStated: boolean | undefined;
    hostFace: Port | undefined;
    correctorText: string;
    corrector: CorrectorPick | undefined;
    datum: NonNullable<Corrector['datum']>;
    datumOffset: string;
    magnification: string;
    flattens: boolean;
    correctorFace: Port | undefined;
    cameraText: string;
    camera: CameraElement | undefined;
    cameraFace: Port | undefined;
    name: string;
  }
  const EMPTY: Draft = {
    hostText: '',
    host: undefined,
    hostKind: undefined,
    flatStated: undefined,
    hostFace: undefined,
    correctorText: '',
    corrector: undefined,
    datum: 'shoulder',
    datumOffset: '',
    magnification: '',
    flattens: false,
    correctorFace: undefined,
    cameraText: '',
    camera: undefined,
    cameraFace: undefined,
    name: ''
  };
  const KEPT_AS = 'lodestone.newTrain';
</script>

<script lang="ts">
  import {
    HOST_KIND_WORDS,
    complaintInWords,
    isHostKind,
    readTrain,
    type BodyElement,
    type Train
  } from '@lodestone/core/train';
  import { assess, nextStep } from '@lodestone/core/check';
  import { layoutOf } from '@lodestone/core/shape';
  import { CATALOGUE_NOTE, readHostLine, usualHostFace } from '@lodestone/core/catalogue';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { elementFrom, startTrain } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { fieldInError } from '$lib/ui/form.ts';
  import { parseFactor, parseNumber } from '$lib/ui/parse.ts';
  import PickInput, { type Choice } from '$lib/ui/PickInput.svelte';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import { onMount } from 'svelte';
  import { cameraChoices, correctorChoices, hostChoices } from './choices.ts';
  import Silhouette from '$lib/rail/Silhouette.svelte';

  interface Props {
    /** Telescopes of the owner's trains. */
    hosts: readonly Host[];
    oncreate: (train: Train) => Promise<void>;
  }
  const { hosts, oncreate }: Props = $props();
  const display = useDisplay();
  const drawer = useDrawer();

  let draft = $state<Draft>({ ...EMPTY });
  let message = $state<string>();
  let busy = $state(false);
  let hostField: PickInput<Host>;
  let correctorField: PickInput<CorrectorPick>;
  let cameraField: PickInput<CameraElement>;

  // What was typed is there again after a reload, or when one comes back.
  onMount(() => {
    try {
      const kept: unknown = JSON.parse(sessionStorage.getItem(KEPT_AS) ?? 'null');
      if (typeof kept === 'object' && kept !== null) draft = { ...EMPTY, ...kept };
    } catch {
      // Nothing readable was kept.
    }
    hostField.focus();
  });
  let mounted = false;
  $effect(() => {
    const kept = JSON.stringify(draft);
    if (mounted) sessionStorage.setItem(KEPT_AS, kept);
    mounted = true;
  });

  // The telescope: picked, or read from a line.
  const hostLine = $derived(readHostLine(draft.hostText));
  const hostKind = $derived<Host['kind']>(
    draft.host?.kind ?? draft.hostKind ?? (hostLine.ok ? hostLine.host.kind : undefined) ?? 'refractor'
  );
  /** Only what somebody has stated: neither a petzval nor a lens is taken as flat unasked. */
  const flatField = $derived(draft.flatStated ?? false);
  const lens = $derived(draft.corrector?.kind === 'lens' ? draft.corrector.mount : undefined);
  const hostFace = $derived(draft.hostFace ?? lens?.camera ?? usualHostFace(hostKind));
  const host = $derived.by((): Host | undefined => {
    if (draft.host) return draft.host;
    if (!hostLine.ok) return undefined;
    const { apertureMm, focalLengthMm, name } = hostLine.host;
    return {
      name: name || 'My telescope',
      kind: hostKind,
      apertureMm,
      focalLengthMm,
      camera: hostFace,
      ...(flatField ? { flatField } : {}),
      ...(lens ? { corrector: lens.corrector } : {}),
      ...(lensBackFocus === undefined ? {} : { corrector: { backFocusMm: lensBackFocus } })
    };
  });

  // What sets the back focus: picked, or a number.
  /** “0.8” is a magnification people know a reducer by: nothing asks for less than this, mm (common practice, no source). */
  const LEAST_BACK_FOCUS_MM = 5;
  const typedBackFocus = $derived(draft.corrector ? undefined : lengthIn(draft.correctorText, LEAST_BACK_FOCUS_MM));
  /** Of a camera lens the number is its own flange distance: nothing stands behind it. */
  const lensBackFocus = $derived(hostKind === 'camera-lens' && !draft.host ? typedBackFocus : undefined);
  const offset = $derived(parseNumber(draft.datumOffset, display.unit));
  const reduction = $derived(parseFactor(draft.magnification));
  const corrector = $derived.by((): BodyElement | undefined => {
    const picked = draft.corrector;
    if (picked?.kind === 'element') return picked.element;
    if (typedBackFocus === undefined || lensBackFocus !== undefined) return undefined;
    const asks: Corrector = {
      backFocusMm: typedBackFocus,
      ...(draft.datum === 'shoulder' ? {} : { datum: draft.datum }),
      ...(draft.datum !== 'shoulder' && offset.ok && offset.parsed !== undefined
        ? { datumOffsetMm: offset.parsed }
        : {}),
      ...(reduction.ok && reduction.parsed !== undefined ? { magnification: reduction.parsed } : {}),
      ...(draft.flattens ? { flattensField: true } : {})
    };
    return {
      ...(elementFrom({
        kind: 'corrector',
        name: 'My corrector',
        lengthMm: 30,
        camera: draft.correctorFace
      }) as BodyElement),
      note: 'Length of its body: not needed for back focus, so only a guess.',
      corrector: asks
    };
  });
  const isCorrectorSaid = $derived(
    corrector !== undefined ||
      lensBackFocus !== undefined ||
      draft.corrector !== undefined ||
      draft.host?.corrector !== undefined
  );

  // The camera: picked, or its flange distance.
  const typedFlange = $derived(draft.camera ? undefined : lengthIn(draft.cameraText));
  const camera = $derived.by((): CameraElement | undefined => {
    if (draft.camera) return draft.camera;
    if (typedFlange === undefined) return undefined;
    return elementFrom({
      kind: 'camera',
      name: 'My camera',
      lengthMm: typedFlange,
      sky: draft.cameraFace
    }) as CameraElement;
  });

  function lengthIn(text: string, leastMm = 0): number | undefined {
    const parsed = parseNumber(text, display.unit);
    const mm = parsed.ok ? parsed.parsed : undefined;
    return mm !== undefined && mm > leastMm ? mm : undefined;
  }

  const suggestedName = (of: Host): string => (of.name === 'My telescope' ? 'New train' : of.name);

  /** The first thing still missing, in the order of the page. */
  const missing = $derived.by(() => {
    if (!host) return 'the telescope';
    if (!isCorrectorSaid) return 'what sets the back focus';
    if (draft.datum === 'last-surface' && !draft.corrector && !(offset.ok && offset.parsed !== undefined))
      return 'the depth of the last surface';
    return camera ? undefined : 'the camera';
  });

  const made = $derived(
    missing === undefined && host && camera
      ? startTrain({ name: draft.name.trim() || suggestedName(host), host, corrector, camera })
      : undefined
  );
  const reading = $derived(made && readTrain(made));
  const preview = $derived.by(() => {
    if (!reading?.ok) return undefined;
    const assessment = assess(reading.document);
    return { assessment, layout: layoutOf(reading.document, assessment.ledger), document: reading.document };
  });
  const complaint = $derived.by(() => {
    if (reading === undefined || reading.ok) return undefined;
    const first = reading.complaints[0];
    return first && complaintInWords(first);
  });

  // A field is only complained of once it was left.
  let leftHost = $state(false);
  let leftCorrector = $state(false);
  let leftCamera = $state(false);
  const hostMessage = $derived(
    !host && draft.hostText.trim() !== '' && leftHost && !hostLine.ok ? hostLine.message : undefined
  );
  const unread = (text: string, isSaid: boolean, isLeft: boolean, asks: string): string | undefined =>
    text.trim() !== '' && !isSaid && isLeft
      ? `“${text.trim()}” is none of these. Pick one, or type ${asks}.`
      : undefined;
  const correctorMessage = $derived(
    unread(draft.correctorText, isCorrectorSaid, leftCorrector, 'the back focus it asks for, as 55')
  );
  const cameraMessage = $derived(
    unread(draft.cameraText, camera !== undefined, leftCamera, 'its flange distance, as 17.5')
  );

  function pickHost(choice: Choice<Host>) {
    [draft.host, draft.hostText] = [choice.of, choice.label];
  }
  function pickCorrector(choice: Choice<CorrectorPick>) {
    [draft.corrector, draft.correctorText] = [choice.of, `${choice.label}${choice.hint ? `, ${choice.hint}` : ''}`];
  }
  function pickCamera(choice: Choice<CameraElement>) {
    [draft.camera, draft.cameraText] = [choice.of, `${choice.label}${choice.hint ? `, ${choice.hint}` : ''}`];
  }

  async function submit(event: SubmitEvent & { currentTarget: HTMLFormElement }) {
    event.preventDefault();
    [leftHost, leftCorrector, leftCamera] = [true, true, true];
    const wrong = fieldInError(event.currentTarget);
    if (wrong !== undefined || missing !== undefined || !reading?.ok) {
      message = wrong ?? complaint ?? `Still needed: ${missing}.`;
      if (wrong === undefined) (!host ? hostField : !isCorrectorSaid ? correctorField : cameraField).focus();
      return;
    }
    busy = true;
    try {
      await oncreate(reading.document);
      sessionStorage.removeItem(KEPT_AS);
      draft = { ...EMPTY };
    } catch (error) {
      message = reasonOf(error);
    } finally {
      busy = false;
    }
  }
</script>

{#snippet said(text: string)}<span class="text-success">{text}</span>{/snippet}

<form
  class="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,24rem)]"
  onsubmit={submit}
  oninput={() => (message = undefined)}
>
  <div class="grid content-start gap-7">
    <ol class="grid content-start gap-7">
      <li class="step">
        <h2 class="font-semibold">Telescope or lens</h2>
        <div class="mt-1.5" onfocusout={() => (leftHost = true)}>
          <PickInput
            bind:this={hostField}
            bind:text={() => draft.hostText, (text) => ([draft.hostText, draft.host] = [text, undefined])}
            label="Telescope or lens"
            placeholder="100 f/6, or refractor 115/805, or lens 85 f/2"
            choices={hostChoices(draft.host ? '' : draft.hostText, hosts)}
            onpick={pickHost}
            settled={host !== undefined}
            message={hostMessage}
            describedBy="said-host"
          />
        </div>
        <p id="said-host" class="mt-1 text-xs" aria-live="polite">
          {#if hostMessage}<span class="text-error">{hostMessage}</span>
          {:else if host}{@render said(
              `${HOST_KIND_WORDS[host.kind]}, aperture ${display.length(host.apertureMm, 1)}, focal length ${display.length(host.focalLengthMm, 0)}, f/${(host.focalLengthMm / host.apertureMm).toFixed(1)}`
            )}
          {:else}<span class="text-muted"
              >Aperture with focal ratio or focal length, as people say it; a name may stand with it.</span
            >{/if}
        </p>
      </li>
      <li class="step">
        <h2 class="font-semibold">Reducer, flattener or coma corrector</h2>
        <div class="mt-1.5" onfocusout={() => (leftCorrector = true)}>
          <PickInput
            bind:this={correctorField}
            bind:text={
              () => draft.correctorText, (text) => ([draft.correctorText, draft.corrector] = [text, undefined])
            }
            label="Reducer, flattener or coma corrector"
            placeholder="55, or pick one"
            choices={correctorChoices(draft.corrector ? '' : draft.correctorText, drawer.plain, hostKind)}
            onpick={pickCorrector}
            settled={isCorrectorSaid}
            message={correctorMessage}
            describedBy="said-corrector"
          />
        </div>
        <p id="said-corrector" class="mt-1 text-xs" aria-live="polite">
          {#if correctorMessage}<span class="text-error">{correctorMessage}</span>
          {:else if draft.corrector?.kind === 'none'}{@render said(
              'Nothing asks for a distance: the train is only laid out.'
            )}
          {:else if lens}{@render said(
              `The sensor has to stand ${display.length(lens.corrector.backFocusMm ?? 0)} behind the lens’s flange.`
            )}
          {:else if typedBackFocus !== undefined}{@render said(
              `Asks for ${display.length(typedBackFocus)} to the sensor, from its ${draft.datum === 'shoulder' ? 'shoulder, thread not counted' : draft.datum === 'thread-tip' ? 'thread tip' : 'last glass surface'}`
            )}
          {:else if corrector}{@render said(corrector.note === CATALOGUE_NOTE ? CATALOGUE_NOTE : 'From your drawer.')}
          {:else}<span class="text-muted">The back focus it asks for, in its leaflet; or what it is.</span>{/if}
        </p>
      </li>
      <li class="step">
        <h2 class="font-semibold">Camera</h2>
        <div class="mt-1.5" onfocusout={() => (leftCamera = true)}>
          <PickInput
            bind:this={cameraField}
            bind:text={() => draft.cameraText, (text) => ([draft.cameraText, draft.camera] = [text, undefined])}
            label="Camera"
            placeholder="17.5, or DSLR 44.0, or pick one"
            choices={cameraChoices(draft.camera ? '' : draft.cameraText, drawer.plain)}
            onpick={pickCamera}
            settled={camera !== undefined}
            message={cameraMessage}
            describedBy="said-camera"
          />
        </div>
        <p id="said-camera" class="mt-1 text-xs" aria-live="polite">
          {#if cameraMessage}<span class="text-error">{cameraMessage}</span>
          {:else if camera}{@render said(
              `${display.length(camera.lengthMm)} from its flange to the sensor.${camera.note === CATALOGUE_NOTE ? ` ${CATALOGUE_NOTE}` : ''}`
            )}
          {:else}<span class="text-muted">Its flange distance: from the front face to the sensor.</span>{/if}
        </p>
      </li>
    </ol>
    <details class="pl-10" open={draft.datum !== 'shoulder' || draft.magnification !== ''}>
      <summary class="text-muted cursor-pointer py-1"
        >Say more: kind, faces, where the back focus is measured from</summary
      >
      <div class="mt-2 grid gap-x-3 gap-y-4 sm:grid-cols-2">
        {#if !draft.host}
          <label class="grid content-start gap-0.5">
            <span class="text-muted text-xs">Kind</span>
            <select
              class="select select-sm w-full"
              value={hostKind}
              onchange={({ currentTarget: { value } }) => (draft.hostKind = isHostKind(value) ? value : undefined)}
            >
              {#each Object.entries(HOST_KIND_WORDS) as [each, name] (each)}<option value={each}>{name}</option>{/each}
            </select>
          </label>
          <label class="flex items-center gap-2 self-end py-1">
            <input
              type="checkbox"
              class="checkbox checkbox-sm"
              checked={flatField}
              onchange={({ currentTarget }) => (draft.flatStated = currentTarget.checked)}
            />
            <span>Its field is flat by itself</span>
          </label>
          <PortEditor
            label="Face of the telescope"
            port={hostFace}
            optional={false}
            commit={(port) => void (draft.hostFace = port)}
          />
        {/if}
        {#if !draft.corrector}
          <label class="grid content-start gap-0.5">
            <span class="text-muted text-xs">Measured from</span>
            <select class="select select-sm w-full" bind:value={draft.datum}>
              <option value="shoulder">the shoulder, thread not included</option>
              <option value="thread-tip">the tip of its male thread</option>
              <option value="last-surface">the last glass surface</option>
            </select>
          </label>
          {#if draft.datum !== 'shoulder'}
            <label class="grid content-start gap-0.5">
              <span class="text-muted text-xs"
                >{draft.datum === 'thread-tip' ? 'Male thread length' : 'Depth inside the shoulder'}</span
              >
              <span class={['input input-sm w-full', !offset.ok && 'input-error']}>
                <input
                  bind:value={draft.datumOffset}
                  inputmode="decimal"
                  autocomplete="off"
                  aria-invalid={!offset.ok}
                  placeholder={draft.datum === 'thread-tip' ? 'that of its face' : '1.5'}
                  class="min-w-0 text-right"
                />
                <span class="text-muted text-xs">{display.unit}</span>
              </span>
              {#if !offset.ok}<span class="text-error text-xs" role="alert">{offset.message}</span>{/if}
            </label>
          {/if}
          <label class="grid content-start gap-0.5">
            <span class="text-muted text-xs">Magnification</span>
            <span class={['input input-sm w-full', !reduction.ok && 'input-error']}>
              <input
                bind:value={draft.magnification}
                inputmode="decimal"
                autocomplete="off"
                aria-invalid={!reduction.ok}
                placeholder="0.8"
                class="min-w-0 text-right"
              />
              <span class="text-muted text-xs">×</span>
            </span>
            {#if !reduction.ok}<span class="text-error text-xs" role="alert">{reduction.message}</span>{/if}
          </label>
          <label class="flex items-center gap-2 self-end py-1"
            ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={draft.flattens} />Flattens the field</label
          >
          <PortEditor
            label="Face of the corrector"
            port={draft.correctorFace}
            commit={(port) => void (draft.correctorFace = port)}
          />
        {/if}
        {#if !draft.camera}
          <PortEditor
            label="Face of the camera"
            port={draft.cameraFace}
            commit={(port) => void (draft.cameraFace = port)}
          />
        {/if}
      </div>
    </details>
    <dl class="text-muted grid max-w-prose gap-2 pl-10 text-xs">
      <div>
        <dt class="text-base-content inline font-semibold">Back focus</dt>
        <dd class="inline">
          is how far behind a corrector the sensor has to stand, mostly counted from the shoulder the next part meets.
        </dd>
      </div>
      <div>
        <dt class="text-base-content inline font-semibold">Flange distance</dt>
        <dd class="inline">is how far the sensor lies behind the camera’s own front face.</dd>
      </div>
      <div>
        <dt class="text-base-content inline font-semibold">Focal ratio</dt>
        <dd class="inline">is focal length by aperture: 600 mm of focal length on 100 mm of aperture is f/6.</dd>
      </div>
    </dl>
  </div>

  <aside class="panel grid h-fit content-start gap-2 p-4 lg:sticky lg:top-6">
    <div class="h-28">
      {#if preview}
        <Silhouette
          layout={preview.layout}
          fromMm={preview.layout.extent.fromMm}
          toMm={preview.layout.extent.toMm}
          maxRadiusMm={preview.layout.maxRadiusMm}
          label="The train so far, to scale"
        />
      {:else}
        <div class="border-line text-muted grid h-full place-items-center rounded border border-dashed text-xs">
          The train stands here, to scale
        </div>
      {/if}
    </div>
    <div aria-live="polite">
      {#if preview}
        <p class="text-2xl font-semibold" data-first-answer>
          {preview.assessment.verdictInWords(display.unit)}
        </p>
        <p class="text-muted mt-1">{nextStep(preview.assessment, display.unit).sentence}</p>
      {:else if complaint}
        <p class="text-error">{complaint}</p>
      {:else}
        <p class="text-lg font-semibold">How much has to stand between?</p>
        <p class="text-muted mt-1">Still needed: {missing}.</p>
      {/if}
    </div>
    <label class="mt-2 grid gap-0.5">
      <span class="text-muted text-xs">Name of the train</span>
      <input
        class="input input-sm w-full"
        bind:value={draft.name}
        placeholder={host ? suggestedName(host) : 'New train'}
        maxlength="200"
        autocomplete="off"
      />
    </label>
    {#if message}<p class="text-error" role="alert">{message}</p>{/if}
    <button class="btn btn-primary w-full" disabled={busy}>Go on to Build</button>
  </aside>
</form>

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
