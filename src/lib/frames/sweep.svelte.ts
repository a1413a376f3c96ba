import { reasonOf } from '$lib/api/reason.ts';
import {
  LEAST_POSITIONS,
  focuserAt,
  scaledSweep,
  sensorUmPerStep,
  strangerIn,
  takenWith,
  umPerUnit,
  type SweepReading
} from '@lodestone/core/experiment';
import { getContext, setContext } from 'svelte';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import type { Frames, TestFrame } from './frames.svelte.ts';
import { sweepOf } from './pixels.ts';

/** A frame of a sweep, and where the focuser stood; undefined while nobody has said. */
export interface SweepMember {
  frame: TestFrame;
  at: number | undefined;
  /** Somebody has said it: it is not looked up again. */
  isSaid?: boolean;
}

/** A sweep that was read, and how its positions were counted. */
export interface ReadSweep {
  reading: SweepReading;
  umPerStep: number;
  /** Best for the whole field, as the focuser counts. */
  bestSteps: number;
  /** Nobody has said what a step moves: it is reckoned from how fast stars grow. */
  isReckoned: boolean;
  /** What a step would be by how fast stars grow, where that is another figure by far than what was said. */
  otherwiseUm: number | undefined;
}

/** How fast stars grow is believed where it is known to so much of itself; it goes with the square of a step. */
const MOST_DOUBT = 0.25;
/** A step that was said and one that is reckoned may differ by this factor. */
const FAR = 1.5;

const countDifferent = (positions: readonly (number | undefined)[]): number =>
  positions.filter((at, index) => positions.indexOf(at) === index).length;

/** Frames at several positions of the focuser, and the focal surface they give. */
export class Sweep {
  members = $state.raw<readonly SweepMember[]>([]);
  /** What was typed for a step, μm at the sensor; undefined: as the host says, else reckoned. */
  typedUm = $state<number>();
  /** Larger numbers stand for farther out. */
  outward = $state(true);
  state = $state<'idle' | 'reading' | 'read' | 'failed'>('idle');
  #failure = $state<string>();
  /** It was not the frames: the same may be read at another try. */
  mayRetry = $state(false);
  /** The focal surface, its lengths in steps of the focuser as they are counted. */
  inSteps = $state.raw<SweepReading>();

  readonly #train: TrainSession;
  readonly #frames: Frames;
  #reading: AbortController | undefined;

  constructor(train: TrainSession, frames: Frames) {
    this.#train = train;
    this.#frames = frames;
  }

  /** What a step moves the sensor by, as far as it was said, μm. */
  readonly statedUm = $derived.by(() => this.typedUm ?? sensorUmPerStep(this.#train.assessment.facts));
  readonly waiting = $derived(
    this.members.filter(({ frame }) => frame.state === 'waiting' || frame.state === 'reading')
  );
  readonly usable = $derived(
    this.members.filter(({ frame, at }) => at !== undefined && frame.state === 'read' && frame.hasStars)
  );
  readonly positions = $derived(countDifferent(this.usable.map(({ at }) => at)));
  /** What the focal surface is to be read of; empty while there is too little. */
  readonly asked = $derived(
    this.waiting.length > 0 || this.positions < LEAST_POSITIONS
      ? ''
      : this.usable
          .map(({ frame, at }) => `${frame.id}@${at}${frame.summary?.bottomUp ? '' : ' from the top'}`)
          .join(' ')
  );

  readonly result: ReadSweep | undefined = $derived.by(() => {
    const fit = this.inSteps;
    if (!fit) return undefined;
    const { statedUm } = this;
    const reckonedUm = this.#reckonedUm(fit);
    const umPerStep = statedUm ?? reckonedUm;
    if (umPerStep === undefined) return undefined;
    const isFar = reckonedUm !== undefined && (reckonedUm > FAR * umPerStep || reckonedUm * FAR < umPerStep);
    return {
      reading: scaledSweep(fit, this.outward ? umPerStep : -umPerStep),
      bestSteps: fit.bestUm,
      umPerStep,
      isReckoned: statedUm === undefined,
      otherwiseUm: isFar ? reckonedUm : undefined
    };
  });
  readonly message: string | undefined = $derived(
    this.#failure ??
      (this.inSteps && !this.result
        ? 'The size of a focuser step is not known, and these frames do not show it: type it above, or go farther from focus.'
        : undefined)
  );

  /** Frames of the list that say where the focuser stood. */
  readonly inList = $derived.by(() => this.#frames.list.filter((frame) => this.#at(frame) !== undefined));

  #at({ summary, name }: TestFrame): number | undefined {
    return focuserAt(summary ?? {}, name);
  }

  /** Takes these frames for the sweep. */
  take(frames: readonly TestFrame[]): void {
    this.members = frames.map((frame) => ({ frame, at: this.#at(frame) }));
    this.readAs = '';
    this.inSteps = undefined;
    this.state = 'idle';
    this.#failure = undefined;
    this.#frames.wantStars(frames);
  }

  /** Takes frames that came together for a sweep, where their focuser stood at enough positions. @returns whether it did */
  takeIfSweep(frames: readonly TestFrame[]): boolean {
    const isSweep =
      countDifferent(frames.map((frame) => this.#at(frame)).filter((at) => at !== undefined)) >= LEAST_POSITIONS;
    if (isSweep) this.take(frames);
    return isSweep;
  }

  /** Learns from headers that were read meanwhile where the focuser stood. */
  learn(): void {
    const members = this.members.map((member) =>
      member.isSaid ? member : { ...member, at: member.at ?? this.#at(member.frame) }
    );
    if (members.some(({ at }, index) => at !== this.members[index]!.at)) this.members = members;
  }

  place(frame: TestFrame, at: number | undefined): void {
    this.members = this.members.map((member) => (member.frame === frame ? { frame, at, isSaid: true } : member));
  }

  leave(frame: TestFrame): void {
    this.members = this.members.filter((member) => member.frame !== frame);
  }

  cancel(): void {
    this.#reading?.abort();
    this.readAs = '';
    for (const { frame } of this.waiting) this.#frames.cancel(frame);
    this.state = 'idle';
  }

  /** What the last reading was of: the same is not read twice. */
  readAs = '';

  /** Reads the focal surface out of all frames that are there. */
  async read(): Promise<void> {
    this.readAs = this.asked;
    this.#reading?.abort();
    this.mayRetry = false;
    const fail = (message: string): void => {
      this.state = 'failed';
      this.#failure = message;
    };
    const stranger = this.usable
      .map(({ frame }) => takenWith(frame.summary!))
      .map((each, at, all) => strangerIn(all.slice(0, at), each))
      .find((each) => each !== undefined);
    if (stranger !== undefined) return fail(`One of these frames does not belong here. ${stranger}`);
    const reading = new AbortController();
    this.#reading = reading;
    this.state = 'reading';
    try {
      const frames = this.usable.map(({ frame, at }) => ({
        positionUm: at!,
        summary: $state.snapshot(frame.summary!)
      }));
      const answer = await sweepOf(frames, reading.signal);
      this.inSteps = answer.ok ? answer.sweep : undefined;
      if (!answer.ok) return fail(answer.message);
      this.state = 'read';
      this.#failure = undefined;
    } catch (error) {
      if (reading.signal.aborted) return;
      fail(reasonOf(error));
      this.mayRetry = true;
    }
  }

  /** What a step is by how fast stars grow, μm; undefined where that is hardly known. */
  #reckonedUm({ curve, growthDoubt }: SweepReading): number | undefined {
    if (!(growthDoubt < MOST_DOUBT)) return undefined;
    const { light } = this.#train.assessment.facts;
    const pixelUm = light?.sensor.pixelUm;
    const [frame] = this.usable;
    if (!light || pixelUm === undefined || !frame) return undefined;
    const { binning = 1 } = takenWith(frame.frame.summary!);
    return umPerUnit(Math.max(0, curve[1]!), light.beam.fRatio, light.obstruction, pixelUm * binning) || undefined;
  }
}

const KEY = Symbol('sweep');
export const provideSweep = (sweep: Sweep): Sweep => setContext(KEY, sweep);
export const useSweep = (): Sweep => getContext<Sweep>(KEY);
