import { drawErrors, histogramOf, shareBetween, type Doubt } from '@lodestone/core/doubt';
import { expose } from 'comlink';

export interface DrawTask {
  doubts: readonly Doubt[];
  count: number;
  seed: number;
  /** Bounds of the histogram, mm from the middle. */
  reachMm: number;
  cells: number;
  /** Errors that leave the sensor within tolerance, mm; null where nothing is asked for. */
  withinMm: readonly [number, number] | null;
}

export interface Drawn {
  count: number;
  standardMm: number;
  /** Share of the draws in each cell. */
  shares: number[];
  /** Share of the draws within tolerance. */
  within: number | null;
  tookMs: number;
}

/** Errors drawn at random away from the page, which goes on answering. */
const draws = {
  draw({ doubts, count, seed, reachMm, cells, withinMm }: DrawTask): Drawn {
    const start = performance.now();
    const drawn = drawErrors(doubts, count, seed);
    return {
      count,
      standardMm: drawn.standardMm,
      shares: histogramOf(drawn, -reachMm, reachMm, cells),
      within: withinMm && shareBetween(drawn, ...withinMm),
      tookMs: performance.now() - start
    };
  }
};

export type DoubtWorker = typeof draws;
expose(draws);
