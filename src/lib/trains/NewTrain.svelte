<script lang="ts">
  import {
    assess,
    complaintInWords,
    layoutOf,
    nextStep,
    readTrain,
    verdictInWords,
    type Corrector,
    type Host,
    type Port,
    type Train
  } from '@lodestone/core';
  import { startTrain } from '$lib/train/starters.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import Silhouette from './Silhouette.svelte';

  const { oncreate }: { oncreate: (train: Train) => Promise<void> } = $props();
  const display = useDisplay();

  let hostName = $state('');
  let hostKind = $state<Host['kind']>('refractor');
  /** Said by the owner, else what the kind mostly is. */
  let flatStated = $state<boolean>();
  const flatField = $derived(flatStated ?? (hostKind === 'petzval' || hostKind === 'camera-lens'));
  let aperture = $state('');
  let focalLength = $state('');
  let hostFace = $state.raw<Port | undefined>({ thread: 'M63×1', gender: 'female' });

  let way = $state<'corrector' | 'host' | 'none'>('corrector');
  let correctorName = $state('');
  let backFocus = $state('');
  let datum = $state<NonNullable<Corrector['datum']>>('shoulder');
  let datumOffset = $state('');
  let magnification = $state('');
  let flattens = $state(true);
  let correctorFace = $state.raw<Port>();

  let cameraName = $state('');
  let flange = $state('');
  let cameraFace = $state.raw<Port>();

  let trainName = $state('');
  let message = $state<string>();
  let busy = $state(false);

  const mm = (text: string) => {
    const parsed = parseNumber(text, display.unit);
    return parsed.ok ? parsed.parsed : undefined;
  };
  const plain = (text: string) => {
    const parsed = parseNumber(text);
    return parsed.ok ? parsed.parsed : undefined;
  };

  /** The first thing still missing, in the order of the page. */
  const missing = $derived.by(() => {
    if (mm(aperture) === undefined) return 'the aperture of the host';
    if (mm(focalLength) === undefined) return 'the focal length of the host';
    if (!hostFace) return 'what the host’s camera face screws to';
    if (way !== 'none' && mm(backFocus) === undefined) return 'the back focus';
    if (way !== 'none' && datum === 'last-surface' && mm(datumOffset) === undefined)
      return 'the depth of the last surface';
    if (mm(flange) === undefined) return 'the camera’s flange-to-sensor distance';
    return undefined;
  });

  const made = $derived.by(() => {
    if (missing !== undefined || !hostFace) return undefined;
    const offset = mm(datumOffset);
    const reduction = plain(magnification);
    const asks: Corrector = {
      backFocusMm: mm(backFocus) ?? 0,
      ...(datum === 'shoulder' ? {} : { datum }),
      ...(datum !== 'shoulder' && offset !== undefined ? { datumOffsetMm: offset } : {}),
      ...(reduction === undefined ? {} : { magnification: reduction }),
      ...(way === 'corrector' && flattens ? { flattensField: true } : {})
    };
    return startTrain({
      name: trainName.trim() || 'New train',
      host: {
        name: hostName.trim() || 'My telescope',
        kind: hostKind,
        apertureMm: mm(aperture) ?? 0,
        focalLengthMm: mm(focalLength) ?? 0,
        camera: hostFace,
        ...(flatField ? { flatField } : {}),
        ...(way === 'host' ? { corrector: asks } : {})
      },
      corrector:
        way === 'corrector' ? { name: correctorName.trim() || 'My corrector', asks, camera: correctorFace } : undefined,
      camera: { name: cameraName.trim() || 'My camera', lengthMm: mm(flange) ?? 0, sky: cameraFace }
    });
  });
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

  async function submit(event: SubmitEvent) {
    event.preventDefault();
    if (missing !== undefined || !reading?.ok) {
      message = complaint ?? `Still needed: ${missing}.`;
      return;
    }
    busy = true;
    try {
      await oncreate(reading.document);
    } catch (error) {
      message = error instanceof Error ? error.message : String(error);
    } finally {
      busy = false;
    }
  }
</script>

<!-- Bound, so that what is typed before the page has come to life is not lost. -->
{#snippet lengthInput(label: string, read: () => string, write: (text: string) => void, hint?: string)}
  {@const parsed = parseNumber(read(), display.unit)}
  <label class="grid content-start gap-0.5">
    <span class="text-muted text-xs">{label}</span>
    <span class={['input input-sm w-full', !parsed.ok && 'input-error']}>
      <input bind:value={read, write} inputmode="decimal" autocomplete="off" class="text-right" />
      <span class="text-muted text-xs">{display.unit}</span>
    </span>
    {#if !parsed.ok}<span class="text-error text-xs" role="alert">{parsed.message}</span>{:else if hint}<span
        class="text-muted text-xs">{hint}</span
      >{/if}
  </label>
{/snippet}

{#snippet textInput(label: string, placeholder: string, read: () => string, write: (text: string) => void)}
  <label class="grid content-start gap-0.5">
    <span class="text-muted text-xs">{label}</span>
    <input class="input input-sm w-full" bind:value={read, write} {placeholder} maxlength="200" autocomplete="off" />
  </label>
{/snippet}

<form
  class="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,22rem)]"
  onsubmit={submit}
  oninput={() => (message = undefined)}
>
  <ol class="grid gap-6">
    <li class="step">
      <h2 class="font-semibold">What does it hang on?</h2>
      <div class="mt-2 grid gap-3 sm:grid-cols-2">
        {@render textInput(
          'Name of the telescope or lens',
          'My telescope',
          () => hostName,
          (text) => (hostName = text)
        )}
        <label class="grid content-start gap-0.5">
          <span class="text-muted text-xs">Kind</span>
          <select class="select select-sm w-full" bind:value={hostKind}>
            <option value="refractor">refractor</option>
            <option value="newtonian">Newtonian</option>
            <option value="schmidt-cassegrain">Schmidt-Cassegrain</option>
            <option value="two-mirror">two-mirror</option>
            <option value="petzval">Petzval</option>
            <option value="camera-lens">camera lens</option>
            <option value="other">other</option>
          </select>
        </label>
        {@render lengthInput(
          'Aperture',
          () => aperture,
          (text) => (aperture = text)
        )}
        {@render lengthInput(
          'Focal length',
          () => focalLength,
          (text) => (focalLength = text)
        )}
        <PortEditor
          label="Its camera face"
          port={hostFace}
          optional={false}
          commit={(port) => void (hostFace = port)}
        />
        <label class="flex items-center gap-2 py-1">
          <input
            type="checkbox"
            class="checkbox checkbox-sm"
            checked={flatField}
            onchange={({ currentTarget }) => (flatStated = currentTarget.checked)}
          />
          <span>Its field is flat by itself</span>
        </label>
      </div>
    </li>
    <li class="step">
      <h2 class="font-semibold">What says how far the sensor must be?</h2>
      <div class="mt-2 flex flex-wrap gap-4" role="radiogroup" aria-label="What sets the back focus">
        {#each [['corrector', 'a reducer, flattener or coma corrector'], ['host', 'the host itself'], ['none', 'nothing']] as const as [each, words] (each)}
          <label class="flex items-center gap-2"
            ><input type="radio" class="radio radio-sm" value={each} bind:group={way} />{words}</label
          >
        {/each}
      </div>
      {#if way !== 'none'}
        <div class="mt-3 grid gap-3 sm:grid-cols-2">
          {#if way === 'corrector'}{@render textInput(
              'Name of the corrector',
              'My corrector',
              () => correctorName,
              (text) => (correctorName = text)
            )}{/if}
          {@render lengthInput(
            'Back focus it asks for',
            () => backFocus,
            (text) => (backFocus = text)
          )}
          {#if way === 'corrector'}
            <label class="grid content-start gap-0.5">
              <span class="text-muted text-xs">Measured from</span>
              <select class="select select-sm w-full" bind:value={datum}>
                <option value="shoulder">the shoulder, thread not included</option>
                <option value="thread-tip">the tip of its male thread</option>
                <option value="last-surface">the last glass surface</option>
              </select>
            </label>
            {#if datum === 'thread-tip'}
              {@render lengthInput(
                'Male thread length',
                () => datumOffset,
                (text) => (datumOffset = text),
                'empty: that of its camera face'
              )}
            {:else if datum === 'last-surface'}
              {@render lengthInput(
                'Depth inside the shoulder',
                () => datumOffset,
                (text) => (datumOffset = text),
                'negative when it stands proud'
              )}
            {/if}
            <label class="grid content-start gap-0.5">
              <span class="text-muted text-xs">Magnification, as 0.79</span>
              <input
                class="input input-sm w-full text-right"
                bind:value={magnification}
                inputmode="decimal"
                autocomplete="off"
                placeholder="not stated"
              />
            </label>
            <PortEditor label="Its camera face" port={correctorFace} commit={(port) => void (correctorFace = port)} />
            <label class="flex items-center gap-2 self-end pb-1"
              ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={flattens} />Flattens the field</label
            >
          {/if}
        </div>
      {/if}
    </li>
    <li class="step">
      <h2 class="font-semibold">What takes the picture?</h2>
      <div class="mt-2 grid gap-3 sm:grid-cols-2">
        {@render textInput(
          'Name of the camera',
          'My camera',
          () => cameraName,
          (text) => (cameraName = text)
        )}
        {@render lengthInput(
          'Flange to sensor',
          () => flange,
          (text) => (flange = text)
        )}
        <PortEditor label="Its sky face" port={cameraFace} commit={(port) => void (cameraFace = port)} />
        {@render textInput(
          'Name of the train',
          'New train',
          () => trainName,
          (text) => (trainName = text)
        )}
      </div>
    </li>
  </ol>

  <aside class="panel h-fit p-4 lg:sticky lg:top-6" aria-live="polite">
    {#if preview}
      <div class="h-28">
        <Silhouette
          layout={preview.layout}
          fromMm={preview.layout.extent.fromMm}
          toMm={preview.layout.extent.toMm}
          maxRadiusMm={preview.layout.maxRadiusMm}
          label="The train so far, to scale"
        />
      </div>
      <p class="mt-3 text-2xl font-semibold">
        {verdictInWords(preview.assessment.report.verdict, preview.assessment.report.residualMm, display.unit)}
      </p>
      <p class="text-muted mt-1">{nextStep(preview.assessment, display.unit).sentence}</p>
    {:else if complaint}
      <p class="text-error">{complaint}</p>
    {:else}
      <p class="text-lg font-semibold">How much has to stand between?</p>
      <p class="text-muted mt-1">The answer appears here. Still needed: {missing}.</p>
    {/if}
    {#if message}<p class="text-error mt-3" role="alert">{message}</p>{/if}
    <button class="btn btn-primary mt-4 w-full" disabled={busy}>Go on to Build</button>
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
