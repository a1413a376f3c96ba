<script lang="ts">
  import { curlLine } from '$lib/frames/curl.ts';
  import FrameFiles from '$lib/frames/FrameFiles.svelte';
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import { useSweep } from '$lib/frames/sweep.svelte.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { warmWorkers } from '$lib/workers/warm.ts';
  import ChangeSteps from '$lib/workbench/ChangeSteps.svelte';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import { onMount } from 'svelte';
  import { tuneCommands } from './commands.ts';
  import { TuneDesk } from './desk.svelte.ts';
  import FrameList from './FrameList.svelte';
  import FrameSays from './FrameSays.svelte';
  import FrameSources from './FrameSources.svelte';
  import MapPanel from './MapPanel.svelte';
  import RowOrder from './RowOrder.svelte';
  import TriesPanel from './TriesPanel.svelte';
  import SweepPanel from './SweepPanel.svelte';
  import TiltSays from './TiltSays.svelte';
  import Tool from './Tool.svelte';
  import TrainerPanel from './TrainerPanel.svelte';
  import TuningPanel from './TuningPanel.svelte';
  import { Tuning } from './tuning.svelte.ts';

  const train = useTrain();
  const frames = useFrames();
  const notices = useNotices();
  const display = useDisplay();
  const frame = new Frame({ folds: true });
  const desk = new TuneDesk(train, frames, useSweep(), new Tuning(train, useDrawer(), () => display.unit));
  const { trainer, tuning, sweep } = desk;
  const uid = $props.id();

  let files: FrameFiles;
  const open = () => files.open();
  useCommands().register(tuneCommands(desk, open, (refusal) => notices.complain(refusal)));

  $effect(() => desk.lookForNew());
  $effect(() => desk.takeTogether());
  $effect(() => desk.readSweep());
  $effect(() => desk.showSweep());
  onMount(() => () => desk.leave());

  let address = $state('');
  onMount(() => {
    address = `${location.origin}/api/trains/${train.id}/frames`;
    warmWorkers();
    return frames.show();
  });

  /** There is a spacing to show, tried or not, and nothing that wants all the room. */
  const showsTries = $derived(
    !trainer.isOpen && !desk.isTilt && (tuning.experiments.length > 0 || tuning.spacingMm !== undefined)
  );
  const field = $derived(frames.chosen?.summary?.field);
  const counted = (title: string, { length }: readonly unknown[]) => (length > 0 ? `${title} ${length}` : title);
  const lists = $derived([
    { id: 'frames', name: 'Frames', title: counted('Frames', frames.list) },
    { id: 'sweep', name: 'Sweep', title: 'Sweep' },
    { id: 'experiments', name: 'Experiments', title: counted('Experiments', tuning.experiments) }
  ] as const);
</script>

{#snippet sources()}<FrameSources {desk} {address} onopen={open} />{/snippet}

<FrameFiles bind:this={files} multiple />

{#if tuning.found}
  {@const { from, train: to, change } = tuning.found}
  <section class="hidden p-4 print:block">
    <h1 class="text-xl font-semibold">{train.document.name}: the next try, {tuning.found.spacingMm.toFixed(2)} mm</h1>
    <ChangeSteps {from} {to} {change} />
  </section>
{/if}

<StageFrame
  {frame}
  layout={['tune', trainer.isOpen && 'training', showsTries && 'tries', tuning.found && 'unprinted']
    .filter(Boolean)
    .join(' ')}
>
  <div class="area-map grid min-h-0">
    <MapPanel {desk}>
      {#snippet empty()}
        <div class="mx-auto grid max-w-lg flex-1 place-content-center gap-3 p-6">
          <h2 class="text-xl font-semibold">Test frames</h2>
          <p>
            Drop test frames here, or a folder of them: FITS, 16-bit TIFF or PNG. Every star is measured; stretched
            corners, tilt, drift, collimation and dark corners are told apart. Frames that are dropped stay on this
            machine.
          </p>
          {@render sources()}
        </div>
      {/snippet}
    </MapPanel>
  </div>

  {#if showsTries}
    <section class="area-tries panel px-4 pt-2" aria-label="Spacings that were tried"><TriesPanel {tuning} /></section>
  {/if}

  <section
    class="area-says panel p-4"
    aria-label={trainer.isOpen ? 'Trainer' : desk.isTilt ? 'Result of the sweep' : 'Result of the frame'}
    aria-live="polite"
  >
    {#if trainer.isOpen}
      <TrainerPanel {trainer} onnext={() => desk.nextRound()} />
    {:else if desk.isTilt}
      <TiltSays {desk} />
    {:else if field}
      <FrameSays {field} other={frames.other?.summary?.field} isBrief={desk.list !== 'frames'} />
      {#if frames.chosen?.summary && desk.list === 'frames'}<RowOrder summary={frames.chosen.summary} />{/if}
    {:else}
      <p class="text-muted">Faults of a frame appear here, with their probability.</p>
    {/if}
  </section>

  <section
    class="area-list panel flex min-h-0 flex-col p-4"
    aria-label={lists.find(({ id }) => id === desk.list)?.name}
  >
    <div class="-mt-2 mb-2 flex gap-1" role="group" aria-label="Shown below">
      {#each lists as { id, title } (id)}
        <Tool on={desk.list === id} data-list={id} onclick={() => (desk.list = id)}>{title}</Tool>
      {/each}
    </div>
    {#if desk.list === 'sweep'}
      <div class="min-h-0 flex-1 overflow-y-auto">
        <SweepPanel
          {sweep}
          {tuning}
          turns={desk.turns}
          halfDiagonalMm={desk.halfDiagonalMm}
          hasTilt={desk.hasTilt}
          onsimulate={desk.hasSensor ? () => desk.simulateSweep() : undefined}
        />
      </div>
    {:else if desk.list === 'experiments'}
      <div class="flex min-h-0 flex-1 flex-col overflow-y-auto"><TuningPanel {tuning} frame={frames.chosen} /></div>
    {:else if frames.list.length > 0}
      <div class="min-h-0 flex-1 overflow-y-auto">
        {@render sources()}
        <FrameList />
      </div>
    {:else}
      <p class="text-muted text-sm">
        A capture program can bring its frames by itself: <code class="break-all" id="{uid}-curl"
          >{address && curlLine(address, 'shell')}</code
        >. They appear here while this page is open.
      </p>
    {/if}
  </section>
</StageFrame>

<style>
  :global(.stage.tune) {
    grid-template-areas: 'verdict' 'rail' 'says' 'map' 'tries' 'list';
  }
  .area-map {
    grid-area: map;
  }
  .area-tries {
    grid-area: tries;
  }
  .area-says {
    grid-area: says;
  }
  .area-list {
    grid-area: list;
  }
  :global(.stage.training) .area-list {
    display: none;
  }
  :global(.stage.tune.training) {
    grid-template-areas: 'verdict' 'rail' 'map' 'says';
  }
  @media print {
    :global(.stage.unprinted) {
      display: none !important;
    }
  }
  @media (min-width: 64rem) {
    :global(.stage.tune) {
      height: calc(100dvh - 2.75rem);
      grid-template-columns: minmax(0, 1fr) 25rem;
      grid-template-rows: auto auto auto minmax(9rem, 1fr);
      grid-template-areas: 'verdict verdict' 'rail rail' 'map says' 'map list';
    }
    :global(.stage.tune.tries) {
      grid-template-rows: auto auto auto auto minmax(9rem, 1fr);
      grid-template-areas: 'verdict verdict' 'rail rail' 'tries says' 'map says' 'map list';
    }
    :global(.stage.tune.training) {
      grid-template-rows: auto auto minmax(0, 1fr);
      grid-template-areas: 'verdict verdict' 'rail rail' 'map says';
    }
  }
</style>
