import type { FrameSummary, RowOrder } from '@lodestone/core/frame';
import type { Train } from '@lodestone/core/train';
import type { SweepAnswer, SweepFrame, TrainerScore } from '@lodestone/core/experiment';
import type { ExperimentWorker, Practice, Shot, Taken } from '../workers/experiment.worker.ts';
import { ask, HeldWorker } from '../workers/ask.ts';
import { startExperiment, startFrame } from '../workers/start.ts';
import type { FrameWorker, OpenedFrame } from '../workers/frame.worker.ts';
import type { Tile } from '../workers/tile.ts';
import { proxy } from 'comlink';

/** Sizes of a picture's levels, the whole one first, px. */
export type Sizes = readonly { width: number; height: number }[];

/** Pixels that are held away from the page and looked at tile by tile. */
export interface Pixels {
  readonly sizes: Sizes;
  tile: (level: number, column: number, row: number) => Promise<Tile | undefined>;
}

/** A frame's pixels, held by a worker of its own. */
export class FramePixels implements Pixels {
  readonly #worker = new HeldWorker<FrameWorker>(startFrame);
  sizes: Sizes = [];

  /** Reads a file. @throws where it was ended meanwhile */
  async open(
    file: Blob,
    known: FrameSummary | undefined,
    picture: number | undefined,
    rowOrder: RowOrder | undefined,
    tell: (share: number) => void
  ): Promise<OpenedFrame> {
    const opened = await this.#worker.ask<OpenedFrame>((worker) =>
      worker.open(file, known, picture, rowOrder, proxy(tell))
    );
    if (opened.ok) this.sizes = opened.sizes;
    return opened;
  }

  tile(level: number, column: number, row: number): Promise<Tile | undefined> {
    return this.#worker.ask<Tile | undefined>((worker) => worker.tile(level, column, row));
  }

  end(): void {
    this.#worker.end();
  }
}

/** The frame of a round of the trainer. */
export class PracticePixels implements Pixels {
  readonly #worker = new HeldWorker<ExperimentWorker>(startExperiment);
  sizes: Sizes = [];

  async practise(train: Train | undefined, score: TrainerScore): Promise<Practice> {
    const practice = await this.#worker.ask<Practice>((worker) => worker.practise(train, score));
    this.sizes = practice.sizes;
    return practice;
  }

  tile(level: number, column: number, row: number): Promise<Tile | undefined> {
    return this.#worker.ask<Tile | undefined>((worker) => worker.tile(level, column, row));
  }

  end(): void {
    this.#worker.end();
  }
}

/** A frame of the simulated camera, as a FITS file. @throws with why there is none */
export const takeFrame = async (train: Train, shot: Shot, signal: AbortSignal): Promise<Blob> => {
  const taken = await ask<ExperimentWorker, Taken>(startExperiment, (worker) => worker.take(train, shot), { signal });
  if (typeof taken === 'string') throw new Error(taken);
  return new Blob([taken], { type: 'application/fits' });
};

export const sweepOf = (frames: readonly SweepFrame[], signal: AbortSignal): Promise<SweepAnswer> =>
  ask<ExperimentWorker, SweepAnswer>(startExperiment, (worker) => worker.sweep(frames), { signal });
