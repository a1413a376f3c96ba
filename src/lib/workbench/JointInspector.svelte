<script lang="ts">
  import {
    engagement,
    holdsBy,
    jointAperture,
    jointName,
    lockTravel,
    portInWords,
    type Adapter,
    type Joint
  } from '@lodestone/core/joint';
  import { isBody, isCamera } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import CircleAlert from '@lucide/svelte/icons/circle-alert';
  import CircleCheck from '@lucide/svelte/icons/circle-check';
  import CircleHelp from '@lucide/svelte/icons/circle-help';
  import { jointScrews, orNothing } from '$lib/element/fasteners.ts';
  import Field from '$lib/element/Field.svelte';
  import ListEditor from '$lib/element/ListEditor.svelte';
  import Remedies from './Remedies.svelte';
  import type { Snippet } from 'svelte';

  interface Props {
    joint: Joint;
    /** What would join two faces that do not. */
    mending?: Snippet<[Adapter]>;
    /** What may go into this joint. */
    place?: Snippet;
  }
  const { joint, mending, place }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const at = $derived(joint.cameraId);
  const element = $derived(train.document.elements[joint.cameraIndex]!);
  const seat = $derived(isBody(element) || isCamera(element) ? element.seat : undefined);
  /** Whatever may come over the screws of this joint later. */
  const coverable = $derived(
    train.document.elements.filter(({ kind }) => kind !== 'gap').map(({ id, name }) => [id, name] as const)
  );
  const findings = $derived(
    train.assessment.findings.filter(
      ({ place: of, level }) => of.kind === 'joint' && of.id === at && level !== 'passed'
    )
  );
  const doubtful = $derived(findings.filter(({ level }) => level !== 'assumed'));
  const held = $derived(engagement(joint.pair, joint.apartMm));
  const thread = $derived(joint.pair?.thread);
  const turns = $derived(held === undefined || !thread ? undefined : Math.max(0, held / thread.pitchMm));
  const mating = $derived(joint.mating);
  const aperture = $derived(jointAperture(train.document, joint));
  /** What leaves the angle free, or to be chosen. */
  const turnable = $derived(!['thread', 'bayonet', undefined].includes(holdsBy(joint.sky, joint.camera)));
  const travel = $derived(lockTravel(joint.pair, joint.shimsMm));
  const loose = $derived((seat?.shimsMm ?? []).map((thicknessMm) => ({ thicknessMm })));

  function keepShims(to: readonly { thicknessMm: number }[]) {
    return to.length === 0 ? undefined : to.map(({ thicknessMm }) => thicknessMm);
  }
</script>

<p class="text-muted text-xs">Joint</p>
<h2 class="mb-2 text-lg leading-tight font-semibold">{jointName(train.document, joint)}</h2>

{#if joint.open}
  <p class="flex gap-2">
    <CircleHelp size={16} class="text-warning mt-0.5 shrink-0" />Open: nothing is joined here yet.
  </p>
{:else}
  <p>
    {joint.sky ? portInWords(joint.sky) : 'not known'}
    <span class="text-muted">meets</span>
    {joint.camera ? portInWords(joint.camera) : 'not known'}
  </p>
  {#each findings as finding (finding.code)}
    <p
      class={[
        'mt-2 flex gap-2',
        finding.level === 'error' ? 'text-error' : finding.level === 'assumed' ? 'text-muted' : 'text-warning'
      ]}
    >
      <CircleAlert size={16} class="mt-0.5 shrink-0" />{finding.say(display.unit)}
    </p>
    <Remedies {finding} />
  {/each}
  {#if doubtful.length === 0}
    <p class="text-success mt-2 flex gap-2">
      <CircleCheck size={16} class="mt-0.5 shrink-0" />
      <span>
        {joint.openingMm > 0
          ? `Closes with ${display.length(joint.openingMm)} between the shoulders.`
          : 'The shoulders meet.'}
        {turns === undefined ? '' : `${turns.toFixed(1)} turns engaged.`}
      </span>
    </p>
  {/if}
  {#if mating && mating.joins === false}{@render mending?.(mating.adapter)}{/if}
{/if}

{#if place}<div class="border-line my-3 border-t pt-3">{@render place()}</div>{/if}

{#if !joint.open}
  <dl class="border-line mb-3 grid grid-cols-[1fr_auto] gap-y-1 border-t pt-3">
    <dt class="text-muted">Opening of the shoulders</dt>
    <dd>{display.length(joint.openingMm)}</dd>
    {#if joint.recessMm > 0}
      <dt class="text-muted">One sits inside the other by</dt>
      <dd>{display.length(joint.recessMm)}</dd>
    {/if}
    {#if travel}
      <dt class="text-muted">Lock ring, can be unscrewed from</dt>
      <dd>{display.number(travel.minMm)} to {display.length(travel.maxMm)}</dd>
    {/if}
    <dt class="text-muted">of it shims</dt>
    <dd>{display.length(joint.shimsMm)}</dd>
    {#if joint.bottomingMm > 0}
      <dt class="text-muted">thread too long by</dt>
      <dd>{display.length(joint.bottomingMm)}</dd>
    {/if}
    {#if held !== undefined && mating?.joins === true}
      <dt class="text-muted">Engaged thread</dt>
      <dd>{display.length(Math.max(held, 0))}</dd>
    {/if}
    {#if aperture}
      <dt class="text-muted">Clear aperture{aperture.from === 'thread' ? ', by its thread' : ''}</dt>
      <dd>{display.length(aperture.clearMm, display.unit === 'mm' ? 1 : 3)}</dd>
    {/if}
  </dl>
  <div class="border-line grid gap-2 border-t pt-3">
    <h3 class="font-semibold">How it seats</h3>
    <div class="grid grid-cols-2 gap-2">
      <Field
        label="Sits inside by"
        kind="length"
        {at}
        path={['seat', 'recessMm']}
        current={seat?.recessMm}
        hint="recess, taken off"
      />
      <Field
        label="Opening as measured"
        kind="length"
        {at}
        path={['seat', 'gapMm']}
        current={seat?.gapMm}
        hint="overrules the threads"
      />
    </div>
    {#if turnable}
      <Field
        label="Turned against the part before"
        kind="number"
        unit="°"
        {at}
        path={['seat', 'rotationDeg']}
        current={seat?.rotationDeg}
        hint="anticlockwise seen from the camera"
      />
    {/if}
    <p class="text-muted text-xs">Loose shims between the shoulders:</p>
    <ListEditor
      title="Loose shims"
      entryName="shim"
      {at}
      path={['seat', 'shimsMm']}
      entries={loose}
      toDocument={keepShims}
      columns={[{ key: 'thicknessMm', label: `Thickness, ${display.unit}`, kind: 'length', required: true }]}
      fresh={() => ({ thicknessMm: 0.1 })}
    />
    <h3 class="mt-1 font-semibold">How it is closed</h3>
    <p class="text-muted text-xs">Entries appear on the assembly sheet at this joint.</p>
    <ListEditor
      title="Screws of this joint"
      entryName="screw"
      {at}
      path={['seat', 'fasteners']}
      entries={seat?.fasteners ?? []}
      columns={jointScrews(coverable)}
      fresh={() => ({ thread: 'M3', count: 4 })}
      toDocument={orNothing}
    />
    <div class="grid grid-cols-2 gap-2">
      <Field label="Lines up at" kind="text" {at} path={['seat', 'marks']} current={seat?.marks} />
      <Field label="Locked by" kind="text" {at} path={['seat', 'lock']} current={seat?.lock} />
    </div>
    <ListEditor
      title="To mind at this joint"
      entryName="caution"
      {at}
      path={['seat', 'cautions']}
      entries={(seat?.cautions ?? []).map((text) => ({ text }))}
      columns={[{ key: 'text', label: 'To mind', kind: 'text', required: true }]}
      fresh={() => ({ text: 'Do not force it.' })}
      toDocument={(list) => orNothing(list.map(({ text }) => text))}
    />
  </div>
{/if}
