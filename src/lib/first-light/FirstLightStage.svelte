<script lang="ts">
  import { findElement, glassOf, type SolidElement } from '@lodestone/core';
  import {
    glassOffsets,
    measuredBacklash,
    readFocusRun,
    tubeWays,
    type FocusPoint,
    type FocuserState
  } from '@lodestone/core/focus';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { focuserAt } from '@lodestone/core/experiment';
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import { timeInWords } from '$lib/ui/time.ts';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import Camera from '@lucide/svelte/icons/camera';
  import Check from '@lucide/svelte/icons/check';
  import Clock from '@lucide/svelte/icons/clock';
  import FileUp from '@lucide/svelte/icons/file-up';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import Undo2 from '@lucide/svelte/icons/undo-2';
  import { onMount } from 'svelte';
  import Budget from './Budget.svelte';
  import { device } from './device.ts';
  import FocusCurve from './FocusCurve.svelte';
  import { instructionFor, lastFrames, moverOf, starOf } from './guide.ts';
  import { FocusSession } from './run.svelte.ts';

  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();
  const frame = new Frame({ folds: true });
  const session = new FocusSession(train);
  const uid = $props.id();

  const budget = $derived(train.assessment.facts.focus);
  const finding = $derived(train.assessment.findings.find(({ code }) => code.startsWith('focus-')));
  /** Nobody knows what goes into a gap, and so nothing is known of the focus. */
  const isOpen = $derived(
    train.document.elements.some(({ kind }) => kind === 'gap') && train.assessment.facts.filled === undefined
  );
  const ways = $derived(
    budget && !isOpen && drawer.isRead && budget.report.verdict !== 'reaches'
      ? tubeWays(train.document, budget, drawer.free(train.id))
          .filter(({ parts }) => parts.length > 0)
          .slice(0, 3)
      : []
  );
  const { answer, points } = $derived(session);
  const mover = $derived(moverOf(train.document.host.kind, budget?.byMirror ?? false));
  const hasGuide = $derived(train.assessment.facts.guide !== undefined);
  const instruction = $derived(
    instructionFor(session.done, points, answer, session.step, session.backlash, { mover, hasGuide })
  );
  const isRun = $derived(instruction?.position !== undefined && instruction.key === undefined);

  /** A frame that was dropped, or came in, fills the form: its stars are the star. */
  const frames = useFrames();
  let files = $state<HTMLInputElement>();
  onMount(() => frames.show());
  const opened = frames.list.map(({ id }) => id);
  const openedAt = Date.now();
  $effect(() => {
    const fresh = frames.list.find(
      ({ id, state, stored, isFromBefore }) =>
        !isFromBefore &&
        !opened.includes(id) &&
        (state === 'read' || state === 'failed') &&
        (stored === undefined || Date.parse(stored.takenAt) >= openedAt)
    );
    if (!fresh) return;
    opened.push(fresh.id);
    const { name, summary } = fresh;
    const hfrPx = summary?.field.hfrPx ?? undefined;
    const at = summary && focuserAt(summary, name);
    if (at !== undefined) positionText = String(at);
    if (hfrPx === undefined) {
      message = `${name}: ${fresh.message ?? 'no star was found that can be measured. Say “No star seen”, or what you see.'}`;
      return;
    }
    message = undefined;
    hfrText = hfrPx.toFixed(2);
    fromFrame = name;
  });

  /** A number, not the whole instruction: what is being typed stays while something else is saved. */
  const wanted = $derived(instruction?.position);
  let positionText = $derived(String(wanted ?? ''));
  let hfrText = $state('');
  let isCeiling = $state(false);
  /** Frame whose stars are in the form. */
  let fromFrame = $state<string>();
  let starText = $state('');
  let message = $state<string>();
  let hfrInput = $state<HTMLInputElement>();
  let chosen = $state<number>();
  let tubeText = $state('0');
  let simulator = $state.raw<FocuserState>();
  let busy = $state(false);

  /** A clock that runs while the first light does. */
  let now = $state(Date.now());
  onMount(() => {
    const ticking = setInterval(() => (now = Date.now()), 5000);
    return () => clearInterval(ticking);
  });
  const began = $derived(session.run.on === undefined ? undefined : Date.parse(session.run.on));
  const spent = $derived(began === undefined ? undefined : Math.max(0, (now - began) / 1000));

  /** Way a position is come to: as the instruction says, else from where the focuser stood. */
  function wayTo(position: number): 'out' | 'in' | undefined {
    if (position === instruction?.position) return instruction.way;
    const last = points.at(-1);
    return last === undefined || last.position === position ? undefined : position > last.position ? 'out' : 'in';
  }

  function add(event?: SubmitEvent) {
    event?.preventDefault();
    const position = parseNumber(positionText, undefined);
    const hfr = parseNumber(hfrText, undefined);
    const submitter = event?.submitter;
    const seen = (submitter instanceof HTMLButtonElement ? submitter.value : '') as
      NonNullable<FocusPoint['seen']> | '';
    if (!position.ok || position.parsed === undefined)
      return void (message = 'Where does the focuser stand? A number is needed.');
    if (!hfr.ok || (hfr.parsed === undefined && seen === ''))
      return void (message =
        'How large is the star? Its half-flux radius in pixels is needed, or what you see against the frame before.');
    if (hfr.parsed !== undefined && hfr.parsed <= 0) return void (message = 'A half-flux radius is more than 0.');
    const last = points.at(-1);
    const isTurned = last !== undefined && last.position > 0 && position.parsed === -last.position;
    if (isTurned) return void (message = 'Is the sign right? The last frame stood on the other side of zero.');
    const star = starText.trim();
    const direction = wayTo(position.parsed);
    message = session.add(
      {
        position: position.parsed,
        ...(seen === '' ? { hfrPx: hfr.parsed! } : { seen }),
        ...(seen === '' && isCeiling ? { ceiling: true } : {}),
        ...(direction ? { direction } : {}),
        ...(star === '' ? {} : { star })
      },
      'hand'
    );
    if (message !== undefined) return;
    hfrText = '';
    isCeiling = false;
    fromFrame = undefined;
    hfrInput?.focus();
  }

  /** Moves the focuser that ships where it is asked to, from the same side, and takes a frame. */
  async function simulate() {
    if (instruction?.position === undefined) return;
    const { position } = instruction;
    busy = true;
    await notices.attempt(async () => {
      const before = await device.state(train.id);
      if (points.length === 0) simulator = await device.zero(train.id);
      else {
        const last = points.at(-1)!;
        const out = answer.direction !== 'in';
        const isBack = out ? position < last.position : position > last.position;
        if (isBack) await device.move(train.id, position - (out ? 1 : -1) * (session.backlash + session.step));
        simulator = await device.move(train.id, position);
      }
      if (simulator?.stopped) {
        notices.complain(
          `It ran into its end stop on the way from ${before.position} to ${position}: the position it counts is wrong from here on. Drive it fully in, and begin the run again.`
        );
        return;
      }
      const taken = await device.frame(train.id);
      notices.complain(
        session.add(
          { ...taken, ...(instruction.way ? { direction: instruction.way } : {}), star: 'simulated' },
          'simulated',
          simulator?.lastStep
        )
      );
    });
    busy = false;
  }

  const undo = () => notices.complain(train.undo());
  function tried(tube: 'in' | 'out') {
    const parsed = parseNumber(tubeText, display.unit);
    if (!parsed.ok) return notices.complain(parsed.message);
    notices.complain(session.tried(tube, parsed.parsed ?? 0));
  }

  useCommands().register([
    {
      id: 'simulate-frame',
      group: 'First light',
      title: 'Simulate: move, and take a frame',
      key: 'X',
      enabled: () => isRun,
      run: () => void simulate()
    }
  ]);

  /** Slots of the holder in the beam, for their offsets. */
  const offsets = $derived.by(() => {
    const umPerStep = train.document.host.focuser?.umPerStep;
    const holder = train.document.elements.find((element) =>
      (glassOf(element) ?? []).some(({ slot }) => slot !== undefined)
    );
    const plates =
      (holder && glassOf(holder)?.filter(({ slot, thicknessMm }) => slot !== undefined && thicknessMm > 0)) ?? [];
    if (umPerStep === undefined || plates.length < 2) return [];
    const m = train.assessment.facts.light?.magnification?.reckoned ?? 1;
    return glassOffsets(plates as Parameters<typeof glassOffsets>[0], umPerStep, m);
  });
  const kept = $derived(
    session.runs.map((run) => {
      const of = run.points as readonly FocusPoint[];
      return {
        run,
        answer: readFocusRun(of, session.backlash, run.maxPosition ?? session.maxPosition),
        backlash: measuredBacklash(of)
      };
    })
  );
  const firstBest = $derived(
    kept.find(({ answer: { bestPosition } }) => bestPosition !== null)?.answer.bestPosition ?? null
  );
  const guider = $derived(
    train.assessment.facts.guide
      ? (findElement(train.document, train.assessment.facts.guide.stalk.at) as SolidElement | undefined)?.name
      : undefined
  );
</script>

<StageFrame {frame} layout="first-light">
  <section class="area-budget panel p-4" aria-label="Focus travel">
    <div class="flex flex-wrap items-baseline justify-between gap-x-4">
      <h2
        class={[
          'text-xl font-semibold',
          finding?.level === 'warning' ? 'text-warning' : finding?.level === 'passed' ? 'text-success' : ''
        ]}
        data-focus-verdict={budget?.report.verdict ?? 'none'}
      >
        {budget === undefined
          ? 'Nothing is stated of this telescope’s focus'
          : isOpen
            ? 'Focus not known: a gap is still empty'
            : budget.report.verdict === 'reaches'
              ? 'It reaches focus'
              : budget.report.verdict === 'unknown'
                ? 'Whether it reaches focus is not known'
                : 'It does not reach focus'}
      </h2>
    </div>
    <p class="mt-1" data-focus-says>
      {isOpen
        ? 'Fill the gap under Build first.'
        : (finding?.say(display.unit) ??
          'State its travel and where it comes to focus, or only its travel and try: what you see bounds it.')}
    </p>
    {#if budget && !isOpen}<div class="mt-2"><Budget {budget} /></div>{/if}
    {#if ways.length > 0}
      <ul class="mt-2 grid gap-1.5" aria-label="Extension tubes" data-tubes>
        {#each ways as way, index (index)}
          <li class="flex flex-wrap items-center justify-between gap-2">
            <span class="min-w-0 flex-1 basis-56">{way.say(display.unit)}</span>
            {#if way.verdict !== 'no-inward'}
              <button
                class={['btn btn-sm', way.verdict === 'reaches' ? 'btn-primary' : 'btn-outline']}
                onclick={() => notices.complain(train.dispatch(way.operation, 'Put an extension tube in'))}
                >Put it in</button
              >
            {/if}
          </li>
        {/each}
      </ul>
    {/if}
    {#if !isOpen}
      <details class="mt-2" open={session.attempts.length > 0}>
        <summary class="cursor-pointer text-sm">It does not come to focus?</summary>
        <div class="mt-2 flex flex-wrap items-end gap-2">
          <label class="grid gap-0.5 text-xs"
            >extension tube between, {display.unit}
            <input class="input input-sm w-24" inputmode="decimal" bind:value={tubeText} /></label
          >
          <button class="btn btn-outline btn-sm" onclick={() => tried('out')}>Fully out: not enough</button>
          <button class="btn btn-outline btn-sm" onclick={() => tried('in')}>Fully in: too far already</button>
        </div>
        {#if session.attempts.length > 0}
          <ul class="mt-2 text-sm" aria-label="What was tried">
            {#each session.attempts as { tube, tubeMm, boundMm }, index (index)}
              <li class="border-line flex items-center justify-between gap-2 border-t">
                <span
                  >Fully {tube}{tubeMm ? ` with a tube of ${display.length(tubeMm, 0)}` : ''}: focus lies {tube ===
                  'out'
                    ? 'beyond'
                    : 'before'}
                  {display.length(boundMm, 1)} behind the racked-in face</span
                >
                <button
                  class="btn btn-ghost btn-xs btn-square"
                  aria-label="Take attempt {index + 1} out"
                  onclick={() => notices.complain(session.forget(index))}><Trash2 size={13} /></button
                >
              </li>
            {/each}
          </ul>
        {/if}
      </details>
    {/if}
  </section>

  <section class="area-guide panel p-4" aria-label="What to do now">
    {#if instruction}
      <div class="text-muted flex items-center justify-between text-sm">
        <span>{points.length > 0 && instruction.key !== 'best' ? lastFrames(points) : 'First light'}</span>
        {#if spent !== undefined}<span class="flex items-center gap-1" title="Plan about an hour"
            ><Clock size={14} />{timeInWords(spent)}</span
          >{/if}
      </div>
      <p class="mt-1 text-2xl leading-snug font-semibold" data-instruction>{instruction.title}</p>
      <p class="mt-1">{instruction.key === 'guide' && guider ? `${guider}: ${instruction.look}` : instruction.look}</p>
      {#each instruction.cautions ?? [] as caution (caution)}
        <p class="text-warning mt-1 flex gap-2"><TriangleAlert size={16} class="mt-0.5 shrink-0" />{caution}</p>
      {/each}
      {#if instruction.key !== undefined}
        {@const { key } = instruction}
        <button
          class="btn btn-primary btn-lg mt-3 w-full max-w-md"
          data-tick
          onclick={() => notices.complain(session.tick(key, true))}><Check size={20} />Done</button
        >
      {:else}
        <form class="mt-3 flex flex-wrap items-end gap-2" onsubmit={add}>
          <label class="grid gap-0.5 text-sm" for="{uid}-position"
            >position
            <input
              id="{uid}-position"
              class="input input-lg w-32 text-right text-xl"
              inputmode="numeric"
              autocomplete="off"
              bind:value={positionText}
            /></label
          >
          <label class="grid gap-0.5 text-sm" for="{uid}-hfr"
            >HFR, px
            <input
              bind:this={hfrInput}
              id="{uid}-hfr"
              class="input input-lg w-32 text-right text-xl"
              inputmode="decimal"
              autocomplete="off"
              bind:value={hfrText}
            /></label
          >
          <button class="btn btn-primary btn-lg" value="">Add the frame</button>
          <label class="grid gap-0.5 text-sm" for="{uid}-star"
            >star
            <input
              id="{uid}-star"
              class="input input-lg w-28"
              autocomplete="off"
              placeholder="one"
              bind:value={starText}
            /></label
          >
          <label
            class="flex items-center gap-2 text-sm"
            title="The star is larger than can be measured: the value is the least it can be."
            ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={isCeiling} />at least</label
          >
          <div
            class="flex w-full flex-wrap gap-1"
            role="group"
            aria-label="Not measured: the star against the frame before"
          >
            {#if points.length > 0}
              {#each [['smaller', 'Smaller'], ['same', 'The same'], ['larger', 'Larger']] as [value, label] (value)}
                <button class="btn btn-outline btn-sm" {value} data-seen={value}>{label}</button>
              {/each}
            {/if}
            <button class="btn btn-outline btn-sm" value="nothing" data-seen="nothing">No star seen</button>
          </div>
        </form>
        {#if fromFrame !== undefined}
          <p class="text-muted mt-1 text-sm" data-from-frame>Read from {fromFrame}. Right? Add the frame.</p>
        {/if}
        {#if message !== undefined}<p class="text-error mt-1" role="alert">{message}</p>{/if}
        <button
          class="btn btn-outline btn-lg mt-2"
          disabled={busy}
          title="The focuser and camera that ship: X"
          data-simulate
          onclick={() => void simulate()}><Camera size={18} />{busy ? 'Moving …' : 'Simulate it'}</button
        >
        <button class="btn btn-outline btn-lg mt-2" onclick={() => files?.click()}
          ><FileUp size={18} />{frames.list.some(({ state }) => state === 'reading' || state === 'waiting')
            ? 'Reading …'
            : 'Read a frame'}</button
        >
        <input
          bind:this={files}
          type="file"
          class="hidden"
          aria-label="Test frames"
          accept=".fit,.fits,.fts,.fz,.gz,.tif,.tiff,.png"
          onchange={({ currentTarget }) => {
            frames.add([...(currentTarget.files ?? [])]);
            currentTarget.value = '';
          }}
        />
      {/if}
    {:else}
      <p class="text-success text-2xl font-semibold">First light is done.</p>
      <label class="mt-2 block text-sm" for="{uid}-note">What to remember of it</label>
      <textarea
        id="{uid}-note"
        class="textarea mt-1 w-full max-w-xl"
        rows="3"
        maxlength="4000"
        value={session.note}
        onchange={({ currentTarget }) => notices.complain(session.setNote(currentTarget.value))}></textarea>
    {/if}
    <div class="mt-3 flex flex-wrap gap-2">
      {#if points.length > 0}
        <button class="btn btn-ghost font-normal" onclick={undo}><Undo2 size={16} />Undo</button>
        {#if chosen !== undefined && points[chosen]}
          {@const index = chosen}
          <button
            class="btn btn-ghost font-normal"
            onclick={() => {
              chosen = undefined;
              notices.complain(session.remove(index));
            }}><Trash2 size={16} />Take frame {index + 1} out</button
          >
        {/if}
        {#if answer.bestPosition !== null}
          <button class="btn btn-outline" onclick={() => notices.complain(session.keep())}
            >Keep the run, begin another</button
          >
        {/if}
        <button class="btn btn-ghost font-normal" onclick={() => notices.complain(session.startAgain())}
          >Begin again</button
        >
      {/if}
    </div>
  </section>

  <section class="area-curve panel flex min-h-0 flex-col p-4" aria-label="Focus curve">
    <div class="flex flex-wrap items-baseline justify-between gap-x-4">
      <h2 class="text-base font-semibold" data-focus-answer>
        {answer.bestPosition === null || answer.standard === null
          ? 'No best position yet'
          : `Best at ${answer.bestPosition.toFixed(0)} ±${(2 * answer.standard).toFixed(0)}, ${answer.minHfrPx?.toFixed(2)} px`}
      </h2>
      <label class="text-muted flex items-center gap-1.5 text-xs"
        >filter
        <input
          class="input input-xs w-24"
          placeholder="none"
          maxlength="200"
          value={session.run.filter ?? ''}
          onchange={({ currentTarget }) => notices.complain(session.setFilter(currentTarget.value.trim()))}
        /></label
      >
    </div>
    <p class="text-muted text-sm">
      {points.length === 0
        ? 'Every frame becomes a point here.'
        : answer.enough
          ? 'Enough: another frame cannot help.'
          : (answer.why ?? 'Another frame would narrow it.')}
      {answer.left.length > 0 ? `${answer.left.length} left out.` : ''}
    </p>
    <div class="min-h-56 flex-1">
      <FocusCurve
        {points}
        {answer}
        next={isRun ? instruction?.position : undefined}
        {chosen}
        onchoose={(index) => (chosen = chosen === index ? undefined : index)}
      />
    </div>
    {#if chosen !== undefined && points[chosen]}
      <p class="text-sm">
        Frame {chosen + 1}: {starOf(points[chosen]!)} at {points[chosen]!.position}{answer.left.find(
          ({ index }) => index === chosen
        )
          ? `, left out: ${answer.left.find(({ index }) => index === chosen)?.why}`
          : ''}.
      </p>
    {/if}
    {#if session.measured}
      {@const { steps, standard } = session.measured}
      <p class="mt-1 flex flex-wrap items-center gap-2 text-sm" data-backlash>
        Out and in differ by {steps.toFixed(0)} ±{(2 * standard).toFixed(0)} steps: the backlash.
        {#if Math.round(steps) !== session.backlash}
          <button class="btn btn-outline btn-xs" onclick={() => notices.complain(session.keepBacklash(steps))}
            >Keep it</button
          >
        {/if}
      </p>
    {/if}
    {#if kept.length > 0 || offsets.length > 0}
      <div class="mt-2 grid gap-x-6 text-sm sm:grid-cols-2">
        {#if kept.length > 0}
          <table class="w-full self-start">
            <caption class="text-muted text-left text-xs">Runs that were kept</caption>
            <tbody>
              {#each kept as { run, answer: { bestPosition, standard }, backlash }, index (index)}
                <tr class="border-line border-t">
                  <td class="py-0.5" title={run.note}
                    >{run.filter ?? 'no filter'}, {run.on?.slice(0, 10) ?? ''}{backlash
                      ? `, backlash ${backlash.steps.toFixed(0)}`
                      : ''}</td
                  >
                  <td class="text-right"
                    >{bestPosition === null || standard === null
                      ? 'no minimum'
                      : `${bestPosition.toFixed(0)} ±${(2 * standard).toFixed(0)}`}{bestPosition !== null &&
                    firstBest !== null &&
                    index > 0
                      ? `, ${bestPosition - firstBest >= 0 ? '+' : '−'}${Math.abs(bestPosition - firstBest).toFixed(0)}`
                      : ''}</td
                  >
                </tr>
              {/each}
            </tbody>
          </table>
        {/if}
        {#if offsets.length > 0}
          <table class="w-full self-start">
            <caption class="text-muted text-left text-xs">Offsets by the thickness of the glass, steps</caption>
            <tbody>
              {#each offsets as { name, steps }, index (index)}
                <tr class="border-line border-t"
                  ><td class="py-0.5">{name}</td><td class="text-right">{steps > 0 ? '+' : ''}{steps}</td></tr
                >
              {/each}
            </tbody>
          </table>
        {/if}
      </div>
    {/if}
    {#if simulator}
      <p class="text-muted mt-1 text-xs">
        Simulated focuser: counts {simulator.position}, {simulator.umPerStep} µm a step, to {simulator.lastStep}.
      </p>
    {/if}
    {#if train.document.host.focuser?.umPerStep === undefined}
      <p class="text-muted mt-1 text-xs">
        With what a step moves stated, <a
          class="link-quiet"
          href="/trains/{train.id}/build"
          onclick={() => train.select({ kind: 'host' })}>in the host</a
        >, steps follow the depth of focus.
      </p>
    {/if}
  </section>
</StageFrame>

<style>
  :global(.stage.first-light) {
    grid-template-areas: 'verdict' 'rail' 'guide' 'curve' 'budget';
  }
  .area-budget {
    grid-area: budget;
  }
  .area-guide {
    grid-area: guide;
  }
  .area-curve {
    grid-area: curve;
  }
  @media (min-width: 64rem) {
    :global(.stage.first-light) {
      min-height: calc(100dvh - 2.75rem);
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      grid-template-rows: auto auto auto minmax(0, 1fr);
      grid-template-areas: 'verdict verdict' 'rail rail' 'budget curve' 'guide curve';
    }
  }
</style>
