<script lang="ts">
  import { ASSUMED_CALIPER_MM, EXPANSIONS } from '@lodestone/core/doubt';
  import {
    KINDS,
    KIND_CHOICES,
    bareLengthOf,
    cameraPort,
    correctorOf,
    detachablesOf,
    glassOf,
    isBody,
    isCamera,
    isShim,
    skyPort,
    type Attached,
    type Glass,
    type Port,
    type SolidElement
  } from '@lodestone/core/train';
  import { isCounted, roleOf } from '@lodestone/core/length';
  import { portInWords } from '@lodestone/core/joint';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import Choice from './Choice.svelte';
  import CorrectorFields from './CorrectorFields.svelte';
  import { useEditing } from './editing.ts';
  import Field from './Field.svelte';
  import ListEditor, { type Column } from './ListEditor.svelte';
  import OtherFigures from './OtherFigures.svelte';
  import Sources from './Sources.svelte';
  import Pieces from './Pieces.svelte';
  import Plates from './Plates.svelte';
  import SchemaSection from './SchemaSection.svelte';
  import Section from './Section.svelte';
  import { CABLES, FASTENERS, HOLDER_SCREWS, orNothing } from './fasteners.ts';
  import { SECTIONS } from './sections.ts';
  import Tick from './Tick.svelte';

  interface Props {
    element: SolidElement;
    /** It stands in a train; else it is a part of the drawer, whose measurements are a series of their own. */
    inTrain?: boolean;
  }
  const { element, inTrain = true }: Props = $props();
  const editing = useEditing();
  const display = useDisplay();

  const at = $derived(element.id);
  const set = (path: [string, ...string[]], to: unknown, label: string, run?: string) =>
    editing.dispatch({ op: 'set', at, path, to }, label, run);

  const measured = $derived(element.measured);
  const plates = $derived(glassOf(element) ?? []);
  const pieces = $derived(detachablesOf(element));
  const corrector = $derived(correctorOf(element));
  const pickoff = $derived(isBody(element) ? element.pickoff : undefined);
  const HUNG: Column<Attached>[] = [
    { key: 'name', label: 'Name', kind: 'text', required: true },
    { key: 'massG', label: 'Mass g', kind: 'number', required: true },
    { key: 'alongMm', label: 'From its sky face', kind: 'length', required: true }
  ];
  const MATERIALS = Object.entries(EXPANSIONS).map(([material, { words }]) => [material, words] as const);
  const assemblyGist = ({ fasteners = [], cables = [], material }: Exclude<SolidElement, { kind: 'shim' }>): string =>
    [
      ...(material === undefined ? [] : [EXPANSIONS[material].words]),
      ...(fasteners.length > 0 ? [`${fasteners.reduce((sum, { count }) => sum + count, 0)} screws`] : []),
      ...(cables.length > 0 ? [`${cables.length} ${cables.length === 1 ? 'cable' : 'cables'}`] : [])
    ].join(', ');
  const ROLES = [
    ['filter', 'filter'],
    ['window', 'window']
  ] as const;
  /** Only a camera's plate may be its own window. */
  const role: Column<Glass> = {
    key: 'role',
    label: 'Is a',
    kind: 'choice',
    options: ROLES,
    inForce: (plate) => roleOf(element, plate),
    width: 'min-w-20'
  };
  const plateColumns = $derived<Column<Glass>[]>([
    { key: 'slot', label: 'Slot', kind: 'number', width: 'min-w-8' },
    { key: 'name', label: 'Name', kind: 'text', width: 'min-w-24' },
    { key: 'thicknessMm', label: 'Thick', kind: 'length', required: true },
    ...(isCamera(element) ? [role] : []),
    { key: 'counted', label: 'Counted', kind: 'tick', inForce: (plate) => isCounted(element, plate) },
    { key: 'index', label: 'Index', kind: 'number' },
    { key: 'glass', label: 'or glass', kind: 'text', width: 'min-w-20' },
    { key: 'clearMm', label: 'Clear', kind: 'length' },
    { key: 'fromSkyMm', label: 'From sky', kind: 'length', width: 'min-w-16' },
    { key: 'toleranceMm', label: '± thick', kind: 'length' },
    { key: 'blocksInfrared', label: 'Blocks IR', kind: 'tick', width: 'min-w-16' },
    { key: 'format', label: 'Format', kind: 'text', width: 'min-w-16' },
    { key: 'massG', label: 'Mass g', kind: 'number', width: 'min-w-12' },
    { key: 'passband', label: 'Passband', kind: 'text', width: 'min-w-20' },
    { key: 'towardCamera', label: 'To the camera', kind: 'text', width: 'min-w-24' },
    { key: 'partId', label: 'Number', kind: 'text', width: 'min-w-16' }
  ]);
  const BODY_KINDS = KIND_CHOICES.filter(([kind]) => !['gap', 'shim', 'camera'].includes(kind));

  function keepMeasured(to: string | number | undefined): string | undefined {
    const reading =
      typeof to === 'number' ? { uncertaintyMm: ASSUMED_CALIPER_MM, ...measured, lengthMm: to } : undefined;
    return set(['measured'], reading, 'Change the measured length', `measured-${at}`);
  }

  const portGist = (port: Port | undefined) => (port ? portInWords(port) : 'not known');
  const slots = $derived(
    [...new Set(plates.flatMap(({ slot }) => (slot === undefined ? [] : [slot])))].sort((a, b) => a - b)
  );
  const nextSlot = $derived((slots.at(-1) ?? 0) + 1);
  const freshPlate = (): Glass =>
    element.kind === 'filter-wheel' || element.kind === 'filter-drawer'
      ? { slot: nextSlot, name: `Filter ${nextSlot}`, thicknessMm: 2 }
      : { name: 'Glass', thicknessMm: 2 };
</script>

<div class="grid gap-2 pb-3">
  <Field label="Name" kind="text" {at} path={['name']} current={element.name} required />
  <div class="grid grid-cols-2 gap-2">
    <Field
      label={element.kind === 'camera' ? 'Flange to sensor' : 'Published length'}
      kind="length"
      {at}
      path={['lengthMm']}
      current={element.lengthMm}
      required
      hint={element.kind === 'camera' ? undefined : 'What screws in does not count: 12 − 3.5.'}
    />
    <Field label="Tolerance ±" kind="length" {at} path={['toleranceMm']} current={element.toleranceMm} />
    {#if inTrain}
      <Field
        label="Measured length"
        kind="length"
        {at}
        path={['measured', 'lengthMm']}
        current={measured?.lengthMm}
        commit={keepMeasured}
      />
      {#if measured}
        <Field
          label="Its U (k = 2)"
          kind="length"
          {at}
          path={['measured', 'uncertaintyMm']}
          current={measured.uncertaintyMm}
        />
        <Field label="Instrument" kind="text" {at} path={['measured', 'instrument']} current={measured.instrument} />
        <Field
          label="Its own error ±"
          kind="length"
          {at}
          path={['measured', 'instrumentErrorMm']}
          current={measured.instrumentErrorMm}
          hint="part of U; all its readings share it"
        />
      {/if}
    {/if}
  </div>
  {#if inTrain && measured && Math.abs(measured.lengthMm - element.lengthMm) > 0.0005}
    <p class="text-muted text-xs">
      Measured {display.length(Math.abs(measured.lengthMm - element.lengthMm), display.unit === 'mm' ? 3 : 4)}
      {measured.lengthMm > element.lengthMm ? 'longer' : 'shorter'} than published; the measured length counts.
    </p>
  {/if}
  {#if isBody(element)}
    <Choice label="Kind" {at} path={['kind']} current={element.kind} options={BODY_KINDS} />
  {/if}
</div>

{#if isBody(element) && (element.kind === 'corrector' || corrector)}
  <Section title="Back focus" open>
    {#if corrector}
      <CorrectorFields {at} {corrector} port={cameraPort(element)} name={element.name} />
    {:else}
      <button
        class="btn btn-outline btn-xs justify-self-start"
        onclick={() => set(['corrector'], { backFocusMm: 55 }, 'State a back focus')}
      >
        State its back focus
      </button>
    {/if}
  </Section>
{/if}

{#if isBody(element) || isCamera(element)}
  <Section
    title="Faces"
    open={!corrector}
    gist={`${portGist(skyPort(element))}${isBody(element) ? ` · ${portGist(cameraPort(element))}` : ''}`}
  >
    <PortEditor
      label="Sky face"
      port={element.sky}
      commit={(to) => set(['sky'], to, 'Change the sky face', `sky-${at}`)}
    />
    {#if isBody(element)}
      <PortEditor
        label="Camera face"
        port={element.camera}
        commit={(to) => set(['camera'], to, 'Change the camera face', `camera-${at}`)}
      />
      <Tick label="May be turned round" {at} path={['reversible']} current={element.reversible} />
    {/if}
  </Section>

  <Pieces
    {at}
    {pieces}
    {element}
    lengthMm={bareLengthOf(element)}
    about="A nose, a tilt plate, the adapter it came with: the length above is without it, and it adds its own while it is on."
  />

  <OtherFigures {at} {element} />
  <Sources {at} sources={element.sources ?? []} usual={corrector ? 'back-focus' : 'length'} />

  <Section
    title="Glass in the beam"
    gist={plates.length === 0 ? 'none' : `${plates.length} ${plates.length === 1 ? 'plate' : 'plates'}`}
  >
    <ListEditor
      title="Glass"
      entryName="plate"
      {at}
      path={['glass']}
      entries={plates}
      columns={plateColumns}
      fresh={freshPlate}
    />
    {#if isBody(element) && KINDS[element.kind].holds}
      {@const { holder } = element}
      <div class="grid grid-cols-3 gap-2">
        <Field label="Slots" kind="whole" {at} path={['holder', 'slots']} current={holder?.slots} />
        <Field label="Format" kind="text" {at} path={['holder', 'format']} current={holder?.format} />
        <Field label="Thickest glass" kind="length" {at} path={['holder', 'thickestMm']} current={holder?.thickestMm} />
      </div>
    {/if}
    {#if slots.length > 0}
      <label class="grid gap-0.5" data-field="designSlot">
        <span class="text-muted text-xs">Slot the spacing is made for</span>
        <select
          class="select select-sm w-full"
          value={String(element.designSlot ?? '')}
          onchange={({ currentTarget: { value } }) =>
            set(['designSlot'], value === '' ? undefined : Number(value), 'Change the design slot')}
        >
          <option value="">the glass most slots share</option>
          {#each slots as slot (slot)}
            <option value={String(slot)}
              >slot {slot}, {plates.find((plate) => plate.slot === slot)?.name ?? 'unnamed'}</option
            >
          {/each}
        </select>
      </label>
    {/if}
    <p class="text-muted text-xs">
      “Counted”: the maker’s length already allows for it, as it does for a camera’s own window.
    </p>
  </Section>
{/if}

{#each SECTIONS.filter(({ applies }) => applies(element)) as spec (spec.title)}
  <SchemaSection {spec} {element}>
    {#if spec.facet?.key === 'pickoff' && pickoff}
      <Field
        label="Guide camera, flange to sensor"
        kind="length"
        {at}
        path={['pickoff', 'guideCamera', 'flangeMm']}
        current={pickoff.guideCamera?.flangeMm}
        commit={(to) =>
          editing.dispatch(
            {
              op: 'set',
              at,
              path: ['pickoff', 'guideCamera'],
              to: to === undefined ? undefined : { ...pickoff.guideCamera, flangeMm: to }
            },
            'Describe the guide camera',
            `${at} guide camera`
          )}
      />
      {#if pickoff.guideFocus}
        <div class="grid grid-cols-2 gap-2">
          <Field
            label="Guide focus from"
            kind="length"
            {at}
            path={['pickoff', 'guideFocus', 'minMm']}
            current={pickoff.guideFocus.minMm}
            required
          />
          <Field
            label="to"
            kind="length"
            {at}
            path={['pickoff', 'guideFocus', 'maxMm']}
            current={pickoff.guideFocus.maxMm}
            required
          />
        </div>
      {:else}
        <button
          class="btn btn-ghost btn-xs justify-self-start"
          onclick={() => set(['pickoff', 'guideFocus'], { minMm: 30, maxMm: 40 }, 'State the guide focus range')}
        >
          State where the guide camera can focus
        </button>
      {/if}
      <PortEditor
        label="Holds the guide camera by"
        port={pickoff.guidePort}
        commit={(to) => set(['pickoff', 'guidePort'], to, 'State what holds the guide camera')}
      />
      <ListEditor
        title="Tubes before the guide camera"
        entryName="tube"
        {at}
        path={['pickoff', 'tubes']}
        entries={pickoff.tubes ?? []}
        columns={[
          { key: 'name', label: 'Name', kind: 'text' },
          { key: 'lengthMm', label: 'Length', kind: 'length', required: true }
        ]}
        fresh={() => ({ lengthMm: 10 })}
        toDocument={(tubes) => (tubes.length === 0 ? undefined : tubes)}
      />
      {#if pickoff.guideCamera}
        {#each [['widthMm', 'Guide sensor, width'], ['heightMm', 'height'], ['pixelUm', 'pixel']] as const as [key, label] (key)}
          <Field
            {label}
            kind={key === 'pixelUm' ? 'number' : 'length'}
            {...key === 'pixelUm' ? { unit: 'µm' } : {}}
            {at}
            path={['pickoff', 'guideCamera', 'sensor', key]}
            current={pickoff.guideCamera.sensor?.[key]}
            commit={(to) =>
              set(
                ['pickoff', 'guideCamera', 'sensor'],
                to === undefined
                  ? undefined
                  : { widthMm: 7, heightMm: 5, pixelUm: 3, ...pickoff.guideCamera?.sensor, [key]: to },
                'Describe the guide sensor'
              )}
          />
        {/each}
      {/if}
    {:else if spec.title === 'Body'}
      {#if !isShim(element)}
        <p class="text-muted text-xs">What hangs on it without standing in the beam:</p>
        <ListEditor
          title="What hangs on it"
          entryName="weight"
          {at}
          path={['attached']}
          entries={element.attached ?? []}
          columns={HUNG}
          fresh={() => ({ name: 'Guide camera', massG: 100, alongMm: 0 })}
          toDocument={(hung) => (hung.length === 0 ? undefined : hung)}
        />
      {/if}
      <Tick label="Removable: the train can do without it" {at} path={['removable']} current={element.removable} />
      {#if inTrain}
        <div class="grid grid-cols-2 gap-2">
          <Field label="Part number in the drawer" kind="text" {at} path={['partId']} current={element.partId} />
          <Field label="Copy" kind="whole" {at} path={['copy']} current={element.copy} />
        </div>
      {/if}
    {/if}
  </SchemaSection>
{/each}
{#if !isShim(element)}
  <Section title="Putting it together" gist={assemblyGist(element)}>
    <div class="grid grid-cols-2 gap-2">
      <Choice
        label="Made of"
        {at}
        path={['material']}
        current={element.material ?? ''}
        unset=""
        options={[['', 'not stated'], ...MATERIALS]}
      />
      <Choice
        label="Its length is within ±"
        {at}
        path={['spread']}
        current={element.spread ?? 'rectangular'}
        unset="rectangular"
        options={[
          ['rectangular', 'anywhere alike'],
          ['triangular', 'mostly near the middle'],
          ['normal', 'as 95 % of a normal error']
        ]}
      />
    </div>
    <ListEditor
      title="Screws of its cover"
      entryName="screw"
      {at}
      path={['fasteners']}
      entries={element.fasteners ?? []}
      columns={isBody(element) && KINDS[element.kind].holds ? HOLDER_SCREWS : FASTENERS}
      fresh={() => ({ thread: 'M3', count: 4 })}
      toDocument={orNothing}
    />
    <ListEditor
      title="Cables"
      entryName="cable"
      {at}
      path={['cables']}
      entries={element.cables ?? []}
      columns={CABLES}
      fresh={() => ({ name: 'USB', atDeg: 90 })}
      toDocument={orNothing}
    />
    <Plates {element} />
    <ListEditor
      title="To mind"
      entryName="caution"
      {at}
      path={['cautions']}
      entries={(element.cautions ?? []).map((text) => ({ text }))}
      columns={[{ key: 'text', label: 'To mind', kind: 'text', required: true }]}
      fresh={() => ({ text: 'Mind the ribbon cable.' })}
      toDocument={(list) => orNothing(list.map(({ text }) => text))}
    />
  </Section>
{/if}
<Section title="Note" gist={element.note}>
  <Field label="Note" kind="text" {at} path={['note']} current={element.note} />
</Section>
