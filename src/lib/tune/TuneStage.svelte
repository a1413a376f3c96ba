<script lang="ts">
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { warmWorkers } from '$lib/workers/warm.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import { screwTurns, sweepPositions } from '@lodestone/core/experiment';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import ChangeSteps from '$lib/workbench/ChangeSteps.svelte';
  import Camera from '@lucide/svelte/icons/camera';
  import Columns2 from '@lucide/svelte/icons/columns-2';
  import FileUp from '@lucide/svelte/icons/file-up';
  import GraduationCap from '@lucide/svelte/icons/graduation-cap';
  import RotateCw from '@lucide/svelte/icons/rotate-cw';
  import Terminal from '@lucide/svelte/icons/terminal';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import X from '@lucide/svelte/icons/x';
  import { onMount, untrack } from 'svelte';
  import FocalSurface from './FocalSurface.svelte';
  import { curlLine, type Shell } from '$lib/frames/curl.ts';
  import { useFrames, type TestFrame } from '$lib/frames/frames.svelte.ts';
  import { FACTORS, MapState } from './map.svelte.ts';
  import { NIGHTS } from './nights.ts';
  import StarMap from './StarMap.svelte';
  import StretchProfile from './StretchProfile.svelte';
  import { useSweep } from './sweep.svelte.ts';
  import SweepPanel from './SweepPanel.svelte';
  import TiltFace from './TiltFace.svelte';
  import { Trainer } from './trainer.svelte.ts';
  import TrainerPanel from './TrainerPanel.svelte';
  import TuningPanel from './TuningPanel.svelte';
  import { Tuning } from './tuning.svelte.ts';

  const train = useTrain();
  const frames = useFrames();
  const notices = useNotices();
  const map = new MapState();
  const tuning = new Tuning(train, useDrawer());
  const sweep = useSweep();
  const trainer = new Trainer();
  const uid = $props.id();
  const stand = new Frame({ hasRail: false });

  /** No surer than this, something else is as likely. */
  const EVEN = 0.5;
  const chosen = $derived(frames.chosen);
  const field = $derived(chosen?.summary?.field);
  const otherField = $derived(frames.other?.summary?.field);
  let files = $state<HTMLInputElement>();
  /** Which of the two lists is looked at: without a frame, what was tried. */
  let list = $state<'frames' | 'sweep' | 'experiments'>(
    tuning.experiments.length > 0 && !frames.chosen ? 'experiments' : 'frames'
  );
  // A frame that is new is looked for among the frames; several at several positions of the focuser are a sweep.
  let counted = frames.list.length;
  $effect(() => {
    const { length } = frames.list;
    if (length > counted && list === 'experiments') list = 'frames';
    counted = length;
  });
  let taken: readonly TestFrame[] = frames.together;
  $effect(() => {
    const { together } = frames;
    // Headers are known once a frame is read.
    const isReady = together.every(({ state }) => state !== 'waiting' && state !== 'reading');
    if (together === taken || !isReady) return;
    taken = together;
    untrack(() => {
      if (sweep.takeIfSweep(together)) list = 'sweep';
    });
  });
  // Whenever frames or positions change the focal surface is reckoned anew.
  $effect(() => {
    if (sweep.asked !== '' && sweep.asked !== sweep.readAs) untrack(() => void sweep.read());
  });
  $effect(() => {
    if (sweep.waiting.length === 0) untrack(() => sweep.learn());
  });

  /** Which layer of the face is looked at. */
  let layer = $state<'stars' | 'tilt'>('stars');
  const sensor = $derived(train.assessment.facts.light?.sensor);
  const tilt = $derived(sweep.result?.reading.tilt ?? tuning.keptTilt);
  const turns = $derived(
    tilt && sensor && tuning.plate
      ? screwTurns(tilt, Math.hypot(sensor.widthMm, sensor.heightMm) / 2, tuning.plate)
      : []
  );
  const isTilt = $derived(layer === 'tilt' && tilt !== undefined && sensor !== undefined && !trainer.isOpen);
  // A sweep that was read just now is looked at.
  let seen = sweep.inSteps;
  $effect(() => {
    if (sweep.inSteps && sweep.inSteps !== seen) layer = 'tilt';
    seen = sweep.inSteps;
  });
  const depthUm = $derived.by(() => {
    const mm = train.assessment.facts.light?.report.depthOfFocusMm;
    return mm === undefined ? undefined : mm * 1000;
  });
  const document = () => $state.snapshot(train.document) as typeof train.document;
  function nextRound() {
    map.loupesShown = true;
    void trainer.next(document());
  }
  onMount(() => () => {
    trainer.close();
    tuning.letGo();
  });
  let nightId = $state(NIGHTS[0]!.id);
  let address = $state('');
  onMount(() => {
    address = `${location.origin}/api/trains/${train.id}/frames`;
    warmWorkers();
    return frames.show();
  });

  const hasSensor = $derived(train.assessment.facts.light?.sensor.pixelUm !== undefined);
  const chosenNight = () => NIGHTS.find(({ id }) => id === nightId) ?? NIGHTS[0]!;
  const newSeed = () => Math.floor(Math.random() * 2 ** 31);
  /** Pixels that are read as one, for a frame of at most so many. */
  function binningFor(mostPixels: number): number {
    const { widthMm = 0, heightMm = 0, pixelUm = 4 } = sensor ?? {};
    const pixels = (widthMm * heightMm * 1e6) / pixelUm ** 2;
    return Math.max(1, Math.min(8, Math.ceil(Math.sqrt(pixels / mostPixels))));
  }
  function simulate() {
    // Quick enough to look at, fine enough to measure.
    const binning = binningFor(7e6);
    const { title, truth } = chosenNight();
    frames.simulate(document(), [
      {
        name: `Simulated, ${title}`,
        shot: { truth: { ...truth(Math.random), seeingPx: 2.3 * binning }, seed: newSeed(), binning }
      }
    ]);
  }
  function simulateSweep() {
    const binning = binningFor(2.5e6);
    const seeingPx = 2.5 * binning;
    const { title, truth } = chosenNight();
    const night = truth(Math.random);
    const { defocusUm: off = 0 } = night;
    const taking = frames.simulate(
      document(),
      sweepPositions(train.assessment.facts, seeingPx).map(({ at, defocusUm }) => ({
        name: `Sweep, ${title}, position ${at}`,
        shot: {
          truth: { ...night, seeingPx, defocusUm: defocusUm + off },
          seed: newSeed(),
          binning,
          focuserAt: at
        }
      }))
    );
    taken = taking;
    sweep.take(taking);
    list = 'sweep';
  }

  async function copy(shell: Shell) {
    const line = curlLine(address, shell);
    await notices.attempt(async () => {
      await navigator.clipboard.writeText(line);
      notices.say(
        shell === 'shell'
          ? 'Copied. Put it where your capture program runs something after each exposure.'
          : 'Copied. Put it into a .bat file that your capture program runs with the frame’s file after each exposure.'
      );
    });
  }

  const keptCount = $derived(frames.list.filter(({ keptId }) => keptId !== undefined).length);
  const remove = (frame: TestFrame) => void notices.attempt(() => frames.remove(frame));
  /** The frame a comparison is made with: the one below in the list, then the next one. */
  function compare() {
    if (!chosen) return;
    if (frames.other) return frames.compare(undefined);
    const at = frames.list.indexOf(chosen);
    const fits = (frame: TestFrame | undefined): frame is TestFrame =>
      frame?.summary !== undefined &&
      frame.summary.widthPx === chosen.summary?.widthPx &&
      frame.summary.heightPx === chosen.summary.heightPx;
    const other = [...frames.list.slice(at + 1), ...frames.list.slice(0, at).toReversed()].find(fits);
    if (other) frames.compare(other);
    else notices.complain('There is no other frame of this size to compare with.');
  }

  const stateWords = (frame: TestFrame): string => {
    switch (frame.state) {
      case 'waiting':
        return 'waits';
      case 'reading':
        return frame.summary ? 'opening' : `${Math.round(frame.progress * 100)} %`;
      case 'failed':
        return frame.message ?? 'could not be read';
      case 'cancelled':
        return 'cancelled';
      case 'read':
        return (
          frame.summary?.field.findings
            .map(({ cause, confidence }) => (confidence > EVEN ? cause : `${cause}?`))
            .join(', ') || 'nothing wrong'
        );
    }
  };
  /** What is said first: the strongest finding, or that there is none. */
  const headline = $derived.by(() => {
    if (!field) return undefined;
    const [first] = field.findings;
    if (!first) return 'Nothing is wrong with this frame.';
    const words: Record<typeof first.cause, string> = {
      spacing: 'The spacing is off',
      tilt: 'The sensor is tilted',
      tracking: 'Tracking, not spacing',
      focus: 'Out of focus',
      collimation: 'Out of collimation',
      light: 'Dark corners: the light, not the spacing',
      unclear: 'This frame does not tell'
    };
    const unsure: Record<typeof first.cause, string> = {
      spacing: 'It may be the spacing',
      tilt: 'The sensor may be tilted',
      tracking: 'It may be the tracking',
      focus: 'It may be out of focus',
      collimation: 'It may be the collimation',
      light: 'It may be a filter that is too small',
      unclear: 'This frame does not tell'
    };
    return (first.confidence > EVEN ? words : unsure)[first.cause];
  });
  function signed(value: number): string {
    const digits = Math.abs(value).toFixed(2);
    return Number(digits) === 0 ? digits : `${value > 0 ? '+' : '−'}${digits}`;
  }
  const shown = (value: number | null | undefined, digits: number): string =>
    value === null || value === undefined ? '–' : value.toFixed(digits);

  const group = 'Frames';
  const hasFrame = () => frames.chosen?.summary !== undefined;
  useCommands().register([
    { id: 'frames-open', group, title: 'Open frames …', key: 'O', run: () => files?.click() },
    { id: 'frame-next', group, title: 'Next frame in the list', key: 'J', run: () => frames.step(1) },
    { id: 'frame-before', group, title: 'Frame before in the list', key: 'K', run: () => frames.step(-1) },
    {
      id: 'whiskers',
      group,
      title: 'Whiskers on or off',
      key: 'W',
      enabled: hasFrame,
      run: () => (map.whiskers = !map.whiskers)
    },
    {
      id: 'whiskers-single',
      group,
      title: 'Whiskers of single stars on or off',
      key: 'S',
      enabled: hasFrame,
      run: () => (map.single = !map.single)
    },
    { id: 'whiskers-longer', group, title: 'Longer whiskers', key: '.', enabled: hasFrame, run: () => map.longer(1) },
    {
      id: 'whiskers-shorter',
      group,
      title: 'Shorter whiskers',
      key: ',',
      enabled: hasFrame,
      run: () => map.longer(-1)
    },
    {
      id: 'whiskers-without',
      group,
      title: 'Take away what all stars share',
      key: 'D',
      enabled: hasFrame,
      run: () => (map.without = !map.without)
    },
    {
      id: 'loupes',
      group,
      title: 'Loupes on or off',
      key: 'L',
      enabled: hasFrame,
      run: () => (map.loupesShown = !map.loupesShown)
    },
    {
      id: 'loupe-here',
      group,
      title: 'Another loupe in the middle of what is seen',
      key: 'A',
      enabled: hasFrame,
      run: () => map.addLoupe(map.view.x / map.view.widthPx, map.view.y / map.view.heightPx)
    },
    {
      id: 'star-sizes',
      group,
      title: 'Sizes over the field on or off',
      key: 'Z',
      enabled: hasFrame,
      run: () => (map.sizes = !map.sizes)
    },
    {
      id: 'picture',
      group,
      title: 'Picture on or off',
      key: 'P',
      enabled: hasFrame,
      run: () => (map.image = !map.image)
    },
    {
      id: 'keep-experiment',
      group,
      title: 'Keep what this frame says of the spacing',
      key: 'E',
      enabled: hasFrame,
      run: () => {
        if (!frames.chosen) return;
        list = 'experiments';
        notices.complain(tuning.addFrame(frames.chosen));
      }
    },
    {
      id: 'before-after',
      group,
      title: 'Both frames in each loupe, or one',
      key: 'B',
      enabled: () => frames.other !== undefined,
      run: () => (map.both = !map.both)
    },
    {
      id: 'face-layer',
      group,
      title: 'Stars or tilt on the face',
      key: 'G',
      enabled: () => tilt !== undefined && sensor !== undefined,
      run: () => (layer = layer === 'tilt' ? 'stars' : 'tilt')
    },
    {
      id: 'simulate-sweep',
      group,
      title: 'Take a focus sweep with the simulated camera',
      key: 'Shift+X',
      enabled: () => hasSensor,
      run: simulateSweep
    },
    { id: 'trainer', group, title: 'Trainer: what is wrong with this frame?', run: nextRound },
    { id: 'compare-frames', group, title: 'Compare with the next frame', key: 'C', enabled: hasFrame, run: compare },
    {
      id: 'simulate-camera',
      group,
      title: 'Take a frame with the simulated camera',
      key: 'X',
      enabled: () => hasSensor,
      run: simulate
    }
  ]);
</script>

{#snippet sources()}
  <div class="flex flex-wrap items-center gap-2">
    <button class="btn btn-primary btn-sm" title="Open frames: O" onclick={() => files?.click()}
      ><FileUp size={15} />Open</button
    >
    {#if hasSensor}
      <span class="flex items-center gap-1">
        <button class="btn btn-outline btn-sm" title="Simulated camera: X" data-simulate onclick={simulate}
          ><Camera size={15} />Simulate</button
        >
        <select class="select select-sm w-36" aria-label="Night of the simulated camera" bind:value={nightId}>
          {#each NIGHTS as { id, title } (id)}<option value={id}>{title}</option>{/each}
        </select>
      </span>
    {/if}
    <button
      class="btn btn-ghost btn-sm font-normal"
      title="A line that brings each frame by itself after it is taken"
      onclick={() => void copy('shell')}><Terminal size={15} />Copy a curl line</button
    >
    <button
      class="btn btn-ghost btn-sm font-normal"
      title="The same for a .bat file"
      onclick={() => void copy('windows')}>for Windows</button
    >
    <button class="btn btn-ghost btn-sm font-normal" data-train onclick={nextRound}
      ><GraduationCap size={15} />Trainer</button
    >
  </div>
{/snippet}

<input
  bind:this={files}
  type="file"
  multiple
  class="hidden"
  aria-label="Test frames"
  accept=".fit,.fits,.fts,.fz,.gz,.tif,.tiff,.png"
  onchange={({ currentTarget }) => {
    frames.add([...(currentTarget.files ?? [])]);
    currentTarget.value = '';
  }}
/>

{#if tuning.found}
  {@const { from, train: to, change } = tuning.found}
  <section class="hidden p-4 print:block">
    <h1 class="text-xl font-semibold">{train.document.name}: the next try, {tuning.found.spacingMm.toFixed(2)} mm</h1>
    <ChangeSteps {from} {to} {change} />
  </section>
{/if}
{#snippet layers()}
  {#if tilt && sensor}
    <div class="flex" role="group" aria-label="Layer of the face">
      {#each [['stars', 'Stars'], ['tilt', 'Tilt']] as const as [id, title] (id)}
        <button
          class={['tool', (isTilt ? 'tilt' : 'stars') === id && 'on']}
          aria-pressed={(isTilt ? 'tilt' : 'stars') === id}
          title="G"
          data-layer={id}
          onclick={() => (layer = id)}>{title}</button
        >
      {/each}
    </div>
    <span class="border-line h-4 border-l"></span>
  {/if}
{/snippet}
{#snippet zooming()}
  <span class="flex-1"></span>
  <button class="tool" aria-label="Smaller" title="−" onclick={() => map.view.zoom(1 / 1.4)}>−</button>
  <button class="tool" title="0" onclick={() => map.view.whole()}
    >{map.view.isWhole ? 'all of it' : `${Math.round(map.view.scale * 100)} %`}</button
  >
  <button class="tool" aria-label="Larger" title="+" onclick={() => map.view.zoom(1.4)}>+</button>
{/snippet}
<StageFrame frame={stand} layout={trainer.isOpen ? 'tune training' : tuning.found ? 'tune unprinted' : 'tune'}>
  <section
    class="area-map panel relative flex min-h-0 flex-col"
    aria-label={isTilt ? 'Tilt of the sensor' : 'Star-shape map'}
  >
    {#if trainer.isOpen}
      {#if trainer.frame}
        <div class="tools" role="toolbar" aria-label="Map">
          {#if trainer.state === 'told'}
            <button
              class={['tool', map.whiskers && 'on']}
              aria-pressed={map.whiskers}
              onclick={() => (map.whiskers = !map.whiskers)}>Whiskers</button
            >
          {/if}
          <button
            class={['tool', map.loupesShown && 'on']}
            aria-pressed={map.loupesShown}
            onclick={() => (map.loupesShown = !map.loupesShown)}>Loupes</button
          >
          {@render zooming()}
        </div>
        <div class="min-h-0 flex-1">
          <StarMap frame={trainer.frame} other={undefined} {map} isQuiz={trainer.state !== 'told'} />
        </div>
      {:else}
        <div class="grid flex-1 place-content-center p-6 text-center">
          <p class="text-muted" role="status">
            {trainer.state === 'failed'
              ? 'The simulated camera gave no frame.'
              : 'The simulated camera exposes a frame …'}
          </p>
        </div>
      {/if}
    {:else if isTilt && tilt && sensor}
      <div class="tools" role="toolbar" aria-label="Map">{@render layers()}</div>
      <div class="min-h-0 flex-1">
        <TiltFace {tilt} widthMm={sensor.widthMm} heightMm={sensor.heightMm} plate={tuning.plate} {turns} />
      </div>
      <p class="legend" aria-hidden="true">
        <span class="key outward drawn"></span>farther than the middle, µm<span class="key circling drawn"></span>nearer
      </p>
    {:else if chosen?.summary}
      <div class="tools" role="toolbar" aria-label="Map">
        {@render layers()}
        <button
          class={['tool', map.whiskers && 'on']}
          aria-pressed={map.whiskers}
          title="W"
          onclick={() => (map.whiskers = !map.whiskers)}>Whiskers</button
        >
        <button
          class={['tool', map.single && 'on']}
          aria-pressed={map.single}
          title="S; where one looks closer they are there anyway"
          onclick={() => (map.single = !map.single)}>Each star</button
        >
        <label class="flex items-center gap-1 text-xs" title="Longer . shorter ,"
          ><span class="text-muted">drawn</span>
          <select class="select select-xs w-16" bind:value={map.factor}>
            {#each FACTORS as factor (factor)}<option value={factor}>{factor} ×</option>{/each}
          </select></label
        >
        <button
          class={['tool', map.without && 'on']}
          aria-pressed={map.without}
          title="D: take away what all stars share"
          onclick={() => (map.without = !map.without)}>without drift</button
        >
        <button
          class={['tool', map.loupesShown && 'on']}
          aria-pressed={map.loupesShown}
          title="L; a double click lays another"
          onclick={() => (map.loupesShown = !map.loupesShown)}>Loupes</button
        >
        <button
          class={['tool', map.sizes && 'on']}
          aria-pressed={map.sizes}
          title="Z"
          onclick={() => (map.sizes = !map.sizes)}>Sizes</button
        >
        <button
          class={['tool', map.image && 'on']}
          aria-pressed={map.image}
          title="P"
          onclick={() => (map.image = !map.image)}>Picture</button
        >
        {@render zooming()}
      </div>
      <div class="min-h-0 flex-1"><StarMap frame={chosen} other={frames.other} {map} /></div>
      {#if map.whiskers}
        <p class="legend" aria-hidden="true">
          <span class="key outward"></span>outward<span class="key circling"></span>circling<span class="key calm"
          ></span>within chance
        </p>
      {/if}
    {:else if chosen}
      <div class="grid flex-1 place-content-center gap-3 p-6 text-center" data-frame-state={chosen.state}>
        <p class={['text-lg', chosen.state === 'failed' && 'text-error']}>
          {chosen.state === 'failed'
            ? chosen.message
            : chosen.state === 'cancelled'
              ? 'Cancelled.'
              : `Reading ${chosen.name}`}
        </p>
        {#if chosen.state === 'reading' || chosen.state === 'waiting'}
          <progress class="progress progress-primary w-72" max="1" value={chosen.progress} aria-label="Reading"
          ></progress>
          <button class="btn btn-outline btn-sm mx-auto" onclick={() => frames.cancel(chosen)}
            ><X size={15} />Cancel</button
          >
        {:else if chosen.pictures.length > 0}
          <div class="flex flex-wrap justify-center gap-2" role="group" aria-label="Which picture is meant">
            {#each chosen.pictures as { number, name, widthPx, heightPx } (number)}
              <button class="btn btn-outline btn-sm" onclick={() => frames.choosePicture(chosen, number)}
                >{name === '' ? `Picture ${number}` : name}
                <span class="text-muted text-xs">{widthPx} × {heightPx}</span></button
              >
            {/each}
          </div>
        {:else if chosen.mayRetry}
          <button class="btn btn-outline btn-sm mx-auto" onclick={() => frames.retry(chosen)}
            ><RotateCw size={15} />Try again</button
          >
        {/if}
      </div>
    {:else}
      <div class="mx-auto grid max-w-lg flex-1 place-content-center gap-3 p-6">
        <h2 class="text-xl font-semibold">What do the stars say?</h2>
        <p>
          Drop test frames here, or a folder of them: FITS, 16-bit TIFF or PNG. Every star is measured; stretched
          corners, tilt, drift, collimation and dark corners are told apart. Frames that are dropped stay on this
          machine.
        </p>
        {@render sources()}
      </div>
    {/if}
  </section>

  <section
    class="area-says panel p-4"
    aria-label={trainer.isOpen ? 'Trainer' : isTilt ? 'What the sweep says' : 'What the frame says'}
    aria-live="polite"
  >
    {#if trainer.isOpen}
      <TrainerPanel {trainer} onnext={nextRound} />
    {:else if isTilt && tilt}
      {@const across = sweep.result?.reading.tilt.acrossUm}
      <h2 class="text-xl font-semibold" data-tilt-headline>
        {across === undefined
          ? 'Tilt by the last sweep that was kept'
          : depthUm !== undefined && across < depthUm
            ? 'The sensor stands straight enough'
            : `One end stands ${across.toFixed(0)} µm farther`}
      </h2>
      {#if sweep.result}
        <p class="text-muted text-sm">
          {depthUm === undefined
            ? 'How much of it matters is not known: the focal ratio is missing.'
            : `A star stays sharp within ±${depthUm.toFixed(0)} µm of focus: ${
                across! / 2 < depthUm ? 'the tilt is less than that on either side.' : 'the tilt shows at its ends.'
              }`}
        </p>
        <div class="mt-2 h-52"><FocalSurface sweep={sweep.result.reading} {depthUm} /></div>
      {/if}
      {#if !tuning.plate}
        <p class="text-muted mt-1 text-sm">
          With the plate’s screws described (under Sweep), what to turn, how far and which way stands on the face.
        </p>
      {/if}
    {:else if field && chosen}
      <h2 class="text-xl font-semibold" data-headline={field.findings[0]?.cause ?? 'none'}>{headline}</h2>
      <ul class="mt-1 grid gap-2">
        {#each field.findings as { cause, confidence, message }, index (index)}
          <li class={['flex gap-2', index > 0 && 'text-muted text-sm']} data-finding={cause}>
            <span class="shrink-0 font-semibold">{Math.round(confidence * 100)} %</span><span>{message}</span>
          </li>
        {/each}
      </ul>
      <dl class="mt-3 grid grid-cols-4 gap-x-3 text-sm">
        {#each [['stars', String(field.count)], ['HFR, px', shown(field.hfrPx, 2)], ['FWHM, px', shown(field.fwhmPx, 2)], ['ellipticity', shown(field.ellipticity, 2)]] as [name, value] (name)}
          <div>
            <dt class="text-muted text-xs">{name}</dt>
            <dd class="text-base font-semibold">{value}</dd>
          </div>
        {/each}
      </dl>
      {#if field.radial}
        <div class="mt-2 h-44"><StretchProfile {field} other={otherField} /></div>
        <p class="text-muted text-sm">
          Corners {signed(field.radial.corner)} ±{(2 * field.radial.standard).toFixed(2)}{field.cornerSizePct === null
            ? ''
            : Math.abs(field.cornerSizePct) < 0.5
              ? ', stars there as large as in the middle'
              : `, stars there ${Math.abs(Math.round(field.cornerSizePct))} % ${field.cornerSizePct >= 0 ? 'larger' : 'smaller'}`}{field.tracking &&
          field.tracking.ellipticity > 3 * field.tracking.standard
            ? `; shared by all ${field.tracking.ellipticity.toFixed(2)} at ${Math.round(field.tracking.angleDeg)}°`
            : ''}.
        </p>
      {/if}
    {:else}
      <p class="text-muted">What is wrong with a frame stands here, with how sure it is.</p>
    {/if}
  </section>

  <section
    class="area-list panel flex min-h-0 flex-col p-4"
    aria-label={{ frames: 'Frames', sweep: 'Sweep', experiments: 'Experiments' }[list]}
  >
    <div class="-mt-2 mb-2 flex gap-1" role="group" aria-label="Shown below">
      {#each [['frames', `Frames${frames.list.length > 0 ? ` ${frames.list.length}` : ''}`], ['sweep', 'Sweep'], ['experiments', `Experiments${tuning.experiments.length > 0 ? ` ${tuning.experiments.length}` : ''}`]] as const as [id, title] (id)}
        <button
          class={['tool', list === id && 'on']}
          aria-pressed={list === id}
          data-list={id}
          onclick={() => (list = id)}>{title}</button
        >
      {/each}
    </div>
    {#if list === 'sweep'}
      <div class="min-h-0 flex-1 overflow-y-auto">
        <SweepPanel
          {sweep}
          {tuning}
          {turns}
          hasTilt={tilt !== undefined && sensor !== undefined}
          onsimulate={hasSensor ? simulateSweep : undefined}
        />
      </div>
    {:else if list === 'experiments'}
      <div class="flex min-h-0 flex-1 flex-col overflow-y-auto"><TuningPanel {tuning} frame={chosen} /></div>
    {:else}
      {#if frames.list.length > 0}
        {@render sources()}
        {#if keptCount > 0}
          <p class="text-muted mt-2 flex flex-wrap items-center justify-between gap-2 text-xs" data-kept={keptCount}>
            {keptCount === 1 ? 'One frame is' : `${keptCount} frames are`} kept in this browser.
            <button
              class="btn btn-ghost btn-xs font-normal"
              onclick={() => void notices.attempt(() => frames.forgetKept())}
              >Take {keptCount === 1 ? 'it' : 'them'} away</button
            >
          </p>
        {/if}
        <ul class="mt-2 min-h-0 flex-1 overflow-y-auto" aria-label="Test frames">
          {#each frames.list as frame (frame.id)}
            {@const isChosen = frame === chosen}
            <li class={['border-line flex items-center gap-2 border-t', isChosen && 'bg-base-300/40']}>
              <button
                class="min-w-0 flex-1 py-1.5 pl-1 text-left"
                aria-current={isChosen}
                data-frame={frame.name}
                data-state={frame.state}
                onclick={() => frames.choose(frame)}
              >
                <span class="block truncate">{frame.name}</span>
                <span class={['block truncate text-xs', frame.state === 'failed' ? 'text-error' : 'text-muted']}
                  >{frame.summary
                    ? `${frame.summary.field.count} stars, HFR ${shown(frame.summary.field.hfrPx, 2)}: `
                    : ''}{stateWords(frame)}</span
                >
              </button>
              {#if frame.state === 'reading' || frame.state === 'waiting'}
                <progress class="progress w-16" max="1" value={frame.progress} aria-label="Reading {frame.name}"
                ></progress>
                <button
                  class="btn btn-ghost btn-xs btn-square"
                  aria-label="Cancel {frame.name}"
                  onclick={() => frames.cancel(frame)}><X size={14} /></button
                >
              {:else}
                {#if !isChosen && frame.summary}
                  <button
                    class={['btn btn-xs btn-square', frame === frames.other ? 'btn-primary' : 'btn-ghost']}
                    aria-pressed={frame === frames.other}
                    aria-label="Compare with {frame.name}"
                    title="Compare: C"
                    onclick={() => frames.compare(frame === frames.other ? undefined : frame)}
                    ><Columns2 size={14} /></button
                  >
                {/if}
                <button
                  class="btn btn-ghost btn-xs btn-square"
                  aria-label="Take {frame.name} away"
                  onclick={() => remove(frame)}><Trash2 size={14} /></button
                >
              {/if}
            </li>
          {/each}
        </ul>
      {:else}
        <p class="text-muted text-sm">
          A capture program can bring its frames by itself: <code class="break-all" id="{uid}-curl"
            >{address && curlLine(address, 'shell')}</code
          >. They appear here while this page is open.
        </p>
      {/if}
    {/if}
  </section>
</StageFrame>

<style>
  :global(.stage.tune) {
    grid-template-areas: 'verdict' 'says' 'map' 'list';
  }
  .area-map {
    grid-area: map;
    min-height: 26rem;
    overflow: hidden;
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
  .tools {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0.25rem;
    padding: 0.4rem 0.5rem;
    border-bottom: 1px solid var(--color-line);
  }
  .tool {
    min-height: 1.75rem;
    padding: 0 0.55rem;
    border-radius: 0.3rem;
    font-size: 0.8rem;
    color: var(--ink-muted);
    cursor: pointer;
  }
  .tool.on {
    color: var(--color-base-content);
    box-shadow: inset 0 -2px var(--color-primary);
  }
  .legend {
    position: absolute;
    left: 0.75rem;
    bottom: 0.5rem;
    display: flex;
    align-items: center;
    gap: 0.35rem;
    padding: 0.1rem 0.5rem;
    border-radius: 0.3rem;
    background: var(--color-base-200);
    font-size: 0.75rem;
  }
  .key {
    width: 1.1rem;
    border-top: 2px solid var(--whisker-outward);
  }
  .key.circling {
    margin-left: 0.5rem;
    border-top: 2px dashed var(--whisker-circling);
  }
  .key.calm {
    width: 5px;
    height: 5px;
    margin-left: 0.5rem;
    border: 0;
    border-radius: 50%;
    background: var(--ink-muted);
  }
  .key.drawn {
    border-color: var(--drawn-outward);
  }
  .key.circling.drawn {
    border-color: var(--drawn-circling);
  }
  :global(.stage.tune.training) {
    grid-template-areas: 'verdict' 'map' 'says';
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
      grid-template-rows: auto auto minmax(9rem, 1fr);
      grid-template-areas: 'verdict verdict' 'map says' 'map list';
    }
    .area-map {
      min-height: 0;
    }
    :global(.stage.tune.training) {
      grid-template-rows: auto minmax(0, 1fr);
      grid-template-areas: 'verdict verdict' 'map says';
    }
  }
</style>
