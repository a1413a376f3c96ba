<script lang="ts">
  /** A focus sweep: its frames with their positions, what it says, and the plate that tilts the camera. */
  import TryAgain from '$lib/ui/TryAgain.svelte';
  import type { TiltPlate } from '@lodestone/core/train';
  import { LEAST_POSITIONS, knownTilt, type ScrewTurn } from '@lodestone/core/experiment';
  import Fold from '$lib/ui/Fold.svelte';
  import DraftInput from '$lib/ui/DraftInput.svelte';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import Camera from '@lucide/svelte/icons/camera';
  import ListChecks from '@lucide/svelte/icons/list-checks';
  import Plus from '@lucide/svelte/icons/plus';
  import X from '@lucide/svelte/icons/x';
  import type { Sweep } from '$lib/frames/sweep.svelte.ts';
  import type { Tuning } from './tuning.svelte.ts';
  import CoveredScrews from './CoveredScrews.svelte';
  import ScrewsTurned from './ScrewsTurned.svelte';
  import { wayInWords } from './turns.ts';

  interface Props {
    sweep: Sweep;
    tuning: Tuning;
    /** What to turn, where the plate and a tilt are known. */
    turns: readonly ScrewTurn[];
    /** Of the sensor, mm. */
    halfDiagonalMm: number;
    /** There is a tilt to take out. */
    hasTilt: boolean;
    onsimulate: (() => void) | undefined;
  }
  const { sweep, tuning, turns, halfDiagonalMm, hasTilt, onsimulate }: Props = $props();
  const notices = useNotices();

  const { members, result, waiting } = $derived(sweep);
  const plate = $derived(tuning.plate);
  const USUAL: TiltPlate = { screws: 3, radiusMm: 35, pitchMm: 0.5, kind: 'springs', firstDeg: 90 };
  /** Described otherwise, it is not what was confirmed. */
  const setPlate = (change: Partial<TiltPlate>) => {
    const { confirmed: _before, ...said } = plate ?? USUAL;
    return tuning.setPlate({ ...said, ...change });
  };
  /** The tilt that was kept before this one. */
  const before = $derived(result ? tuning.tiltBefore(result.reading.tilt) : undefined);
  const number = (least: number, most: number, set: (value: number) => string | undefined) => {
    return (value: number | undefined): string | undefined =>
      value === undefined || value < least || value > most ? `From ${least} to ${most}.` : set(value);
  };
  const um = (value: number, standard: number): string =>
    `${Math.abs(value) < 0.5 ? '0' : `${value > 0 ? '+' : '−'}${Math.abs(value).toFixed(0)}`} ±${Math.max(1, Math.round(2 * standard))} µm`;
</script>

{#if members.length === 0}
  <p class="text-muted text-sm">
    Frames at five or more focuser positions, on both sides of focus and approached from one side, give the focal
    surface in µm: how the sensor is tilted, and what radial and tangential focus differ by. That is surer evidence than
    stretched stars.
  </p>
  <div class="mt-2 flex flex-wrap gap-2">
    {#if sweep.inList.length > 0}
      <button class="btn btn-outline btn-sm" data-take-list onclick={() => sweep.take(sweep.inList)}
        ><ListChecks size={15} />Use {sweep.inList.length} of the list</button
      >
    {/if}
    {#if onsimulate}
      <button class="btn btn-outline btn-sm" data-simulate-sweep onclick={onsimulate}
        ><Camera size={15} />Simulate a sweep</button
      >
    {/if}
  </div>
  <p class="text-muted mt-2 text-sm">
    Or drop the frames of a sweep together. Positions are read from their headers, or from names such as “focus_12400”.
  </p>
{:else}
  <div class="flex flex-wrap items-center gap-2 text-sm">
    <span class="text-muted">one step moves the sensor by</span>
    <span class="w-24"
      ><DraftInput
        text={sweep.typedUm === undefined ? '' : String(sweep.typedUm)}
        label="What one step moves the sensor by, µm"
        placeholder={sweep.statedUm?.toFixed(2) ??
          (result?.isReckoned ? `≈ ${result.umPerStep.toFixed(1)}` : 'calculate it')}
        numeric
        compact
        suffix="µm"
        parse={(text) => parseNumber(text)}
        commit={(value) => {
          if (value !== undefined && !(value > 0 && value <= 1000)) return 'More than 0, at most 1000.';
          sweep.typedUm = value;
          return undefined;
        }}
      /></span
    >
    <select class="select select-xs w-40" aria-label="Larger positions" bind:value={sweep.outward}>
      <option value={true}>larger is farther out</option>
      <option value={false}>larger is farther in</option>
    </select>
  </div>
  {#if waiting.length > 0}
    <div class="mt-2 flex items-center gap-2">
      <progress
        class="progress progress-primary flex-1"
        max={members.length}
        value={members.reduce(
          (sum, { frame }) => sum + (frame.state === 'reading' ? frame.progress : frame.state === 'waiting' ? 0 : 1),
          0
        )}
        aria-label="Frames read"
      ></progress>
      <span class="text-muted text-sm">{members.length - waiting.length} of {members.length}</span>
      <button class="btn btn-ghost btn-xs" onclick={() => sweep.cancel()}>Cancel</button>
    </div>
  {:else if sweep.state === 'reading'}
    <p class="text-muted mt-2 text-sm" role="status">Calculating the focal surface …</p>
  {/if}
  {#if sweep.mayRetry && sweep.message}
    <TryAgain message={sweep.message} onagain={() => void sweep.read()} />
  {:else if sweep.message}<p class="text-error mt-2 text-sm" role="alert" data-sweep-message>{sweep.message}</p>{/if}
  {#if waiting.length === 0 && sweep.positions < LEAST_POSITIONS}
    <p class="text-warning mt-2 text-sm">
      {sweep.positions} of {LEAST_POSITIONS} positions are known. Type the focuser positions, or add frames.
    </p>
  {/if}
  {#if result}
    {@const { reading } = result}
    <dl class="mt-2 grid grid-cols-2 gap-x-3 gap-y-1 text-sm" data-sweep-read={reading.frames}>
      <div>
        <dt class="text-muted text-xs">tilt, end to end</dt>
        <dd class="text-base font-semibold" data-tilt={reading.tilt.acrossUm.toFixed(1)}>
          {reading.tilt.acrossUm.toFixed(0)} ±{Math.max(1, Math.round(2 * reading.tilt.acrossStandardUm))} µm
        </dd>
      </div>
      <div>
        <dt class="text-muted text-xs">radial less tangential, corners</dt>
        <dd class="text-base font-semibold" data-astigmatism={reading.astigmatismUm.toFixed(1)}>
          {um(reading.astigmatismUm, reading.astigmatismStandardUm)}
        </dd>
      </div>
      <div>
        <dt class="text-muted text-xs">curvature, corners</dt>
        <dd class="font-semibold" data-curvature={reading.curvatureUm.toFixed(1)}>
          {um(reading.curvatureUm, reading.curvatureStandardUm)}
        </dd>
      </div>
      <div>
        <dt class="text-muted text-xs">best for the whole field</dt>
        <dd class="font-semibold">
          {result.bestSteps.toFixed(0)} steps
        </dd>
      </div>
    </dl>
    <p class="text-muted mt-1 text-sm">
      Corners, against the middle: {['top left', 'top right', 'bottom left', 'bottom right']
        .map((where, at) => {
          const corner = reading.tilt.cornersUm[at]!;
          return `${where} ${Math.abs(corner).toFixed(0)} µm too ${corner > 0 ? 'far' : 'near'}`;
        })
        .join(', ')}.{result.isReckoned
        ? ` A step is taken as ${result.umPerStep.toFixed(1)} µm, by how fast the stars grow (assumed, ±20 %).`
        : ''}
    </p>
    {#if result.otherwiseUm !== undefined}
      <p class="text-warning mt-1 text-sm" data-otherwise>
        Stars grow as if a step moved the sensor by {result.otherwiseUm.toFixed(1)} µm, not by {result.umPerStep.toFixed(
          1
        )}: one of the two is wrong, and every figure in µm with it.
      </p>
    {/if}
    <button
      class="btn btn-primary btn-sm mt-1"
      data-keep-sweep
      onclick={() => notices.complain(tuning.addSweep(result, members[0]?.frame))}
      ><Plus size={15} />Keep it as an experiment</button
    >
  {/if}
{/if}

{#if hasTilt}
  <Fold
    title="Tilt plate"
    class="border-line mt-3 border-t pt-1"
    titleClass="font-semibold"
    wanted={plate === undefined || turns.length > 0}
  >
    {#if plate}
      <ol class="grid gap-0.5 text-sm" aria-label="Screws">
        {#each turns as turn (turn.screw)}
          <li data-turn={turn.screw}>
            <strong>Screw {turn.screw}</strong>
            {wayInWords(turn)}<span class="text-muted"
              >, {Math.abs(turn.tooFarUm).toFixed(0)} ±{Math.max(1, Math.round(2 * turn.standardUm))} µm too {turn.tooFarUm >
              0
                ? 'far'
                : 'near'}</span
            >
          </li>
        {/each}
      </ol>
      <p class="text-muted mt-1 text-sm">
        {plate.kind === 'push-pull' ? 'Loosen what holds, turn what pushes, hold again. ' : ''}The spacing stays as it
        is.
        {#if plate.confirmed}
          Where the screws are is confirmed.
        {:else}
          Their place in the picture is assumed. Keep this sweep, turn the screws as given, then take another sweep to
          check it.
        {/if}
      </p>
      {#if before && result && !plate.confirmed}
        <ScrewsTurned {tuning} {plate} {before} after={knownTilt(result.reading.tilt)} {halfDiagonalMm} />
      {/if}
      {#if !plate.confirmed}<CoveredScrews {tuning} {plate} />{/if}
    {:else}
      <p class="text-muted text-sm">Describe the plate, and what to turn is drawn on the face.</p>
    {/if}
    <div class="mt-1 grid grid-cols-2 gap-2 text-sm">
      <label class="grid gap-0.5"
        ><span class="text-muted text-xs">screws</span>
        <select
          class="select select-sm"
          aria-label="Screws of the plate"
          value={plate?.screws ?? 0}
          onchange={({ currentTarget: { value } }) =>
            notices.complain(value === '0' ? tuning.setPlate(undefined) : setPlate({ screws: value === '4' ? 4 : 3 }))}
        >
          <option value={0}>not said</option>
          <option value={3}>three</option>
          <option value={4}>four</option>
        </select>
      </label>
      {#if plate}
        <label class="grid gap-0.5"
          ><span class="text-muted text-xs">which</span>
          <select
            class="select select-sm"
            aria-label="Kind of plate"
            value={plate.kind}
            onchange={({ currentTarget: { value } }) =>
              notices.complain(setPlate({ kind: value === 'push-pull' ? 'push-pull' : 'springs' }))}
          >
            <option value="springs">draw against springs</option>
            <option value="push-pull">push and pull</option>
          </select>
        </label>
        {#each [['radiusMm', 'radius of their circle', 'mm', 5, 500], ['pitchMm', 'a turn moves by', 'mm', 0.05, 5], ['firstDeg', 'first one at', '°', -360, 360]] as const as [key, title, suffix, least, most] (key)}
          <label class="grid gap-0.5"
            ><span class="text-muted text-xs">{title}</span>
            <DraftInput
              text={String(plate[key] ?? (key === 'firstDeg' ? 90 : ''))}
              label={title}
              numeric
              {suffix}
              parse={(text) => parseNumber(text, suffix === 'mm' ? 'mm' : undefined)}
              commit={number(least, most, (value) => setPlate({ [key]: value }))}
            />
          </label>
        {/each}
        <label class="flex items-center gap-2 self-end pb-1"
          ><input
            type="checkbox"
            class="checkbox checkbox-sm"
            checked={plate.mirrored === true}
            onchange={({ currentTarget: { checked } }) => notices.complain(setPlate({ mirrored: checked }))}
          />picture is mirrored</label
        >
      {/if}
    </div>
  </Fold>
{/if}

{#if members.length > 0}
  <ul class="mt-3" aria-label="Frames of the sweep">
    {#each members as { frame, at } (frame.id)}
      <li class="border-line flex items-center gap-2 border-t py-1 text-sm">
        <span class="w-24 shrink-0"
          ><DraftInput
            text={at === undefined ? '' : String(at)}
            label="Position of {frame.name}"
            placeholder="position"
            numeric
            compact
            parse={(text) => parseNumber(text)}
            commit={(value) => {
              if (value !== undefined && Math.abs(value) > 1e7) return 'At most ten million.';
              sweep.place(frame, value);
              return undefined;
            }}
          /></span
        >
        <span class={['min-w-0 flex-1 truncate', frame.state === 'failed' && 'text-error']} title={frame.message}
          >{frame.state === 'failed' ? frame.message : frame.name}</span
        >
        <button
          class="btn btn-ghost btn-xs btn-square"
          aria-label="Leave {frame.name} out of the sweep"
          onclick={() => sweep.leave(frame)}><X size={13} /></button
        >
      </li>
    {/each}
  </ul>
  <button class="btn btn-ghost btn-xs mt-1" onclick={() => sweep.take([])}>Start again</button>
{/if}
