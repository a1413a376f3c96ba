import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { normalPairOf, uniformOf } from '../stats/random.ts';
import type { Doubt } from './doubts.ts';

/** The least and the most draws that are made. */
export const DRAWS = { least: 100, most: 5_000_000 } as const;

/** What many draws of all errors together came to, mm. */
export interface Draws {
  count: number;
  meanMm: number;
  standardMm: number;
  /** Sums, ascending. */
  sorted: Float64Array;
}

/** One of the errors that are added up: how far it reaches, and how it is drawn. */
interface Source {
  shape: Doubt['shape'];
  /** Half-width of a rectangle or triangle, standard deviation of a normal error, mm. */
  sizeMm: number;
}

function sourcesOf(doubts: readonly Doubt[]): Source[] {
  const sources: Source[] = [];
  const shared = new Map<string, number>();
  for (const { shape, halfWidthMm, standardMm, shared: together } of doubts) {
    if (shape !== 'normal') {
      sources.push({ shape, sizeMm: halfWidthMm });
      continue;
    }
    const sharedMm = together?.halfWidthMm ?? 0;
    sources.push({ shape, sizeMm: Math.sqrt(Math.max(0, standardMm ** 2 - sharedMm ** 2 / 3)) });
    if (together) shared.set(together.instrument, (shared.get(together.instrument) ?? 0) + sharedMm);
  }
  // One error of an instrument is in all its readings: drawn once, as wide as their limits added up.
  for (const sizeMm of shared.values()) sources.push({ shape: 'rectangular', sizeMm });
  return sources.filter(({ sizeMm }) => sizeMm > 0);
}

/**
 * Draws all errors so many times and adds them up: propagation of distributions by Monte Carlo.
 *
 * @param count of draws, within {@link DRAWS}
 * @param seed the same seed draws the same numbers
 * @throws RangeError
 * @see JCGM 101:2008 §7
 */
export function drawErrors(doubts: readonly Doubt[], count: number, seed: number): Draws {
  if (!Number.isInteger(count) || count < DRAWS.least || count > DRAWS.most) {
    throw new RangeError(`${count} draws: from ${DRAWS.least} to ${DRAWS.most} can be made`);
  }
  const random = xoroshiro128plus(seed);
  const uniform = (): number => uniformOf(random);
  const sums = new Float64Array(count);
  for (const { shape, sizeMm } of sourcesOf(doubts)) {
    if (shape === 'rectangular') {
      for (let at = 0; at < count; at++) sums[at]! += (2 * uniform() - 1) * sizeMm;
    } else if (shape === 'triangular') {
      for (let at = 0; at < count; at++) sums[at]! += (uniform() - uniform()) * sizeMm;
    } else {
      for (let at = 0; at < count; at += 2) {
        const [first, second] = normalPairOf(uniform, sizeMm);
        sums[at]! += first;
        if (at + 1 < count) sums[at + 1]! += second;
      }
    }
  }
  let meanMm = 0;
  for (const sum of sums) meanMm += sum / count;
  let square = 0;
  for (const sum of sums) square += (sum - meanMm) ** 2;
  return { count, meanMm, standardMm: Math.sqrt(square / (count - 1)), sorted: sums.sort() };
}

/** How many of the draws, ascending, lie below a bound. */
function below(sorted: Float64Array, boundMm: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < boundMm) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Share of the draws that lie between two bounds, mm. */
export const shareBetween = ({ sorted, count }: Draws, fromMm: number, toMm: number): number =>
  toMm < fromMm ? 0 : (below(sorted, toMm) - below(sorted, fromMm)) / count;

/** Shares of the draws in equal cells from one bound to another. */
export function histogramOf(draws: Draws, fromMm: number, toMm: number, cells: number): number[] {
  const edge = (cell: number): number => fromMm + ((toMm - fromMm) * cell) / cells;
  return Array.from({ length: cells }, (_, cell) => shareBetween(draws, edge(cell), edge(cell + 1)));
}
