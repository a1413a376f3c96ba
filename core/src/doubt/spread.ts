import { errorFunction } from 'simple-statistics';
import type { Doubt } from './doubts.ts';

/** Standard normal distribution function, by the error function; absolute error below 2 × 10⁻⁷. */
export const normalCdf = (z: number): number => (1 + errorFunction(z / Math.SQRT2)) / 2;

/** Points of the half axis the distribution of rectangular parts is reckoned at. */
const CELLS = 40;

/** So many of the widest rectangular parts are convolved; the rest, summed up and smoothed by them, are as good as normal. */
const CONVOLVED = 6;

/** Beyond so many standard deviations nothing is left of a normal error, to a part in a million. */
const FAR = 5;

/** A rectangular part narrower than this share of the whole is as good as normal. */
const NARROW = 1 / CELLS;

/**
 * How a sum of independent errors spreads: rectangular ones convolved with each other and with a normal one. What all
 * readings of one instrument share is one rectangular error, as wide as their limits added up.
 *
 * @see JCGM 100:2008 §5.1.2 and §5.2; JCGM 101:2008 §5.10 (propagation of distributions)
 */
export class Spread {
  /** Σ of limits, mm: no error is taken to be larger, but for the tails of a normal part beyond 2u. */
  readonly worstCaseMm: number;
  /** Standard uncertainty of the sum, mm. */
  readonly standardMm: number;
  /** No error lies beyond the worst case: nothing in it is normal. */
  readonly bounded: boolean;
  /** Half-widths of the rectangular parts that are convolved, widest first. */
  readonly #rectangles: number[];
  /** Standard deviation of the rest, mm. */
  readonly #normalMm: number;
  /** Distribution function of all rectangles but the widest, integrated, on the grid; made when it is asked for. */
  #integrated: { integral: Float64Array; density: Float64Array; cellMm: number } | undefined;

  constructor(doubts: readonly Doubt[]) {
    const rectangles: number[] = [];
    const shared = new Map<string, number>();
    let normal = 0;
    let worst = 0;
    for (const doubt of doubts) {
      worst += doubt.halfWidthMm;
      if (doubt.shape === 'rectangular') {
        rectangles.push(doubt.halfWidthMm);
        continue;
      }
      if (doubt.shape === 'triangular') {
        // Two rectangular errors of half its width, added up, are triangular.
        rectangles.push(doubt.halfWidthMm / 2, doubt.halfWidthMm / 2);
        continue;
      }
      const together = doubt.shared;
      const sharedVariance = together ? together.halfWidthMm ** 2 / 3 : 0;
      normal += doubt.standardMm ** 2 - sharedVariance;
      if (together) {
        shared.set(together.instrument, (shared.get(together.instrument) ?? 0) + together.halfWidthMm);
      }
    }
    rectangles.push(...shared.values());
    const variance = rectangles.reduce((sum, halfWidth) => sum + halfWidth ** 2 / 3, normal);
    const total = rectangles.reduce((sum, halfWidth) => sum + halfWidth, 0);
    this.worstCaseMm = worst;
    this.bounded = normal === 0;
    this.standardMm = Math.sqrt(variance);
    this.#rectangles = rectangles
      .filter((halfWidth) => halfWidth > total * NARROW)
      .sort((a, b) => b - a)
      .slice(0, CONVOLVED);
    this.#normalMm = Math.sqrt(
      Math.max(0, variance - this.#rectangles.reduce((sum, halfWidth) => sum + halfWidth ** 2 / 3, 0))
    );
  }

  /** Chance that an error lies between two bounds, mm. */
  between(fromMm: number, toMm: number): number {
    // Farther out than anything reaches, as in a train half built, there is nothing to add up.
    const farMm = this.worstCaseMm + FAR * this.standardMm;
    if (toMm < fromMm || fromMm > farMm || toMm < -farMm) return 0;
    return Math.min(1, Math.max(0, this.#below(toMm) - this.#below(fromMm)));
  }

  /** Half-width that holds 95 % of the errors, mm; never wider than the worst case. */
  get halfWidth95Mm(): number {
    let low = 0;
    let high = Math.max(this.worstCaseMm, 3 * this.standardMm);
    for (let halving = 0; halving < 30 && high > 0; halving++) {
      const middle = (low + high) / 2;
      if (this.between(-middle, middle) < 0.95) low = middle;
      else high = middle;
    }
    return Math.min(high, this.worstCaseMm);
  }

  /** Distribution function of the whole sum at x, mm. */
  #below(x: number): number {
    const widest = this.#rectangles[0];
    if (widest === undefined) {
      if (this.#normalMm === 0) return x < 0 ? 0 : x > 0 ? 1 : 0.5;
      return normalCdf(x / this.#normalMm);
    }
    if (this.#normalMm === 0) return this.#rectanglesBelow(x, widest);
    // The normal part last: Φ weighed with the density of the rectangles, over their whole width.
    const { density, cellMm } = this.#grid();
    const normalMm = this.#normalMm;
    const far = FAR * normalMm;
    let at = (0.5 - density.length / 2) * cellMm;
    let sum = 0;
    for (let cell = 0; cell < density.length; cell++, at += cellMm) {
      if (at > x + far) break;
      sum += at < x - far ? density[cell]! : density[cell]! * normalCdf((x - at) / normalMm);
    }
    return sum;
  }

  /** The widest rectangle last, exactly: the mean of the others' distribution function over its width. */
  #rectanglesBelow(x: number, widest: number): number {
    return (this.#integral(x + widest) - this.#integral(x - widest)) / (2 * widest);
  }

  /** ∫ of the distribution function of all rectangles but the widest, from −∞ to x. */
  #integral(x: number): number {
    const second = this.#rectangles[1];
    if (second === undefined) return Math.max(0, x);
    if (this.#rectangles.length === 2) return rampIntegral(x, second);
    const { integral, cellMm } = this.#grid();
    const half = (integral.length - 1) / 2;
    const at = x / cellMm + half;
    if (at <= 0) return 0;
    if (at >= integral.length - 1) return integral.at(-1)! + (at - integral.length + 1) * cellMm;
    const below = Math.floor(at);
    return integral[below]! + (at - below) * (integral[below + 1]! - integral[below]!);
  }

  /** Convolves the rectangles on a grid, one running mean each, widest but one first. */
  #grid(): { integral: Float64Array; density: Float64Array; cellMm: number } {
    if (this.#integrated) return this.#integrated;
    const withNormal = this.#normalMm > 0;
    const taken = withNormal ? this.#rectangles : this.#rectangles.slice(1);
    const halfMm = taken.reduce((sum, halfWidth) => sum + halfWidth, 0);
    const cells = 2 * CELLS;
    const cellMm = (2 * halfMm) / cells;
    const [first = 0, ...rest] = taken;
    /** Integral of the distribution function at the grid's points. */
    const integral = new Float64Array(cells + 1);
    for (let at = 0; at <= cells; at++) integral[at] = rampIntegral((at - CELLS) * cellMm, first);
    for (const halfWidth of rest) average(integral, halfWidth / cellMm, cellMm);
    const density = new Float64Array(cells);
    let lower = 0;
    for (let cell = 0; cell < cells; cell++) {
      const upper = cell === cells - 1 ? 1 : (integral[cell + 2]! - integral[cell]!) / (2 * cellMm);
      density[cell] = Math.max(0, upper - lower);
      lower = upper;
    }
    this.#integrated = { integral, density, cellMm };
    return this.#integrated;
  }
}

/** ∫ of a ramp from 0 at −a to 1 at +a. */
const rampIntegral = (x: number, a: number): number => (x <= -a ? 0 : x >= a ? x : (x + a) ** 2 / (4 * a));

/** Room for a function on the grid with what lies on both sides of it, and for its integral: used again and again. */
const PADDED = new Float64Array(4 * CELLS + 8);
const SUMS = new Float64Array(4 * CELLS + 8);

/**
 * Averages a function on the grid over ± so many cells, in place; left of the grid it is 0, right of it it goes on with slope 1.
 * Every point looks the same way left and right, so that the share between two points is one number for all of them.
 */
function average(values: Float64Array, halfCells: number, cellMm: number): void {
  const count = values.length;
  const whole = Math.floor(halfCells);
  const share = halfCells - whole;
  const pad = whole + 2;
  const length = count + 2 * pad;
  PADDED.fill(0, 0, pad);
  PADDED.set(values, pad);
  for (let at = pad + count; at < length; at++) PADDED[at] = PADDED[at - 1]! + cellMm;
  SUMS[0] = 0;
  for (let at = 1; at < length; at++) SUMS[at] = SUMS[at - 1]! + (PADDED[at - 1]! + PADDED[at]!) / 2;
  const upper = (share * share) / 2;
  const left = 1 - share;
  const lower = (left * left) / 2;
  const width = 2 * halfCells;
  for (let at = 0; at < count; at++) {
    const high = at + pad + whole;
    const low = at + pad - whole - 1;
    const above = SUMS[high]! + PADDED[high]! * share + (PADDED[high + 1]! - PADDED[high]!) * upper;
    const below = SUMS[low]! + PADDED[low]! * left + (PADDED[low + 1]! - PADDED[low]!) * lower;
    values[at] = (above - below) / width;
  }
}
