<script lang="ts" module>
  const KEPT_AS = 'lodestone.newTrain';

  const DATUM_WORDS = {
    shoulder: 'shoulder, thread not counted',
    'thread-tip': 'thread tip',
    'last-surface': 'last glass surface'
  } as const;
</script>

<script lang="ts">
  import { reasonOf } from '$lib/api/reason.ts';
  import { CATALOGUE_NOTE } from '@lodestone/core/catalogue';
  import { HOST_KIND_WORDS, type CameraElement, type Host, type Train } from '@lodestone/core/train';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { NewTrains } from '$lib/train/newTrains.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { fieldInError } from '$lib/ui/form.ts';
  import { onMount } from 'svelte';
  import { cameraChoices, correctorChoices, hostChoices, type CorrectorPick } from './choices.ts';
  import { Start } from './start.svelte.ts';
  import StartAside from './StartAside.svelte';
  import StartDetails from './StartDetails.svelte';
  import StartStep from './StartStep.svelte';

  interface Props {
    /** Telescopes of the owner's trains. */
    hosts: readonly Host[];
    oncreate: (train: Train) => Promise<void>;
  }
  const { hosts, oncreate }: Props = $props();
  const display = useDisplay();
  const drawer = useDrawer();
  const start = new Start(() => display.unit);
  const newTrains = new NewTrains();
  onMount(() => newTrains.recall());
  const draft = $derived(start.draft);

  let message = $state<string>();
  let busy = $state(false);
  let hostStep: StartStep<Host>;
  let correctorStep: StartStep<CorrectorPick>;
  let cameraStep: StartStep<CameraElement>;

  // What was typed is there again after a reload, or when one comes back.
  onMount(() => {
    try {
      start.restore(JSON.parse(sessionStorage.getItem(KEPT_AS) ?? 'null'));
    } catch {
      // Nothing readable was kept.
    }
    hostStep.focus();
  });
  let mounted = false;
  $effect(() => {
    const kept = JSON.stringify(draft);
    if (mounted) sessionStorage.setItem(KEPT_AS, kept);
    mounted = true;
  });

  const hostSaid = $derived.by(() => {
    if (!start.host) return undefined;
    const { kind, apertureMm, focalLengthMm } = start.host;
    return `${HOST_KIND_WORDS[kind]}, aperture ${display.length(apertureMm, 1)}, focal length ${display.length(focalLengthMm, 0)}, f/${(focalLengthMm / apertureMm).toFixed(1)}`;
  });
  const correctorSaid = $derived.by(() => {
    const { lens, corrector, backFocusMm } = start;
    if (draft.corrector?.kind === 'none') return 'No back focus required: the train is only drawn.';
    if (lens) return `The sensor must be ${display.length(lens.corrector.backFocusMm ?? 0)} behind the lens flange.`;
    if (backFocusMm !== undefined) {
      const { magnification, datum = draft.datum } = corrector?.corrector ?? {};
      const factor = magnification === undefined ? '' : `Magnification ${magnification}×. `;
      return `${factor}Requires ${display.length(backFocusMm)} to the sensor, from its ${DATUM_WORDS[datum]}`;
    }
    return corrector && (corrector.note === CATALOGUE_NOTE ? CATALOGUE_NOTE : 'From your drawer.');
  });
  const cameraSaid = $derived(
    start.camera &&
      `${display.length(start.camera.lengthMm)} from its flange to the sensor.${start.camera.note === CATALOGUE_NOTE ? ` ${CATALOGUE_NOTE}` : ''}`
  );

  async function submit(event: SubmitEvent & { currentTarget: HTMLFormElement }) {
    event.preventDefault();
    start.leave('host', 'corrector', 'camera');
    const wrong = fieldInError(event.currentTarget);
    if (wrong !== undefined || !start.train) {
      message = wrong ?? start.complaint ?? `Still needed: ${start.missing}.`;
      const steps = { host: hostStep, corrector: correctorStep, camera: cameraStep };
      if (wrong === undefined) steps[start.next ?? 'camera'].focus();
      return;
    }
    busy = true;
    try {
      await oncreate(newTrains.begin(start.train));
      sessionStorage.removeItem(KEPT_AS);
      start.clear();
    } catch (error) {
      message = reasonOf(error);
    } finally {
      busy = false;
    }
  }
</script>

<form
  class="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,24rem)]"
  onsubmit={submit}
  oninput={() => (message = undefined)}
>
  <div class="grid content-start gap-7">
    <ol class="grid content-start gap-7">
      <StartStep
        bind:this={hostStep}
        bind:text={() => draft.hostText, (text) => ([draft.hostText, draft.host] = [text, undefined])}
        title="Telescope or lens"
        placeholder="100 f/6, or refractor 115/805, or lens 85 f/2"
        choices={hostChoices(draft.host ? '' : draft.hostText, hosts)}
        onpick={(choice) => start.pickHost(choice)}
        said={hostSaid}
        isSaid={start.host !== undefined}
        wrong={start.wrong('host')}
        hint="Aperture with focal ratio or focal length, with or without a name."
        onleave={() => start.leave('host')}
        otherwise={start.asLens && {
          words: `Or a lens of ${display.length(start.asLens.focalLengthMm, 0)}?`,
          onchoose: () => start.takeAsLens()
        }}
      />
      <StartStep
        bind:this={correctorStep}
        bind:text={() => draft.correctorText, (text) => ([draft.correctorText, draft.corrector] = [text, undefined])}
        title="Reducer, flattener or coma corrector"
        placeholder="55, or pick one"
        choices={correctorChoices(draft.corrector ? '' : draft.correctorText, drawer.plain, start.hostKind)}
        onpick={(choice) => start.pickCorrector(choice)}
        said={correctorSaid}
        isSaid={start.isCorrectorSaid}
        wrong={start.wrong('corrector')}
        hint="Its back focus, as in its leaflet, or pick it."
        onleave={() => start.leave('corrector')}
      />
      <StartStep
        bind:this={cameraStep}
        bind:text={() => draft.cameraText, (text) => ([draft.cameraText, draft.camera] = [text, undefined])}
        title="Camera"
        placeholder="17.5, or DSLR 44.0, or pick one"
        choices={cameraChoices(draft.camera ? '' : draft.cameraText, drawer.plain)}
        onpick={(choice) => start.pickCamera(choice)}
        said={cameraSaid}
        isSaid={start.camera !== undefined}
        wrong={start.wrong('camera')}
        hint="Its flange distance: from the front face to the sensor."
        onleave={() => start.leave('camera')}
      />
    </ol>
    <StartDetails {start} />
    <dl class="text-muted grid max-w-prose gap-2 pl-10 text-xs">
      <div>
        <dt class="text-base-content inline font-semibold">Back focus</dt>
        <dd class="inline">
          is the distance from a corrector to the sensor, usually from the shoulder where the next part seats.
        </dd>
      </div>
      <div>
        <dt class="text-base-content inline font-semibold">Flange distance</dt>
        <dd class="inline">is the distance from the camera’s front face to the sensor.</dd>
      </div>
      <div>
        <dt class="text-base-content inline font-semibold">Focal ratio</dt>
        <dd class="inline">is focal length by aperture: 600 mm of focal length on 100 mm of aperture is f/6.</dd>
      </div>
    </dl>
  </div>

  <StartAside {start} bind:name={draft.name} suggestedName={start.suggestedName} {message} {busy} />
</form>
