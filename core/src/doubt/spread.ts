import { errorFunction } from 'simple-statistics';
import type { Doubt } from './doubts.ts';

/** Standard normal distribution function, by the error function; absolute error below 2 × 10⁻⁷. */
export const normalCdf = (z: number): number => (1 + errorFunction(z / Math.SQRT2)) / 2;

const normalDensity = (z: number): number => Math.exp(-(z * z) / 2) / Math.sqrt(2 * Math.PI);

/** Beyond so many standard deviations a normal error is gone, to 2 parts in a billion. */
const FAR = 6;

/**
 * A rectangular part narrower than this share of all of them is taken as normal. It rounds the edges of the wider
 * ones by its own width only, so the distribution function is then off by less than 3 × 10⁻⁴.
 */
const NARROW = 1 / 60;

/** So many of the widest rectangular parts are taken as they are; what is left of more is as good as normal. */
const MOST_RECTANGLES = 8;

/** Variance that is rounding of a difference, mm²: of a hair under a nanometre. */
const NANOMETRE_SQUARED = 1e-12;

/** Terms of the series: no more are taken, and none smaller than this. */
const MOST_TERMS = 800;
const LEAST_TERM = 1e-6;

/** Fourier series of the density over one period, which holds all of it. */
interface Series {
  /** Half of the period, mm: nothing lies beyond. */
  halfMm: number;
  /** φ(kπ/half) / (kπ), k = 1, 2, … */
  terms: Float64Array;
}

/**
 * How a sum of independent errors spreads: rectangular ones, and a normal one. What all readings of one instrument share
 * is one rectangular error, as wide as their limits added up.
 *
 * The density vanishes outside ±S, so its Fourier series over one period of 2S is exact, and so is the distribution
 * function integrated from it, F(x) = ½ + x/2S + Σ φ(kπ/S) sin(kπx/S) / kπ, φ(ω) = Π sin(aᵢω)/(aᵢω) · exp(−σ²ω²/2). Of
 * one or two rectangles alone it is linear or quadratic in pieces, and written down as that.
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
  /** Half-widths of the rectangular parts, widest first, mm. */
  readonly #rectangles: number[];
  /** Standard deviation of the rest, mm. */
  readonly #normalMm: number;
  #series: Series | undefined;

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
      const own = doubt.standardMm ** 2 - sharedVariance;
      // A difference: below this it is rounding, and a reading whose instrument explains all of it is bounded.
      if (own > NANOMETRE_SQUARED) normal += own;
      if (together) {
        shared.set(together.instrument, (shared.get(together.instrument) ?? 0) + together.halfWidthMm);
      }
    }
    rectangles.push(...shared.values());
    rectangles.sort((a, b) => b - a);
    const total = rectangles.reduce((sum, halfWidth) => sum + halfWidth, 0);
    this.worstCaseMm = worst;
    this.bounded = normal === 0;
    this.standardMm = Math.sqrt(rectangles.reduce((sum, halfWidth) => sum + halfWidth ** 2 / 3, normal));
    const wide = rectangles.findIndex((halfWidth, at) => at === MOST_RECTANGLES || halfWidth <= total * NARROW);
    const taken = wide < 0 ? rectangles.length : wide;
    this.#rectangles = rectangles.slice(0, taken);
    // Added up, never taken from the whole: a difference of variances leaves rounding where there is nothing.
    this.#normalMm = Math.sqrt(rectangles.slice(taken).reduce((sum, halfWidth) => sum + halfWidth ** 2 / 3, normal));
  }

  /** Chance that an error lies between two bounds, mm. */
  between(fromMm: number, toMm: number): number {
    if (toMm < fromMm) return 0;
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
    const [widest, second] = this.#rectangles;
    const sigma = this.#normalMm;
    if (widest === undefined) {
      if (sigma === 0) return x < 0 ? 0 : x > 0 ? 1 : 0.5;
      return normalCdf(x / sigma);
    }
    if (second === undefined) {
      const integral = (at: number): number =>
        sigma === 0 ? Math.max(0, at) : at * normalCdf(at / sigma) + sigma * normalDensity(at / sigma);
      return (integral(x + widest) - integral(x - widest)) / (2 * widest);
    }
    if (this.#rectangles.length === 2 && sigma === 0) {
      return (rampIntegral(x + widest, second) - rampIntegral(x - widest, second)) / (2 * widest);
    }
    return this.#seriesBelow(x);
  }

  #seriesBelow(x: number): number {
    const { halfMm, terms } = (this.#series ??= seriesOf(this.#rectangles, this.#normalMm));
    if (x <= -halfMm) return 0;
    if (x >= halfMm) return 1;
    const angle = (Math.PI * x) / halfMm;
    // sin(kα) by the sum of angles: sin((k+1)α) = 2 cos α sin(kα) − sin((k−1)α).
    const twice = 2 * Math.cos(angle);
    let before = 0;
    let sine = Math.sin(angle);
    let sum = 0.5 + x / (2 * halfMm);
    for (const term of terms) {
      sum += term * sine;
      [before, sine] = [sine, twice * sine - before];
    }
    return sum;
  }
}

/** @param rectangles half-widths, mm @param sigma of the normal part, mm */
function seriesOf(rectangles: readonly number[], sigma: number): Series {
  const halfMm = rectangles.reduce((sum, halfWidth) => sum + halfWidth, FAR * sigma);
  const terms: number[] = [];
  for (let k = 1; k <= MOST_TERMS; k++) {
    const omega = (k * Math.PI) / halfMm;
    let term = Math.exp(-((sigma * omega) ** 2) / 2) / (k * Math.PI);
    let most = term;
    for (const halfWidth of rectangles) {
      const at = halfWidth * omega;
      term *= Math.sin(at) / at;
      most *= Math.min(1, 1 / at);
    }
    terms.push(term);
    if (most < LEAST_TERM) break;
  }
  return { halfMm, terms: Float64Array.from(terms) };
}

/** ∫ of a ramp from 0 at −a to 1 at +a. */
const rampIntegral = (x: number, a: number): number => (x <= -a ? 0 : x >= a ? x : (x + a) ** 2 / (4 * a));
