<script lang="ts">
  import { findElement } from '@lodestone/core/train';
  import { focuserAt } from '@lodestone/core/experiment';
  import { useFrames } from '$lib/frames/frames.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { timeInWords } from '$lib/ui/time.ts';
  import { Frame } from '$lib/workbench/frame.svelte.ts';
  import StageFrame from '$lib/workbench/StageFrame.svelte';
  import Check from '@lucide/svelte/icons/check';
  import Clock from '@lucide/svelte/icons/clock';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
  import Undo2 from '@lucide/svelte/icons/undo-2';
  import { onMount } from 'svelte';
  import FocusTravel from './FocusTravel.svelte';
  import FrameFields from './FrameFields.svelte';
  import { FrameForm } from './frameForm.svelte.ts';
  import { instructionFor, lastFrames, moverOf, starOf } from './guide.ts';
  import { GuideRun } from './guideRun.svelte.ts';
  import { FocusSession } from './run.svelte.ts';
  import RunPanel from './RunPanel.svelte';
  import { Simulator } from './simulator.svelte.ts';

  const train = useTrain();
  const notices = useNotices();
  const frames = useFrames();
  const frame = new Frame({ folds: true });
  const session = new FocusSession(train);
  const simulator = new Simulator(train.id, session);
  const uid = $props.id();

  const { answer, points } = $derived(session);
  const { focus, guide } = $derived(train.assessment.facts);
  const mover = $derived(moverOf(train.document.host.kind, focus?.byMirror ?? false));
  const instruction = $derived(
    instructionFor(session.done, points, answer, session.step, session.backlash, {
      mover,
      hasGuide: guide !== undefined
    })
  );
  const isRun = $derived(instruction?.position !== undefined && instruction.key === undefined);
  const guider = $derived(guide && findElement(train.document, guide.stalk.at)?.name);
  const form = new FrameForm(session, () => instruction);
  const isGuide = $derived(instruction?.key === 'guide');
  const guideRun = new GuideRun(train);
  const guideForm = new FrameForm(guideRun, () => guideRun.next);
  let chosen = $state<number>();

  /** A frame that was dropped, or came in, fills the form: its stars are the star. */
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
    const { name, summary, message } = fresh;
    const into = isGuide ? guideForm : form;
    into.fill(name, summary?.field.hfrPx ?? undefined, summary && focuserAt(summary, name), message);
  });

  /** A clock that runs while the first light does. */
  let now = $state(Date.now());
  onMount(() => {
    const ticking = setInterval(() => (now = Date.now()), 5000);
    return () => clearInterval(ticking);
  });
  const began = $derived(session.run.on === undefined ? undefined : Date.parse(session.run.on));
  const spent = $derived(began === undefined ? undefined : Math.max(0, (now - began) / 1000));

  const simulate = () =>
    void notices.attempt(async () => notices.complain(instruction && (await simulator.take(instruction))));
  useCommands().register([
    {
      id: 'simulate-frame',
      group: 'First light',
      title: 'Simulate: move, and take a frame',
      key: 'X',
      enabled: () => isRun,
      run: simulate
    }
  ]);

  function takeOut(index: number) {
    chosen = undefined;
    notices.complain(session.remove(index));
  }
</script>

<StageFrame {frame} layout="first-light">
  <section class="area-budget panel p-4" aria-label="Focus travel"><FocusTravel {session} /></section>

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
      {#if isGuide}
        <p class="mt-2 font-semibold" data-guide-answer>{guideRun.headline}</p>
        {#if guideRun.points.length > 0}
          <p class="text-muted text-sm">
            {guideRun.points.map((point) => `${starOf(point)} at ${point.position}`).join(' · ')}
          </p>
        {/if}
        <FrameFields form={guideForm} hasBefore={guideRun.points.length > 0} />
      {/if}
      {#if instruction.key !== undefined}
        {@const { key } = instruction}
        {#if isGuide && guideRun.points.length > 0}
          <button class="btn btn-ghost mt-3 font-normal" onclick={() => notices.complain(guideRun.startAgain())}
            >Start the guide run again</button
          >
        {/if}
        <button
          class="btn btn-primary btn-lg mt-3 w-full max-w-md"
          data-tick
          onclick={() => notices.complain(session.tick(key, true))}><Check size={20} />Done</button
        >
      {:else}
        <FrameFields {form} hasBefore={points.length > 0} busy={simulator.busy} onsimulate={simulate} />
      {/if}
    {:else}
      <p class="text-success text-2xl font-semibold">First light is done.</p>
      <label class="mt-2 block text-sm" for="{uid}-note">Note</label>
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
        <button class="btn btn-ghost font-normal" onclick={() => notices.complain(train.undo())}
          ><Undo2 size={16} />Undo</button
        >
        {#if chosen !== undefined && points[chosen]}
          {@const index = chosen}
          <button class="btn btn-ghost font-normal" onclick={() => takeOut(index)}
            ><Trash2 size={16} />Remove frame {index + 1}</button
          >
        {/if}
        {#if answer.bestPosition !== null}
          <button class="btn btn-outline" onclick={() => notices.complain(session.keep())}
            >Keep the run, start another</button
          >
        {/if}
        <button class="btn btn-ghost font-normal" onclick={() => notices.complain(session.startAgain())}
          >Start again</button
        >
      {/if}
    </div>
  </section>

  <section class="area-curve panel flex min-h-0 flex-col p-4" aria-label="Focus curve">
    <RunPanel {session} {simulator} {mover} next={isRun ? instruction?.position : undefined} bind:chosen />
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
      grid-template-columns: minmax(20rem, 26rem) minmax(0, 1fr);
      grid-template-rows: auto auto auto minmax(0, 1fr);
      grid-template-areas: 'verdict verdict' 'rail rail' 'guide curve' 'budget curve';
    }
  }
</style>
