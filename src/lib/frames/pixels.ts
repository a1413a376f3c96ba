import type { FrameSummary } from '@lodestone/core/frame';
import type { Train } from '@lodestone/core';
import type { SweepAnswer, SweepFrame, TrainerScore } from '@lodestone/core/experiment';
import type { ExperimentWorker, Practice, Shot } from '../workers/experiment.worker.ts';
import { startExperiment } from '../workers/startExperiment.ts';
import type { FrameWorker, OpenedFrame } from '../workers/frame.worker.ts';
import type { Tile } from '../workers/tile.ts';
import { proxy, wrap, type Remote } from 'comlink';

/** Sizes of a picture's levels, the whole one first, px. */
export type Sizes = readonly { width: number; height: number }[];

/** Pixels that are held away from the page and looked at tile by tile. */
export interface Pixels {
  readonly sizes: Sizes;
  tile: (level: number, column: number, row: number) => Promise<Tile | undefined>;
}

/** A frame's pixels, held by a worker of its own. */
export class FramePixels implements Pixels {
  readonly #worker: Worker;
  readonly #remote: Remote<FrameWorker>;
  #ended: ((reason: Error) => void) | undefined;
  sizes: Sizes = [];

  /** In the browser only. */
  constructor() {
    this.#worker = new Worker(new URL('../workers/frame.worker.ts', import.meta.url), { type: 'module' });
    this.#remote = wrap<FrameWorker>(this.#worker);
  }

  /** Reads a file. @throws where it was ended meanwhile */
  async open(file: Blob, known: FrameSummary | undefined, tell: (share: number) => void): Promise<OpenedFrame> {
    // A worker that is terminated never answers: what waits for it has to be told.
    const ended = new Promise<never>((_, failed) => {
      this.#ended = failed;
      this.#worker.addEventListener('error', () => failed(new Error('The frame could not be read.')));
    });
    const opened = await Promise.race([this.#remote.open(file, known, proxy(tell)), ended]);
    if (opened.ok) this.sizes = opened.sizes;
    return opened;
  }

  tile(level: number, column: number, row: number): Promise<Tile | undefined> {
    return this.#remote.tile(level, column, row);
  }

  end(): void {
    this.#worker.terminate();
    this.#ended?.(new Error('It was cancelled.'));
  }
}

/** The frame of a round of the trainer. */
export class PracticePixels implements Pixels {
  readonly #worker = startExperiment();
  readonly #remote = wrap<ExperimentWorker>(this.#worker);
  sizes: Sizes = [];

  async practise(train: Train | undefined, score: TrainerScore): Promise<Practice> {
    const practice = await this.#remote.practise(train, score);
    this.sizes = practice.sizes;
    return practice;
  }

  tile(level: number, column: number, row: number): Promise<Tile | undefined> {
    return this.#remote.tile(level, column, row);
  }

  end(): void {
    this.#worker.terminate();
  }
}

/** Asks a worker of its own for one thing. @throws where it was called off meanwhile */
async function once<T>(signal: AbortSignal, ask: (worker: Remote<ExperimentWorker>) => Promise<T>): Promise<T> {
  const worker = startExperiment();
  const ended = new Promise<never>((_, failed) => {
    signal.addEventListener('abort', () => failed(new Error('It was cancelled.')), { once: true });
    worker.addEventListener('error', () => failed(new Error('It could not be reckoned.')));
  });
  try {
    if (signal.aborted) throw new Error('It was cancelled.');
    return await Promise.race([ask(wrap<ExperimentWorker>(worker)), ended]);
  } finally {
    worker.terminate();
  }
}

/** A frame of the simulated camera, as a FITS file. @throws with why there is none */
export const takeFrame = (train: Train, shot: Shot, signal: AbortSignal): Promise<Blob> =>
  once(signal, async (worker) => {
    const taken = await worker.take(train, shot);
    if (typeof taken === 'string') throw new Error(taken);
    return new Blob([taken], { type: 'application/fits' });
  });

export const sweepOf = (frames: readonly SweepFrame[], signal: AbortSignal): Promise<SweepAnswer> =>
  once<SweepAnswer>(signal, async (worker) => await worker.sweep(frames));
