<script lang="ts">
  import {
    turnedScrewDeg,
    whereTurned,
    withFirstSeen,
    withSecondSeen,
    type KnownTilt
  } from '@lodestone/core/experiment';
  import { wholeDegrees } from '@lodestone/core/frame';
  import type { TiltPlate } from '@lodestone/core/train';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberIn } from '$lib/ui/parse.ts';
  import { dayOf } from '$lib/ui/time.ts';
  import type { Tuning } from './tuning.svelte.ts';

  /** What two sweeps say of a plate's screws, with all of them turned between them as told, or one by itself. */
  interface Props {
    tuning: Tuning;
    plate: TiltPlate;
    /** The tilt that was kept before this one. */
    before: { tilt: KnownTilt; on: string | undefined };
    after: KnownTilt;
    /** Of the sensor, mm. */
    halfDiagonalMm: number;
  }
  const { tuning, plate, before, after, halfDiagonalMm }: Props = $props();
  const notices = useNotices();

  /** The owner has said that all screws were turned between the two sweeps. */
  let isTurned = $state(false);
  const checked = $derived(isTurned ? whereTurned(before.tilt, after, plate) : undefined);

  function adopt(to: TiltPlate) {
    notices.complain(tuning.setPlate(to));
    isTurned = false;
  }
  const placeInWords = ({ firstDeg = 90, mirrored = false }: TiltPlate): string =>
    `screw 1 at ${wholeDegrees(firstDeg)}${mirrored ? ', picture mirrored' : ''}`;
  const since = $derived(before.on ? dayOf(before.on) : 'before');

  let screw = $state<1 | 2>(1);
  let turnsText = $state('0.25');
  let way = $state<'clockwise' | 'anticlockwise'>('clockwise');

  function learn(event: SubmitEvent) {
    event.preventDefault();
    const turns = numberIn(turnsText);
    if (turns === undefined || !(turns > 0 && turns <= 20)) return notices.complain('Turns: more than 0, at most 20.');
    const deg = turnedScrewDeg(before.tilt, after, plate, { turns, way }, halfDiagonalMm);
    if (deg === 'small')
      return notices.complain('The tilt changed too little: turn the screw farther, or take more frames.');
    if (deg === 'not-as-told') {
      return notices.complain('The tilt changed by another amount than this turn makes: something else moved too.');
    }
    const found = screw === 1 ? withFirstSeen(plate, deg) : withSecondSeen(plate, deg);
    if (!found)
      return notices.complain(
        `Screw 2 would be at ${wholeDegrees(deg)}, not beside screw 1. Turn screw 1 by itself first.`
      );
    const refusal = tuning.setPlate(found);
    if (refusal !== undefined) return notices.complain(refusal);
    if (screw === 1) {
      notices.say(`Found: ${placeInWords(found)}. Keep this sweep, turn screw 2 by itself, and take another.`);
      screw = 2;
    }
  }
</script>

<div class="mt-1 text-sm" data-turned>
  {#if !checked}
    <button class="btn btn-outline btn-sm" onclick={() => (isTurned = true)}
      >They were turned as told after the sweep of {since}</button
    >
    <form class="mt-1 flex flex-wrap items-center gap-2" aria-label="One screw turned by itself" onsubmit={learn}>
      Or only screw
      <select class="select select-xs w-14" aria-label="Screw that was turned" bind:value={screw}>
        <option value={1}>1</option>
        <option value={2}>2</option>
      </select>
      by
      <input class="input input-xs w-16 text-right" inputmode="decimal" aria-label="Turns" bind:value={turnsText} />
      turns
      <select class="select select-xs w-32" aria-label="Which way it was turned" bind:value={way}>
        <option value="clockwise">clockwise</option>
        <option value="anticlockwise">anticlockwise</option>
      </select>
      <button class="btn btn-outline btn-xs" data-learn>Find it</button>
    </form>
  {:else if checked.kind === 'as-described'}
    <p>The correction went where it should.</p>
    <button class="btn btn-primary btn-sm mt-1" onclick={() => adopt({ ...plate, confirmed: true })}
      >Keep the screws as described</button
    >
  {:else if checked.kind === 'opposite'}
    {@const other = checked.plate}
    <p>The tilt grew as much as it should have shrunk: the screws work the other way.</p>
    <button class="btn btn-primary btn-sm mt-1" onclick={() => adopt(other)}
      >Take it as {other.kind === 'springs' ? 'drawn against springs' : 'push and pull'}</button
    >
  {:else if checked.kind === 'elsewhere'}
    <p>
      The correction went in another direction: the screws are not where described. Two places are possible; one more
      correction shows which.
    </p>
    <div class="mt-1 flex flex-wrap gap-2">
      {#each checked.plates as each, index (index)}
        <button class="btn btn-outline btn-sm" onclick={() => adopt(each)}>Take {placeInWords(each)}</button>
      {/each}
    </div>
  {:else}
    <p>
      {checked.why === 'small'
        ? 'The previous tilt was too small: use a larger one, or more frames.'
        : 'The tilt changed by more or less than the turns given: something else moved too, or the turns were different.'}
    </p>
  {/if}
</div>
