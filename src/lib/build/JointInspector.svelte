<script lang="ts">
  import {
    JOINT_CODES,
    engagement,
    isBody,
    isCamera,
    jointAperture,
    jointName,
    mate,
    parseThread,
    portInWords,
    threadPair,
    type Joint
  } from '@lodestone/core';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { CircleAlert, CircleCheck, CircleHelp } from '@lucide/svelte';
  import Field from '$lib/element/Field.svelte';
  import ListEditor from '$lib/element/ListEditor.svelte';
  import type { RailView } from '$lib/rail/view.svelte.ts';
  import MendingAdapter from './MendingAdapter.svelte';
  import OpenPlace from './OpenPlace.svelte';

  interface Props {
    joint: Joint;
    onadd: () => void;
    view: RailView;
  }
  const { joint, onadd, view }: Props = $props();
  const train = useTrain();
  const display = useDisplay();

  const at = $derived(joint.cameraId);
  const element = $derived(train.document.elements[joint.cameraIndex]!);
  const seat = $derived(isBody(element) || isCamera(element) ? element.seat : undefined);
  const problems = $derived(
    train.assessment.report.problems.filter(({ at: place, code }) => place === at && JOINT_CODES.has(code))
  );
  const held = $derived(engagement(joint));
  const thread = $derived(joint.sky && 'thread' in joint.sky ? parseThread(joint.sky.thread) : undefined);
  const turns = $derived(held === undefined || !thread ? undefined : Math.max(0, held / thread.pitchMm));
  const mating = $derived(joint.open || !joint.sky || !joint.camera ? undefined : mate(joint.sky, joint.camera));
  const aperture = $derived(jointAperture(train.document, joint));
  const turnable = $derived(
    (joint.sky && !('thread' in joint.sky) && !('bayonet' in joint.sky)) ||
      threadPair(joint.sky, joint.camera)?.male.lockRing === true
  );
  const loose = $derived((seat?.shimsMm ?? []).map((thicknessMm) => ({ thicknessMm })));

  function keepShims(to: readonly { thicknessMm: number }[]) {
    return to.map(({ thicknessMm }) => thicknessMm);
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
  {#each problems as { severity, message } (message)}
    <p class={['mt-2 flex gap-2', severity === 'error' ? 'text-error' : 'text-warning']}>
      <CircleAlert size={16} class="mt-0.5 shrink-0" />{message}
    </p>
  {:else}
    <p class="text-success mt-2 flex gap-2">
      <CircleCheck size={16} class="mt-0.5 shrink-0" />
      <span>
        {joint.openingMm > 0
          ? `Closes with ${display.length(joint.openingMm)} between the shoulders.`
          : 'The shoulders meet.'}
        {turns === undefined ? '' : `${turns.toFixed(1)} turns hold.`}
      </span>
    </p>
  {/each}
  {#if mating && mating.joins === false}<MendingAdapter adapter={mating.adapter} before={at} />{/if}
{/if}

<div class="border-line my-3 border-t pt-3"><OpenPlace before={joint.cameraId} {view} {onadd} /></div>

{#if !joint.open}
  <dl class="border-line mb-3 grid grid-cols-[1fr_auto] gap-y-1 border-t pt-3">
    <dt class="text-muted">Opening of the shoulders</dt>
    <dd>{display.length(joint.openingMm)}</dd>
    <dt class="text-muted">of it shims</dt>
    <dd>{display.length(joint.shimsMm)}</dd>
    {#if joint.bottomingMm > 0}
      <dt class="text-muted">thread longer than its hole by</dt>
      <dd>{display.length(joint.bottomingMm)}</dd>
    {/if}
    {#if held !== undefined}
      <dt class="text-muted">Thread that holds</dt>
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
        within="Seat"
        hint="recess, taken off"
      />
      <Field
        label="Opening as measured"
        kind="length"
        {at}
        path={['seat', 'gapMm']}
        current={seat?.gapMm}
        within="Seat"
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
        within="Seat"
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
  </div>
{/if}
