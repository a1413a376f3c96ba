<script lang="ts">
  import { wholeDegrees } from '@lodestone/core/frame';
  import { LEAST_LATITUDE_DEG } from '@lodestone/core/sky';
  import { TRAIN, type Framing } from '@lodestone/core/train';
  import Field from '$lib/element/Field.svelte';
  import { USUAL, type FramingView } from '$lib/face/framing.svelte.ts';
  import { findObjects, objectInWords, sizeInWords, type SkyObject } from '$lib/face/sky.ts';
  import { useTrain } from '$lib/train/context.ts';
  import Later from '$lib/ui/Later.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import PickInput, { type Choice } from '$lib/ui/PickInput.svelte';
  import { onMount } from 'svelte';
  import FramingTime from './FramingTime.svelte';
  import { hoursInWords } from './hours.ts';

  const { framing }: { framing: FramingView } = $props();
  const train = useTrain();
  const notices = useNotices();
  const planner = () => import('$lib/workbench/RotationPlanner.svelte');

  onMount(() => void framing.open());

  const MOST_OFFERED = 40;
  let typed = $state<string>();
  const text = $derived(typed ?? (framing.object ? objectInWords(framing.object) : (framing.kept.object ?? '')));
  const choices = $derived(
    findObjects(framing.sky?.objects ?? [], typed ?? '', MOST_OFFERED).map((object): Choice<SkyObject> => ({
      id: object.id,
      label: objectInWords(object),
      hint: `${object.kind}, ${sizeInWords(object)}`,
      group: object.id.startsWith('M') ? 'Messier' : 'The bright rest',
      of: object
    }))
  );
  const complain = (refusal: string | undefined) => notices.complain(refusal);

  const { object, field, mosaic, kept } = $derived(framing);
  const camera = $derived(train.document.elements.at(-1)!);
  const panels = $derived((kept.columns ?? 1) * (kept.rows ?? 1));
  const turn = $derived(framing.turnDeg);
  const sense = (deg: number) => (deg >= 0 ? 'anticlockwise' : 'clockwise');
  const stars = $derived(framing.guideStars);
</script>

<!-- A number of the framing; one without a unit is a count. -->
{#snippet number(
  key: Exclude<keyof Framing, 'object' | 'exposures' | 'panelTimes'>,
  label: string,
  unit: string | undefined,
  current: number | undefined,
  hint?: string
)}
  <Field
    {label}
    kind={unit === undefined ? 'whole' : 'number'}
    {...unit === undefined ? {} : { unit }}
    at={TRAIN}
    path={['framing', key]}
    {current}
    {hint}
  />
{/snippet}

<h2 class="mb-1.5 text-base font-semibold">Framing</h2>
{#if !field}
  <p class="text-muted">What the camera sees is not known: describe its sensor.</p>
{:else}
  {#if framing.failed}
    <p class="text-error text-xs" role="alert">
      The catalogue could not be fetched. <button class="link-quiet" onclick={() => void framing.open()}
        >Try again</button
      >
    </p>
  {/if}
  <PickInput
    label="Object"
    placeholder="M31, Orion, NGC 7000, Moon"
    bind:text={() => text, (to) => (typed = to)}
    {choices}
    settled={typed === undefined}
    onpick={({ of }) => {
      typed = undefined;
      complain(framing.choose(of));
    }}
  />
  {#if object}
    <p class="text-muted mt-1 text-xs" data-object>
      {object.kind}, {sizeInWords(object)}; the field is {(field[0] * 60).toFixed(0)}′ × {(field[1] * 60).toFixed(0)}′:
      <span class={framing.fits ? 'text-success' : 'text-warning'}
        >{framing.fits ? 'it fits' : framing.fitsSmallest ? 'it fits when it is small' : 'it does not fit'}{panels > 1
          ? ` into ${panels} panels`
          : ''}</span
      >.
      <button class="link-quiet" onclick={() => complain(framing.choose(undefined))}>Frame nothing</button>
    </p>
    {#if object.kind === 'Sun'}
      <p class="text-warning mt-1 text-xs">
        Never point optics at the Sun without a full-aperture solar filter ahead of them.
      </p>
    {/if}
  {:else}
    <p class="text-muted mt-1 text-xs">
      Pick an object: it is drawn at its true size behind the sensor, with the stars round it.
    </p>
  {/if}
  <div class="mt-2 grid grid-cols-3 gap-2">
    {@render number(
      'objectDeg',
      'Object position angle',
      '°',
      framing.objectDeg,
      framing.objectDeg === undefined ? 'not in the catalogue' : undefined
    )}
    {@render number('topDeg', 'Sensor’s top to', '°', Number(framing.topDeg.toFixed(2)))}
    {@render number('standsDeg', 'Current angle', '°', kept.standsDeg, 'from a solved frame')}
  </div>
  <div class="mt-1.5 flex flex-wrap gap-1.5">
    <button
      class="btn btn-outline btn-xs"
      disabled={framing.objectDeg === undefined}
      onclick={() => complain(framing.lay('side'))}>Long side along it</button
    >
    <button
      class="btn btn-outline btn-xs"
      disabled={framing.objectDeg === undefined}
      onclick={() => complain(framing.lay('diagonal'))}>Diagonal along it</button
    >
    <button class="btn btn-ghost btn-xs" title="Anticlockwise" onclick={() => complain(framing.turnBy(5))}>+5°</button>
    <button class="btn btn-ghost btn-xs" title="Clockwise" onclick={() => complain(framing.turnBy(-5))}>−5°</button>
  </div>

  <h3 class="mt-3 font-semibold">Mosaic</h3>
  <div class="grid grid-cols-4 gap-2">
    {@render number('columns', 'Columns', undefined, kept.columns ?? 1)}
    {@render number('rows', 'Rows', undefined, kept.rows ?? 1)}
    {@render number('overlapPercent', 'Overlap', '%', kept.overlapPercent ?? USUAL.overlapPercent)}
    {#if !kept.exposures?.length}
      {@render number('panelMinutes', 'A panel', 'min', kept.panelMinutes ?? USUAL.panelMinutes)}
    {/if}
  </div>
  {#if mosaic}
    <p class="mt-1 text-xs" data-mosaic>
      {panels === 1 ? 'One panel' : `${panels} panels`}, {(mosaic.coversDeg[0] * 60).toFixed(0)}′ × {(
        mosaic.coversDeg[1] * 60
      ).toFixed(0)}′, {hoursInWords(framing.time.minutes)}.
      {#if object && !framing.fits}
        <button class="btn btn-outline btn-xs" onclick={() => complain(framing.cover())}>Cover {object.id}</button>
      {/if}
    </p>
  {/if}

  <FramingTime {framing} />

  <h3 class="mt-3 font-semibold">Turn the camera</h3>
  {#if turn === undefined}
    <p class="text-muted text-xs">
      Current camera angle not known: type the angle of a solved frame above, or read the frame under Light, “Spacing
      from a solved frame”.
    </p>
  {:else if Math.abs(turn) < 0.5}
    <p class="text-success text-xs" data-turn>It is at that angle.</p>
  {:else}
    <p class="text-xs" data-turn>
      By <span class="font-semibold">{Math.abs(turn).toFixed(0)}° {sense(turn)}</span>, seen from the camera.
    </p>
    <Later load={planner} of={{ id: camera.id, wantedDeg: turn, onturned: () => complain(framing.arrived()) }} />
  {/if}
  {#each framing.clashes as { name } (name)}
    <p class="text-warning mt-1 text-xs" data-clash>There the guide camera meets {name}.</p>
  {/each}

  {#if train.assessment.facts.guide}
    <h3 class="mt-3 font-semibold">Guide stars</h3>
    {#if stars}
      <p class="text-xs" data-guide-stars>
        {stars.count < 10 ? stars.count.toFixed(1) : stars.count.toFixed(0)} to expect down to magnitude {stars.magnitude},
        {(stars.chance * 100).toFixed(0)} % chance of one at the least{Math.abs(stars.latitudeDeg) < LEAST_LATITUDE_DEG
          ? '; so near the Milky Way there are more'
          : ''} (galactic latitude {wholeDegrees(stars.latitudeDeg)}, mean counts of Bahcall & Soneira).
      </p>
    {:else}
      <p class="text-muted text-xs">
        {framing.starsMissing}
      </p>
    {/if}
    <div class="w-40">
      {@render number('guideMagnitude', 'Faintest to guide on', 'mag', kept.guideMagnitude ?? USUAL.guideMagnitude)}
    </div>
  {/if}
{/if}
