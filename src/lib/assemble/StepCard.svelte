<script lang="ts">
  import { reasonOf } from '$lib/api/reason.ts';
  import { findElement, isSolid, nameOf } from '@lodestone/core/train';
  import { residualInWords } from '@lodestone/core/why';
  import type { AssemblyStep, DoubtedReading } from '@lodestone/core/assembly';
  import { hasSerial } from '$lib/calipers/calipers.ts';
  import type { Instrument } from '$lib/calipers/instrument.svelte.ts';
  import PartIcon from '$lib/rail/PartIcon.svelte';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import Check from '@lucide/svelte/icons/check';
  import ChevronLeft from '@lucide/svelte/icons/chevron-left';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Crosshair from '@lucide/svelte/icons/crosshair';
  import Ruler from '@lucide/svelte/icons/ruler';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import Undo2 from '@lucide/svelte/icons/undo-2';
  import Wrench from '@lucide/svelte/icons/wrench';
  import { onDestroy, untrack } from 'svelte';
  import type { Bench } from './bench.svelte.ts';
  import JointDrawing from './JointDrawing.svelte';
  import LengthReading from './LengthReading.svelte';

  interface Props {
    bench: Bench;
    instrument: Instrument;
    step: AssemblyStep;
  }
  const { bench, instrument, step }: Props = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();

  const stands = $derived(bench.stateOf(step));
  const done = $derived(stands === 'done');
  const { measure } = $derived(step);
  const kept = $derived(measure ? bench.readAt(measure) : undefined);
  let lastDoubted = $state.raw<DoubtedReading & { readMm: number; key: string }>();
  /** A reading of this step that does not count yet; what was read at another is forgotten. */
  const doubted = $derived(lastDoubted?.key === step.key ? lastDoubted : undefined);
  let reading = $state<LengthReading>();
  let hangUp = $state.raw<() => Promise<void>>();

  /** Where there are keys the reading is what comes next; on a phone they would lie over it. */
  $effect(() => {
    if (bench.handedOn !== step.key || !reading || untrack(() => kept) !== undefined) return;
    if (matchMedia('(pointer: fine)').matches) reading.focus();
  });

  const joint = $derived(train.assessment.ledger.joints.find(({ cameraId }) => cameraId === step.joint));
  const parts = $derived(
    step.parts.flatMap((id) => {
      const element = findElement(train.document, id);
      return element && isSolid(element) ? [element] : [];
    })
  );
  /** The simulated caliper knows parts, no stacks. */
  const readable = $derived.by(() => {
    if (!measure || measure.from !== measure.to) return undefined;
    const element = findElement(train.document, measure.from);
    return element && isSolid(element) ? element.partId : undefined;
  });

  const residualMm = $derived(train.assessment.ledger.residualMm);
  const chance = $derived(train.assessment.chanceInWords);

  function read(mm: number, sure = false) {
    if (!measure) return;
    const found = sure ? undefined : bench.doubt(mm, measure);
    lastDoubted = found && { ...found, readMm: mm, key: step.key };
    if (!found) notices.complain(bench.read(measure, mm));
  }

  async function simulate(partId: string) {
    await notices.attempt(async () => {
      instrument.source = 'simulated';
      const mm = await instrument.driver?.read?.(partId);
      if (mm !== undefined) reading?.receive(mm);
    });
  }

  /** Unplugged, or out of battery: what was read is kept. */
  function gone() {
    hangUp = undefined;
    instrument.source = 'typed';
    notices.complain('The caliper is gone. Type what it shows, or connect it again.');
  }
  async function listen() {
    instrument.source = 'serial';
    try {
      hangUp = await instrument.driver?.listen?.((mm) => reading?.receive(mm), gone);
    } catch (error) {
      instrument.source = 'typed';
      notices.complain(`No caliper was connected: ${reasonOf(error)}`);
    }
  }
  onDestroy(() => void hangUp?.());
</script>

<div aria-live="polite" aria-atomic="true">
  <div class="flex items-baseline justify-between gap-3">
    <h2 class="text-muted text-sm">Step {step.n} of {bench.steps.length}</h2>
    {#if done}<span class="text-success flex items-center gap-1 text-sm font-semibold"><Check size={15} />done</span>
    {:else if stands === 'changed'}<span class="text-warning text-sm font-semibold">changed since it was done</span
      >{/if}
  </div>
  <p class={['mt-1 leading-snug font-semibold', step.do.length > 90 ? 'text-lg' : 'text-xl']} data-step>{step.do}</p>
</div>
<div class="mt-2 grid gap-x-6 gap-y-2 sm:grid-cols-[minmax(0,1fr)_minmax(0,18rem)]">
  <div class="min-w-0">
    {#if parts.length > 0 || step.tools.length > 0}
      <ul class="flex flex-wrap items-center gap-x-4 gap-y-1" aria-label="In hand">
        {#each parts as element (element.id)}
          <li class="flex items-center gap-2">
            {#if element.kind !== 'camera'}<PartIcon {element} widthPx={52} heightPx={36} pxPerMm={1.6} />{/if}
            <span>{element.name}</span>
          </li>
        {/each}
        {#if step.tools.length > 0}
          <li class="text-muted flex items-center gap-2 text-sm">
            <Wrench size={14} class="shrink-0" />{step.tools.join(', ')}
          </li>
        {/if}
      </ul>
    {/if}
    {#if step.ticks.length > 0}
      <ul class="mt-2 flex flex-wrap gap-2" aria-label="One by one">
        {#each step.ticks as tick (tick.key)}
          <li>
            <label class="flex min-h-11 cursor-pointer items-center gap-2 pe-3">
              <input
                type="checkbox"
                class="checkbox checkbox-sm border-base-content/60"
                checked={done || bench.isTicked(tick)}
                disabled={done}
                onchange={() => notices.complain(bench.tick(tick))}
              />{tick.what}
            </label>
          </li>
        {/each}
      </ul>
    {/if}
    {#if step.cautions.length > 0}
      <ul class="mt-2 grid gap-1" aria-label="Cautions">
        {#each step.cautions as caution (caution)}
          <li class="text-warning flex gap-2"><TriangleAlert size={16} class="mt-0.5 shrink-0" />{caution}</li>
        {/each}
      </ul>
    {/if}
    {#each step.ask as thread (`${thread.id} ${thread.face}`)}
      <div class="mt-3" data-ask>
        <LengthReading kept={undefined} onread={(mm) => notices.complain(bench.readThread(thread, mm))}>
          {#snippet label()}
            {thread.gender === 'male' ? 'Length of the male thread' : 'Depth of the thread'} on the {thread.face} side of
            {nameOf(train.document, thread.id)}: it cannot be measured once this joint is closed
          {/snippet}
        </LengthReading>
      </div>
    {/each}
    {#if measure}
      <div class="mt-3" data-measure>
        {#key step.key}
          <LengthReading
            bind:this={reading}
            {kept}
            expectedMm={measure.expectedMm}
            onread={(mm) => read(mm)}
            onchange={() => (lastDoubted = undefined)}
            onagain={() => notices.complain(bench.toggle(step))}
          >
            {#snippet label()}
              {measure.from === measure.to
                ? nameOf(train.document, measure.from)
                : `${nameOf(train.document, measure.from)}, sky shoulder, to ${nameOf(train.document, measure.to)}, camera shoulder:`}
              {#if kept === undefined}should measure
                <span class="font-semibold">{display.within(measure.expectedMm, measure.uncertaintyMm)}</span>{:else}was
                read as <span class="font-semibold">{display.length(kept)}</span>{/if}
            {/snippet}
            {#snippet further()}
              {#if readable !== undefined}
                {@const partId = readable}
                <button
                  class="btn btn-ghost btn-lg btn-square"
                  title="Simulate: a caliper to try this without one"
                  aria-label="Simulate a reading"
                  onclick={() => void simulate(partId)}><Crosshair size={18} /></button
                >
              {/if}
              {#if hasSerial()}
                <button
                  class={['btn btn-lg btn-square', hangUp ? 'btn-neutral' : 'btn-ghost']}
                  title={hangUp ? 'The caliper is heard: press its key' : 'Connect a caliper with a serial cable'}
                  aria-label={hangUp ? 'Caliper is heard' : 'Connect a caliper'}
                  disabled={hangUp !== undefined}
                  onclick={() => void listen()}><Ruler size={18} /></button
                >
              {/if}
            {/snippet}
          </LengthReading>
        {/key}
        {#if doubted}
          {@const { readMm } = doubted}
          <div class="mt-2" role="alert" data-doubted>
            <p class="text-warning">
              That is {display.length(Math.abs(doubted.offMm))}
              {doubted.offMm < 0 ? 'less' : 'more'} than expected. It does not count yet.
            </p>
            <div class="mt-1 flex flex-wrap gap-2">
              {#if doubted.meantMm !== undefined}
                {@const mm = doubted.meantMm}
                <button class="btn btn-primary" onclick={() => read(mm, true)}>{display.length(mm)} was meant</button>
              {/if}
              <button class="btn btn-outline" onclick={() => read(readMm, true)}>It is right as it is</button>
            </div>
          </div>
        {/if}
      </div>
    {/if}
  </div>
  {#if joint && !joint.open}<JointDrawing {joint} />{/if}
</div>
{#if residualMm !== null && chance !== null}
  <p class="text-muted mt-2 text-sm" data-running>
    Now: {residualInWords(residualMm, display.unit)}, known to ±{display.tolerance(
      train.assessment.facts.spread.halfWidth95Mm
    )}, {chance}.
  </p>
{/if}
{#if bench.isLast}
  <div class="border-line mt-3 border-t pt-3" data-landing>
    <h3 class="font-semibold">Before this joint closes</h3>
    {#if bench.landings.length > 0}
      <ul class="mt-1 grid gap-2">
        {#each bench.landings as landing, index (index)}
          <li class="flex flex-wrap items-center justify-between gap-2">
            <span class="min-w-0 flex-1 basis-64">
              {landing.say(display.unit)}{landing.within ? '' : ' Not within tolerance yet.'}
            </span>
            <button
              class={['btn', index === 0 ? 'btn-primary' : 'btn-outline']}
              onclick={() => notices.complain(bench.take(landing))}
              >{landing.kind === 'dial' ? 'Set it' : 'Fit it'}</button
            >
          </li>
        {/each}
      </ul>
    {:else}
      <p class="mt-1">
        {train.assessment.verdict === 'on-spec'
          ? 'Nothing in the drawer lands the sensor nearer: close it as it is.'
          : 'No dial and no shims of the drawer land the sensor nearer.'}
      </p>
    {/if}
  </div>
{/if}
<!-- What comes next stays at hand, however much there is to say. -->
<div class="bg-base-200 sticky -bottom-4 -mx-4 mt-3 -mb-4 flex flex-wrap gap-2 px-4 py-3">
  <button class="btn btn-lg btn-square btn-ghost" aria-label="Previous step" onclick={() => bench.walk(-1)}
    ><ChevronLeft size={22} /></button
  >
  <button
    class={['btn btn-lg flex-1', done ? 'btn-outline' : 'btn-primary']}
    data-done
    onclick={() => notices.complain(bench.toggle(step))}
  >
    {#if done}<Undo2 size={18} />Not done{:else}<Check size={18} />Done{/if}
  </button>
  <button class="btn btn-lg btn-square btn-ghost" aria-label="Next step" onclick={() => bench.walk(1)}
    ><ChevronRight size={22} /></button
  >
</div>
