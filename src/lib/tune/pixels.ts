import type { FrameSummary } from '@lodestone/core/frame';
import type { FrameWorker, OpenedFrame, Tile } from '../workers/frame.worker.ts';
import { proxy, wrap, type Remote } from 'comlink';

/** Sizes of a picture's levels, the whole one first, px. */
export type Sizes = readonly { width: number; height: number }[];

/** A frame's pixels, held by a worker of its own. */
export class FramePixels {
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
