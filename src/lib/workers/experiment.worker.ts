import { Facts } from '@lodestone/core/check';
import type { Train } from '@lodestone/core/train';
import {
  NO_FAULTS,
  newRound,
  readSweep,
  takeFits,
  trainerCamera,
  type HiddenTruth,
  type SweepAnswer,
  type SweepFrame,
  type TrainerRound,
  type TrainerScore
} from '@lodestone/core/experiment';
import {
  FrameError,
  FramePyramid,
  readStars,
  simulateFrame,
  summaryOf,
  type FrameSummary
} from '@lodestone/core/frame';
import { expose, transfer } from 'comlink';
import { sendable, type Tile } from './tile.ts';

/** What the simulated camera is to take. */
export interface Shot {
  truth: Partial<HiddenTruth>;
  seed: number;
  binning: number;
  /** What its header says of the focuser, steps. */
  focuserAt?: number;
}

/** A round of the trainer with its frame's stars, and the sizes of its picture's levels. */
export interface Practice {
  round: TrainerRound;
  summary: FrameSummary;
  sizes: { width: number; height: number }[];
}

/** A frame as FITS, or why there is none. */
export type Taken = Uint8Array<ArrayBuffer> | string;

let pyramid: FramePyramid | undefined;

/** The simulated camera, its trainer, and focus sweeps, away from the page. */
const worker = {
  take(train: Train, { truth, seed, binning, focuserAt }: Shot): Taken {
    try {
      const bytes = takeFits(new Facts(train), { ...NO_FAULTS, ...truth }, seed, binning, focuserAt);
      if (!bytes) return 'The camera has no sensor and pixel size: state them.';
      return transfer(bytes, [bytes.buffer]);
    } catch (error) {
      if (error instanceof FrameError) return error.message;
      throw error;
    }
  },

  /** A round of the trainer, on the player's own train where its sensor is known. */
  practise(train: Train | undefined, score: TrainerScore): Practice {
    const round = newRound(score, trainerCamera(train && new Facts(train)), Math.random);
    const { frame } = simulateFrame(round.spec);
    const summary = summaryOf(readStars(frame), frame);
    pyramid = new FramePyramid(frame, summary);
    // A way light falls off is a function, which cannot be sent; nobody asks for it.
    const { illumination: _light, ...conditions } = round.spec.conditions;
    return { round: { ...round, spec: { ...round.spec, conditions } }, summary, sizes: pyramid.sizes };
  },

  tile: (level: number, column: number, row: number): Tile | undefined => sendable(pyramid, level, column, row),

  sweep: (frames: readonly SweepFrame[]): SweepAnswer => readSweep(frames)
};

export type ExperimentWorker = typeof worker;
expose(worker);
