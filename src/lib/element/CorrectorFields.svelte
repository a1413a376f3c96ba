<script lang="ts">
  import type { Corrector, HostRow, Port, PublishedFigure } from '@lodestone/core/train';
  import { useEditing } from './editing.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import Term from '$lib/ui/Term.svelte';
  import DatumPicture, { type Datum } from './DatumPicture.svelte';
  import Field from './Field.svelte';
  import ListEditor from './ListEditor.svelte';
  import Tick from './Tick.svelte';

  interface Props {
    at: string;
    corrector: Corrector;
    /** Its camera face, and what it is called. */
    port: Port | undefined;
    name: string;
  }
  const { at, corrector, port, name }: Props = $props();
  const editing = useEditing();
  const display = useDisplay();
  const notices = useNotices();

  type Asks = 'one' | 'range' | 'free';
  const asks = $derived<Asks>(corrector.rangeMm ? 'range' : corrector.free ? 'free' : 'one');

  /** The three ways of asking exclude each other, so changing between them is one step. */
  function askFor(way: string) {
    const { backFocusMm, rangeMm, free: _free, ...rest } = corrector;
    const middle = backFocusMm ?? (rangeMm ? (rangeMm[0] + rangeMm[1]) / 2 : 55);
    const to: Corrector =
      way === 'range'
        ? { rangeMm: [middle - 5, middle + 5], ...rest }
        : way === 'free'
          ? { free: true, ...rest }
          : { backFocusMm: middle, ...rest };
    notices.complain(editing.dispatch({ op: 'set', at, path: ['corrector'], to }, 'Change how back focus is stated'));
  }

  const setRange = (end: 0 | 1) => (to: string | number | undefined) => {
    if (typeof to !== 'number' || !corrector.rangeMm) return 'Both ends are needed.';
    const rangeMm = corrector.rangeMm.with(end, to);
    return editing.dispatch(
      { op: 'set', at, path: ['corrector', 'rangeMm'], to: rangeMm },
      'Change the range',
      `range-${end}`
    );
  };

  /** For the narrow column of a list. */
  const PLANES = [
    ['shoulder', 'shoulder'],
    ['thread-tip', 'thread tip'],
    ['last-surface', 'last surface']
  ] as const;
  const datum = $derived(corrector.datum ?? 'shoulder');
  const chooseDatum = (to: Datum) =>
    notices.complain(
      editing.dispatch(
        { op: 'set', at, path: ['corrector', 'datum'], to: to === 'shoulder' ? undefined : to },
        'Change measured from'
      )
    );
  const freshFigure = (): PublishedFigure => ({ source: 'leaflet', backFocusMm: corrector.backFocusMm ?? 55 });
  const freshRow = (): HostRow => ({
    focalLengthMm: editing.focalLengthMm ?? 500,
    backFocusMm: corrector.backFocusMm ?? 55
  });
</script>

<label class="grid gap-0.5">
  <span class="text-muted text-xs">Back focus is stated as</span>
  <select class="select select-sm w-full" value={asks} onchange={({ currentTarget }) => askFor(currentTarget.value)}>
    <option value="one">one length</option>
    <option value="range">a range</option>
    <option value="free">anything will do</option>
  </select>
</label>

{#if asks === 'range' && corrector.rangeMm}
  <div class="grid grid-cols-2 gap-2">
    <Field
      label="From"
      kind="length"
      {at}
      path={['corrector', 'rangeMm']}
      current={corrector.rangeMm[0]}
      required
      commit={setRange(0)}
    />
    <Field
      label="To"
      kind="length"
      {at}
      path={['corrector', 'rangeMm']}
      current={corrector.rangeMm[1]}
      required
      commit={setRange(1)}
    />
  </div>
{:else if asks === 'one'}
  <div class="grid grid-cols-2 gap-2">
    <Field
      label="Back focus"
      kind="length"
      {at}
      path={['corrector', 'backFocusMm']}
      current={corrector.backFocusMm}
      required
    />
    <Field label="Tolerance ±" kind="length" {at} path={['corrector', 'toleranceMm']} current={corrector.toleranceMm} />
    <Field
      label="Differs by unit ±"
      kind="length"
      {at}
      path={['corrector', 'uncertaintyMm']}
      current={corrector.uncertaintyMm}
      hint="uncertainty of the figure"
    />
    <Field
      label="Allows for glass"
      kind="length"
      {at}
      path={['corrector', 'allowedGlassMm']}
      current={corrector.allowedGlassMm}
      hint="shift it already contains"
    />
  </div>
{/if}

{#if asks !== 'free'}
  <div class="grid gap-0.5" data-field="corrector.datum">
    <Term label="Measured from" word="datum" />
    <DatumPicture
      {datum}
      backFocusMm={corrector.backFocusMm}
      datumOffsetMm={corrector.datumOffsetMm}
      {port}
      {name}
      onchoose={chooseDatum}
    />
  </div>
  <div class="grid grid-cols-2 gap-2">
    {#if datum !== 'shoulder'}
      <Field
        label={datum === 'thread-tip' ? 'Male thread length' : 'Depth of last lens surface'}
        kind="length"
        {at}
        path={['corrector', 'datumOffsetMm']}
        current={corrector.datumOffsetMm}
        hint={datum === 'last-surface' ? 'negative when it is proud of the shoulder' : 'empty: that of its camera face'}
      />
    {/if}
  </div>
{/if}

<div class="grid grid-cols-2 gap-2">
  <Field
    label="Tuned by testing"
    kind="length"
    {at}
    path={['corrector', 'tunedMm']}
    current={corrector.tunedMm}
    hint="same datum, without glass"
  />
  <Field
    label="Magnification"
    kind="number"
    unit="×"
    {at}
    path={['corrector', 'magnification']}
    current={corrector.magnification}
  />
  <Field
    label="Image circle"
    kind="length"
    {at}
    path={['corrector', 'imageCircleMm']}
    current={corrector.imageCircleMm}
  />
</div>
<Tick label="Flattens the field" {at} path={['corrector', 'flattensField']} current={corrector.flattensField} />

{#if asks === 'one'}
  <p class="text-muted text-xs">Its maker’s table, where the back focus depends on the host ({display.unit}):</p>
  <ListEditor
    title="Back focus by host"
    entryName="row"
    {at}
    path={['corrector', 'byHost']}
    entries={corrector.byHost ?? []}
    columns={[
      { key: 'focalLengthMm', label: 'Focal length', kind: 'length' },
      { key: 'fRatio', label: 'f/', kind: 'number' },
      { key: 'apertureMm', label: 'Aperture', kind: 'length' },
      { key: 'backFocusMm', label: 'Back focus', kind: 'length', required: true }
    ]}
    fresh={freshRow}
  />
{/if}

{#if asks !== 'free'}
  <p class="text-muted text-xs">What else is published, and where:</p>
  <ListEditor
    title="Other published figures"
    entryName="figure"
    {at}
    path={['corrector', 'published']}
    entries={corrector.published ?? []}
    columns={[
      { key: 'source', label: 'Source', kind: 'text', required: true },
      { key: 'backFocusMm', label: 'Length', kind: 'length', required: true },
      { key: 'datum', label: 'From', kind: 'choice', options: PLANES, width: 'w-[6.2rem]' },
      { key: 'datumOffsetMm', label: 'Depth', kind: 'length' }
    ]}
    fresh={freshFigure}
  />
{/if}
