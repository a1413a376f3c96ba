<script lang="ts">
  import { GLASS_RULES, HOST_KIND_WORDS, HOST, TRAIN, focalRatio } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import Choice from '$lib/element/Choice.svelte';
  import CorrectorFields from '$lib/element/CorrectorFields.svelte';
  import { CABLES, orNothing } from '$lib/element/fasteners.ts';
  import Field from '$lib/element/Field.svelte';
  import ListEditor from '$lib/element/ListEditor.svelte';
  import Pieces from '$lib/element/Pieces.svelte';
  import Section from '$lib/element/Section.svelte';
  import Sources from '$lib/element/Sources.svelte';
  import Tick from '$lib/element/Tick.svelte';

  const train = useTrain();
  const host = $derived(train.document.host);
  const pieces = $derived(host.detachable ?? []);
  const hasOwnCorrector = $derived(host.corrector !== undefined);

  const MOUNT = [
    ['tubeMassG', 'Tube weighs', 'number'],
    ['tubeAheadMm', 'its centre, ahead of the face', 'length'],
    ['saddleAheadMm', 'declination axis, ahead', 'length'],
    ['slideMm', 'can slide either way by', 'length'],
    ['aboveAxisMm', 'tube from the polar axis', 'length'],
    ['counterweightG', 'Counterweight', 'number'],
    ['counterweightMm', 'is from the axis at', 'length']
  ] as const;

  function setTags(to: string | number | undefined): string | undefined {
    const tags = String(to ?? '')
      .split(',')
      .map((each) => each.trim().replace(/\s+/g, ' '))
      .filter(Boolean);
    const once = tags.filter((each, at) => tags.indexOf(each) === at);
    return train.dispatch(
      { op: 'set', at: TRAIN, path: ['tags'], to: once.length === 0 ? undefined : once },
      'Change the tags',
      'tags'
    );
  }
</script>

<p class="text-muted text-xs">Host</p>
<h2 class="mb-2 text-lg font-semibold">{host.name}</h2>
<div class="grid gap-2 pb-3">
  <Field label="Name" kind="text" at={HOST} path={['name']} current={host.name} required />
  <Choice label="Kind" at={HOST} path={['kind']} current={host.kind} options={Object.entries(HOST_KIND_WORDS)} />
  <div class="grid grid-cols-2 gap-2">
    <Field label="Aperture" kind="length" at={HOST} path={['apertureMm']} current={host.apertureMm} required />
    <Field
      label="Focal length"
      kind="length"
      at={HOST}
      path={['focalLengthMm']}
      current={host.focalLengthMm}
      required
    />
  </div>
  <p class="text-muted text-xs">f/{focalRatio(train.document).toFixed(2)}</p>
  <PortEditor
    label="Camera face"
    port={host.camera}
    optional={false}
    commit={(to) =>
      train.dispatch({ op: 'set', at: HOST, path: ['camera'], to }, 'Change the host’s camera face', 'host-camera')}
  />
  <Tick label="Its field is flat already" at={HOST} path={['flatField']} current={host.flatField} />
</div>

<Pieces
  at={HOST}
  {pieces}
  about="The mount of a lens, a visual back: all that is stated of the host is with it on. Taken off, its length is added to what is required."
/>

<Sources at={HOST} sources={host.sources ?? []} usual="back-focus" />

<Section title="Focuser" gist={host.focuser ? '' : 'not stated'}>
  <div class="grid grid-cols-2 gap-2">
    <Field label="Travel" kind="length" at={HOST} path={['focuser', 'travelMm']} current={host.focuser?.travelMm} />
    <Field
      label="Carries at most"
      kind="number"
      unit="kg"
      at={HOST}
      path={['focuser', 'maxLoadKg']}
      current={host.focuser?.maxLoadKg}
    />
  </div>
  <Field
    label="Focus behind the racked-in face"
    kind="length"
    at={HOST}
    path={['focuser', 'focusFromRackedInMm']}
    current={host.focuser?.focusFromRackedInMm}
    hint="or its bounds, where it was only tried"
  />
  <div class="grid grid-cols-2 gap-2">
    <Field label="At least" kind="length" at={HOST} path={['focuser', 'focusFrom']} current={host.focuser?.focusFrom} />
    <Field label="At most" kind="length" at={HOST} path={['focuser', 'focusTo']} current={host.focuser?.focusTo} />
    <Field
      label="One step moves"
      kind="number"
      unit="µm"
      at={HOST}
      path={['focuser', 'umPerStep']}
      current={host.focuser?.umPerStep}
    />
    <Field
      label="Backlash, steps"
      kind="number"
      at={HOST}
      path={['focuser', 'backlashSteps']}
      current={host.focuser?.backlashSteps}
    />
  </div>
</Section>

<Section title="Light" gist={host.openings || host.obstruction ? '' : 'aperture alone'}>
  <div class="grid grid-cols-2 gap-2">
    <Field
      label="Central obstruction"
      kind="number"
      at={HOST}
      path={['obstruction']}
      current={host.obstruction}
      hint="share of the diameter"
    />
    <Field
      label="Exit pupil ahead"
      kind="length"
      at={HOST}
      path={['exitPupilMm']}
      current={host.exitPupilMm}
      hint="of its own focus"
    />
    <Field label="Stopped down to f/" kind="number" at={HOST} path={['workingFRatio']} current={host.workingFRatio} />
    <Field
      label="Corners are to get"
      kind="number"
      unit="%"
      at={TRAIN}
      path={['cornerLightPercent']}
      current={train.document.cornerLightPercent}
      hint="of the light; 90 where empty"
    />
  </div>
  <p class="text-muted text-xs">Draw tube, baffles, and what else of it the light passes:</p>
  <ListEditor
    title="Openings of the host"
    entryName="opening"
    at={HOST}
    path={['openings']}
    entries={host.openings ?? []}
    columns={[
      { key: 'name', label: 'Name', kind: 'text', required: true },
      { key: 'clearMm', label: 'Clear', kind: 'length', required: true },
      { key: 'behindFaceMm', label: 'Behind the face', kind: 'length', required: true }
    ]}
    fresh={() => ({ name: 'Draw tube', clearMm: 50, behindFaceMm: -20 })}
    toDocument={(openings) => (openings.length === 0 ? undefined : openings)}
  />
</Section>

<Section title="Near the train" gist={host.neighbours?.map(({ name }) => name).join(', ') ?? 'nothing stated'}>
  <p class="text-muted text-xs">
    What the guide camera could run into when the train is turned. Angles as the face shows them: seen from the camera,
    anticlockwise from the right.
  </p>
  <ListEditor
    title="Near the train"
    entryName="neighbour"
    at={HOST}
    path={['neighbours']}
    entries={host.neighbours ?? []}
    columns={[
      { key: 'name', label: 'Name', kind: 'text', required: true },
      { key: 'atDeg', label: 'At °', kind: 'number', required: true },
      { key: 'widthDeg', label: 'Wide °', kind: 'number', required: true },
      { key: 'fromAxisMm', label: 'From axis', kind: 'length', required: true }
    ]}
    fresh={() => ({ name: 'Focus motor', atDeg: 0, widthDeg: 40, fromAxisMm: 60 })}
    toDocument={(neighbours) => (neighbours.length === 0 ? undefined : neighbours)}
  />
</Section>

<Section title="On its mount" gist={host.mount ? '' : 'not stated'}>
  <p class="text-muted text-xs">
    For the balance. Places are told from the camera face toward the sky. Finder, rings and what else hangs on the tube:
  </p>
  <ListEditor
    title="What hangs on the tube"
    entryName="weight"
    at={HOST}
    path={['attached']}
    entries={host.attached ?? []}
    columns={[
      { key: 'name', label: 'Name', kind: 'text', required: true },
      { key: 'massG', label: 'Mass g', kind: 'number', required: true },
      { key: 'alongMm', label: 'Ahead', kind: 'length', required: true }
    ]}
    fresh={() => ({ name: 'Finder', massG: 500, alongMm: 100 })}
    toDocument={(hung) => (hung.length === 0 ? undefined : hung)}
  />
  <p class="text-muted text-xs">Cables plugged into it (a focus motor, a dew heater):</p>
  <ListEditor
    title="Cables of the host"
    entryName="cable"
    at={HOST}
    path={['cables']}
    entries={host.cables ?? []}
    columns={CABLES}
    fresh={() => ({ name: 'Motor', atDeg: 0 })}
    toDocument={orNothing}
  />
  {#if host.mount}
    <div class="grid grid-cols-2 gap-2">
      {#each MOUNT as [key, label, kind] (key)}
        <Field
          {label}
          {kind}
          {...kind === 'number' ? { unit: 'g' } : {}}
          at={HOST}
          path={['mount', key]}
          current={host.mount[key]}
          required={['tubeMassG', 'tubeAheadMm', 'saddleAheadMm'].includes(key)}
        />
      {/each}
    </div>
    <button
      class="btn btn-ghost btn-xs justify-self-start"
      onclick={() => train.dispatch({ op: 'set', at: HOST, path: ['mount'], to: undefined }, 'Drop the mount')}
      >Leave the mount out</button
    >
  {:else}
    <button
      class="btn btn-outline btn-xs justify-self-start"
      onclick={() =>
        train.dispatch(
          {
            op: 'set',
            at: HOST,
            path: ['mount'],
            to: { tubeMassG: 4000, tubeAheadMm: 200, saddleAheadMm: 180 }
          },
          'Describe the mount'
        )}>Describe how the tube sits on it</button
    >
  {/if}
</Section>

<Section title="Back focus of its own" gist={hasOwnCorrector ? 'yes' : 'no'} open={hasOwnCorrector}>
  {#if host.corrector}
    <CorrectorFields at={HOST} corrector={host.corrector} port={host.camera} name={host.name} />
    <button
      class="btn btn-ghost btn-xs justify-self-start"
      onclick={() =>
        train.dispatch({ op: 'set', at: HOST, path: ['corrector'], to: undefined }, 'Drop the host’s back focus')}
    >
      It has none
    </button>
  {:else}
    <p class="text-muted text-xs">For a camera lens or a flat-field telescope, which sets the back focus itself.</p>
    <button
      class="btn btn-outline btn-xs justify-self-start"
      onclick={() =>
        train.dispatch(
          { op: 'set', at: HOST, path: ['corrector'], to: { backFocusMm: 55 } },
          'State the host’s back focus'
        )}
    >
      State one
    </button>
  {/if}
</Section>

<Section title="Train" gist={train.document.glassRule ?? 'paraxial'}>
  <Field label="Name of the train" kind="text" at={TRAIN} path={['name']} current={train.document.name} required />
  <Choice
    label="Focus shift of glass by"
    at={TRAIN}
    path={['glassRule']}
    current={train.document.glassRule ?? 'paraxial'}
    unset="paraxial"
    options={GLASS_RULES}
  />
  <Field
    label="Tags"
    kind="text"
    at={TRAIN}
    path={['tags']}
    current={train.document.tags?.join(', ')}
    hint="with commas between: galaxies, dark site"
    commit={setTags}
  />
  <Field label="Note" kind="text" at={TRAIN} path={['note']} current={train.document.note} />
</Section>
