import { errorFunction } from 'simple-statistics';

/** Student's t for 95 % on both sides (tables; from memory), by degrees of freedom. */
const T95 = [12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131];
/** Normal quantile that leaves 2.5 % on either side. */
export const Z95 = 1.959964;

/**
 * Student's t for 95 %: by tables, and beyond them by its expansion in 1/ν about the normal quantile, exact to 10⁻⁴ there
 * (Abramowitz & Stegun 26.7.5, from memory).
 */
export function t95(degreesOfFreedom: number): number {
  if (degreesOfFreedom < 1) return T95[0]!;
  if (degreesOfFreedom <= T95.length) return T95[Math.floor(degreesOfFreedom) - 1]!;
  const [z, n] = [Z95, degreesOfFreedom];
  return z + (z ** 3 + z) / (4 * n) + (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * n ** 2);
}

/** How many times what they state measurements may really scatter: as seen with real frames, and beyond (common practice, no source). */
const SCATTERS = Array.from({ length: 31 }, (_, at) => 0.7 * (4 / 0.7) ** (at / 30));

/** Logarithm of the chance of this χ² under each scatter, all alike likely before (log-uniform), up to a constant. */
const chances = (chiSquare: number, degreesOfFreedom: number): number[] =>
  SCATTERS.map((scatter) => -degreesOfFreedom * Math.log(scatter) - chiSquare / (2 * scatter * scatter));

/** Logarithm of the mean of what has these logarithms, without leaving what numbers can hold. */
export function logOfMean(logs: readonly number[]): number {
  const most = Math.max(...logs);
  return most + Math.log(logs.reduce((sum, each) => sum + Math.exp(each - most), 0) / logs.length);
}

/**
 * Logarithm of the evidence for a model that leaves this χ² (marginal likelihood over the scatter), up to a constant that
 * all models of the same points share.
 */
export const logEvidence = (chiSquare: number, degreesOfFreedom: number): number =>
  logOfMean(chances(chiSquare, degreesOfFreedom));

/** Half-width of 95 % in standard deviations as stated, where next to nothing is known of the scatter but its prior. */
function priorHalfWidth(chiSquare: number, degreesOfFreedom: number): number {
  const logs = chances(chiSquare, degreesOfFreedom);
  const most = Math.max(...logs);
  const weights = logs.map((each) => Math.exp(each - most));
  const all = weights.reduce((a, b) => a + b, 0);
  const inside = (z: number): number =>
    SCATTERS.reduce((sum, scatter, at) => sum + weights[at]! * errorFunction(z / (scatter * Math.SQRT2)), 0) / all;
  let [low, high] = [0, 4 * SCATTERS.at(-1)!];
  for (let halving = 0; halving < 40; halving++) {
    const middle = (low + high) / 2;
    if (inside(middle) < 0.95) low = middle;
    else high = middle;
  }
  return high;
}

/** Points that scatter by less than this share of what they state do so by luck. */
const LEAST_SCATTER = 0.35;

/**
 * Half-width of a 95 % interval in standard uncertainties as they are stated. Points tell their own scatter (Student's t
 * times √(χ²/ν)), since what a frame knows of itself is usually too little; where one degree of freedom or none is left,
 * a prior on the scatter stands in for it.
 */
export function halfWidth95(chiSquare: number, degreesOfFreedom: number): number {
  if (degreesOfFreedom < 2) return priorHalfWidth(chiSquare, degreesOfFreedom);
  return t95(degreesOfFreedom) * Math.max(LEAST_SCATTER, Math.sqrt(chiSquare / degreesOfFreedom));
}
