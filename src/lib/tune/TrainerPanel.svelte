<script lang="ts">
  /** A round of the trainer: what is asked, what was right, and how the player does. */
  import TryAgain from '$lib/ui/TryAgain.svelte';
  import {
    TRAINER_FAULTS,
    TRAINER_STEPS_MM,
    explained,
    mostConfused,
    noteOf,
    type TrainerFault
  } from '@lodestone/core/experiment';
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import X from '@lucide/svelte/icons/x';
  import type { Trainer } from './trainer.svelte.ts';

  interface Props {
    trainer: Trainer;
    onnext: () => void;
  }
  const { trainer, onnext }: Props = $props();

  const WORDS: Record<TrainerFault, string> = {
    nothing: 'Nothing is wrong',
    spacing: 'The spacing is off',
    tilt: 'The sensor is tilted',
    tracking: 'Tracking or guiding',
    collimation: 'Out of collimation',
    focus: 'Out of focus',
    light: 'Dark corners: the light'
  };
  let fault = $state<TrainerFault>();
  let way = $state<'longer' | 'shorter'>();
  let byMm = $state<number>(1);
  // What was chosen holds for one round.
  $effect(() => {
    if (trainer.state === 'taking') [fault, way, byMm] = [undefined, undefined, 1];
  });
  const { score, round, answer, right } = $derived(trainer);
  const isReady = $derived(fault !== undefined && (fault !== 'spacing' || way !== undefined));
  const confused = $derived(mostConfused(score));

  function say() {
    if (fault === undefined || !isReady) return;
    trainer.say(fault === 'spacing' && way ? { fault, way, byMm } : { fault });
  }
  const isAsking = () => trainer.state === 'asking';
  useCommands().register([
    ...TRAINER_FAULTS.map((each, at) => ({
      id: `trainer-${each}`,
      group: 'Trainer',
      title: WORDS[each],
      key: String(at + 1),
      enabled: isAsking,
      run: () => (fault = each)
    })),
    {
      id: 'trainer-go',
      group: 'Trainer',
      title: 'Answer, or next round',
      key: 'N',
      run: () => (trainer.state === 'asking' ? say() : trainer.state === 'taking' ? undefined : onnext())
    }
  ]);
</script>

<div class="flex items-baseline justify-between gap-2">
  <h2 class="text-xl font-semibold" data-trainer={trainer.state}>
    {trainer.state === 'taking'
      ? 'The camera exposes …'
      : trainer.state === 'failed'
        ? 'This round did not come about'
        : right === undefined
          ? 'What is wrong with this frame?'
          : right
            ? 'Right.'
            : answer?.fault === round!.fault
              ? 'Not quite.'
              : `No: ${WORDS[round!.fault].toLowerCase()}.`}
  </h2>
  <button class="btn btn-ghost btn-sm btn-square" aria-label="Leave the trainer" onclick={() => trainer.close()}
    ><X size={16} /></button
  >
</div>
{#if trainer.state === 'taking'}
  <progress class="progress progress-primary mt-2" aria-label="The camera exposes"></progress>
{:else if round && trainer.state === 'asking'}
  <fieldset class="mt-2 grid gap-0.5">
    <legend class="sr-only">What is wrong</legend>
    {#each TRAINER_FAULTS as each, at (each)}
      <label class={['flex min-h-9 cursor-pointer items-center gap-2 rounded px-1', fault === each && 'bg-base-300/50']}
        ><input type="radio" class="radio radio-sm" name="trainer-fault" value={each} bind:group={fault} /><span
          class="flex-1">{WORDS[each]}</span
        ><kbd class="text-muted text-xs max-md:hidden">{at + 1}</kbd></label
      >
    {/each}
  </fieldset>
  {#if fault === 'spacing'}
    <p class="mt-2 text-sm" data-note>{noteOf(round)}</p>
    <div class="mt-1 flex flex-wrap items-center gap-2">
      <div class="join" role="group" aria-label="Which way the spacing goes">
        {#each [['longer', 'Rings in'], ['shorter', 'Rings out']] as const as [each, title] (each)}
          <button
            class={['btn btn-sm join-item', way === each ? 'btn-primary' : 'btn-outline']}
            aria-pressed={way === each}
            onclick={() => (way = each)}>{title}</button
          >
        {/each}
      </div>
      <select class="select select-sm w-28" aria-label="By how much" bind:value={byMm}>
        {#each TRAINER_STEPS_MM as mm (mm)}<option value={mm}>{mm} mm</option>{/each}
      </select>
    </div>
  {/if}
  <button class="btn btn-primary btn-sm mt-3" disabled={!isReady} title="N" data-say onclick={say}>Submit</button>
{:else if round && answer}
  <p class="mt-2" data-told={right}>{explained(round)}</p>
  {#if !right && answer.fault === round.fault}
    <p class="text-muted mt-1 text-sm">
      The fault was right; {answer.way === (round.errorMm > 0 ? 'shorter' : 'longer')
        ? 'the amount was not'
        : 'the way was not'}.
    </p>
  {/if}
{/if}
{#if trainer.state === 'failed'}
  <div class="mt-3"><TryAgain message={trainer.failure} onagain={onnext} /></div>
{:else if trainer.state === 'told'}
  <button class="btn btn-primary btn-sm mt-3" title="N" data-next-round onclick={onnext}
    >Next round<ArrowRight size={15} /></button
  >
{/if}
<div class="border-line mt-4 border-t pt-2 text-sm">
  <p data-score="{score.right}/{score.rounds}">
    {score.rounds === 0
      ? 'No round was played yet.'
      : `${score.right} of ${score.rounds} right${score.streak > 1 ? `, ${score.streak} in a row` : ''}.`}
  </p>
  <p class="text-muted flex items-center gap-2">
    difficulty
    <progress class="progress w-24" max="8" value={score.level} aria-label="Level {score.level} of 8"></progress>
  </p>
  {#if confused}
    <p class="text-muted">
      Most often confused: {WORDS[confused.fault].toLowerCase()}, taken for {WORDS[confused.for].toLowerCase()} ({confused.times}
      {confused.times === 1 ? 'time' : 'times'}).
    </p>
  {/if}
  {#if score.rounds > 0}
    <button class="link-quiet mt-1 text-xs" onclick={() => trainer.beginAnew()}>Reset the score</button>
  {/if}
</div>
