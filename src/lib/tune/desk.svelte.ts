import { screwTurns, sweepPositions } from '@lodestone/core/experiment';
import { untrack } from 'svelte';
import type { Frames, TestFrame } from '$lib/frames/frames.svelte.ts';
import type { Sweep } from '$lib/frames/sweep.svelte.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import { MapState } from './map.svelte.ts';
import { NIGHTS } from './nights.ts';
import { Trainer } from './trainer.svelte.ts';
import type { Tuning } from './tuning.svelte.ts';

export type TuneList = 'frames' | 'sweep' | 'experiments';

/** Pixels that the simulated camera gives a frame at most: quick enough to look at, fine enough to measure. */
const MOST_PIXELS = 7e6;
/** Of a sweep it takes many. */
const MOST_SWEEP_PIXELS = 2.5e6;

const newSeed = (): number => Math.floor(Math.random() * 2 ** 31);

/** What is looked at under Tune, and what its simulated camera is asked for. */
export class TuneDesk {
  readonly map = new MapState();
  readonly trainer = new Trainer();
  /** Which of the lists is looked at: without a frame, what was tried. */
  list = $state<TuneList>('frames');
  /** Which layer of the face is looked at. */
  layer = $state<'stars' | 'tilt'>('stars');
  nightId = $state(NIGHTS[0]!.id);

  constructor(
    readonly train: TrainSession,
    readonly frames: Frames,
    readonly sweep: Sweep,
    readonly tuning: Tuning
  ) {
    if (tuning.experiments.length > 0 && !frames.chosen) this.list = 'experiments';
    this.#counted = frames.list.length;
    this.#taken = frames.together;
    this.#seen = sweep.inSteps;
  }

  readonly sensor = $derived.by(() => this.train.assessment.facts.light?.sensor);
  readonly hasSensor = $derived(this.sensor?.pixelUm !== undefined);
  readonly halfDiagonalMm = $derived(this.sensor ? Math.hypot(this.sensor.widthMm, this.sensor.heightMm) / 2 : 0);
  readonly tilt = $derived.by(() => this.sweep.result?.reading.tilt ?? this.tuning.keptTilt);
  readonly hasTilt = $derived(this.tilt !== undefined && this.sensor !== undefined);
  readonly turns = $derived.by(() => {
    const { tilt, sensor } = this;
    const { plate } = this.tuning;
    return tilt && sensor && plate ? screwTurns(tilt, this.halfDiagonalMm, plate) : [];
  });
  readonly isTilt = $derived(this.layer === 'tilt' && this.hasTilt && !this.trainer.isOpen);
  readonly depthUm = $derived.by(() => {
    const mm = this.train.assessment.facts.light?.report.depthOfFocusMm;
    return mm === undefined ? undefined : mm * 1000;
  });

  #counted: number;
  #taken: readonly TestFrame[];
  #seen: Sweep['inSteps'];

  /** A frame that is new is looked for among the frames. */
  lookForNew(): void {
    const { length } = this.frames.list;
    if (length > this.#counted && this.list === 'experiments') this.list = 'frames';
    this.#counted = length;
  }

  /** Several that came together, at several positions of the focuser, are a sweep. */
  takeTogether(): void {
    const { together } = this.frames;
    // Headers are known once a frame is read.
    const isReady = together.every(({ state }) => state !== 'waiting' && state !== 'reading');
    if (together === this.#taken || !isReady) return;
    this.#taken = together;
    untrack(() => {
      if (this.sweep.takeIfSweep(together)) this.list = 'sweep';
    });
  }

  /** Whenever frames or positions change the focal surface is reckoned anew. */
  readSweep(): void {
    if (this.sweep.asked !== '' && this.sweep.asked !== this.sweep.readAs) untrack(() => void this.sweep.read());
    if (this.sweep.waiting.length === 0) untrack(() => this.sweep.learn());
  }

  /** A sweep that was read just now is looked at. */
  showSweep(): void {
    const { inSteps } = this.sweep;
    if (inSteps && inSteps !== this.#seen) this.layer = 'tilt';
    this.#seen = inSteps;
  }

  turnFace(): void {
    this.layer = this.layer === 'tilt' ? 'stars' : 'tilt';
  }

  get #document(): TrainSession['document'] {
    return $state.snapshot(this.train.document) as TrainSession['document'];
  }

  nextRound(): void {
    this.map.loupesShown = true;
    void this.trainer.next(this.#document);
  }

  get #night() {
    return NIGHTS.find(({ id }) => id === this.nightId) ?? NIGHTS[0]!;
  }

  /** Pixels that are read as one, for a frame of at most so many. */
  binningFor(mostPixels: number): number {
    const { widthMm = 0, heightMm = 0, pixelUm = 4 } = this.sensor ?? {};
    const pixels = (widthMm * heightMm * 1e6) / pixelUm ** 2;
    return Math.max(1, Math.min(8, Math.ceil(Math.sqrt(pixels / mostPixels))));
  }

  /** Takes a frame with the simulated camera. */
  simulate(): void {
    const binning = this.binningFor(MOST_PIXELS);
    const { title, truth } = this.#night;
    const shot = { truth: { ...truth(Math.random), seeingPx: 2.3 * binning }, seed: newSeed(), binning };
    this.frames.simulate(this.#document, [{ name: `Simulated, ${title}`, shot }]);
  }

  /** Takes frames at several positions of the focuser with it. */
  simulateSweep(): void {
    const binning = this.binningFor(MOST_SWEEP_PIXELS);
    const seeingPx = 2.5 * binning;
    const { title, truth } = this.#night;
    const night = truth(Math.random);
    const { defocusUm: off = 0 } = night;
    const taking = this.frames.simulate(
      this.#document,
      sweepPositions(this.train.assessment.facts, seeingPx).map(({ at, defocusUm }) => ({
        name: `Sweep, ${title}, position ${at}`,
        shot: { truth: { ...night, seeingPx, defocusUm: defocusUm + off }, seed: newSeed(), binning, focuserAt: at }
      }))
    );
    this.#taken = taking;
    this.sweep.take(taking);
    this.list = 'sweep';
  }

  /**
   * Compares the frame that is looked at with another of its size, or no longer: the one below in the list, then the
   * next one.
   *
   * @returns why that cannot be
   */
  compare(): string | undefined {
    const { chosen, list, other } = this.frames;
    if (!chosen) return undefined;
    if (other) {
      this.frames.compare(undefined);
      return undefined;
    }
    const at = list.indexOf(chosen);
    const size = chosen.summary;
    const next = [...list.slice(at + 1), ...list.slice(0, at).toReversed()].find(
      ({ summary }) => summary && summary.widthPx === size?.widthPx && summary.heightPx === size.heightPx
    );
    if (!next) return 'There is no other frame of this size to compare with.';
    this.frames.compare(next);
    return undefined;
  }

  /** Keeps what the frame says of the spacing. @returns why that cannot be */
  keep(): string | undefined {
    const { chosen } = this.frames;
    if (!chosen) return undefined;
    this.list = 'experiments';
    return this.tuning.addFrames([chosen]);
  }

  /** Puts everything down that works for it. */
  leave(): void {
    this.trainer.close();
    this.tuning.letGo();
  }
}
