import { Matrix, inverse } from 'ml-matrix';

/** A linear fit: coefficients with their covariance. */
export interface LinearFit {
  coefficients: number[];
  covariance: number[][];
  /** σ of an equation of weight 1, from the residuals. */
  spread: number;
}

const ROUNDS = 8;
/** Residuals beyond so many σ do not count (Tukey's biweight: Beaton & Tukey 1974, from memory). */
const CUT = 4.685;

/**
 * Linear least squares that outliers do not bend: Tukey's biweight, its scale from the median residual, begun from
 * Huber's weights.
 *
 * @param equations rows of factors, one coefficient each, their right-hand side and standard deviation
 * @returns undefined where the equations do not determine the coefficients
 */
export function robustFit(
  equations: readonly { factors: readonly number[]; value: number; sigma: number }[]
): LinearFit | undefined {
  const size = equations[0]?.factors.length ?? 0;
  if (size === 0 || equations.length < size + 2) return undefined;
  let weights = equations.map(({ sigma }) => 1 / sigma ** 2);
  let coefficients: number[] = [];
  let covariance: Matrix | undefined;
  let spread = 1;
  for (let round = 0; round < ROUNDS; round++) {
    const normal = Matrix.zeros(size, size);
    const right = new Array<number>(size).fill(0);
    for (const [at, { factors, value }] of equations.entries()) {
      const weight = weights[at]!;
      if (weight === 0) continue;
      for (let i = 0; i < size; i++) {
        right[i]! += weight * factors[i]! * value;
        for (let j = 0; j <= i; j++) normal.set(i, j, normal.get(i, j) + weight * factors[i]! * factors[j]!);
      }
    }
    for (let i = 0; i < size; i++) for (let j = i + 1; j < size; j++) normal.set(i, j, normal.get(j, i));
    try {
      covariance = inverse(normal);
    } catch {
      return undefined;
    }
    coefficients = right.map((_, i) => right.reduce((sum, each, j) => sum + covariance!.get(i, j) * each, 0));
    if (!coefficients.every(Number.isFinite)) return undefined;
    const off = equations.map(
      ({ factors, value, sigma }) =>
        (value - factors.reduce((sum, factor, i) => sum + factor * coefficients[i]!, 0)) / sigma
    );
    const sorted = off.map(Math.abs).sort((a, b) => a - b);
    spread = Math.max(1e-9, sorted[sorted.length >> 1]! / 0.6745);
    weights = equations.map(({ sigma }, at) => {
      const u = Math.abs(off[at]!) / spread;
      const share = round < 2 ? Math.min(1, 1.345 / u) : u < CUT ? (1 - (u / CUT) ** 2) ** 2 : 0;
      return share / sigma ** 2;
    });
  }
  return {
    coefficients,
    covariance: covariance!.to2DArray().map((row) => row.map((each) => each * spread * spread)),
    spread
  };
}

/** Σ aᵢ bⱼ Cᵢⱼ: variance of a combination of coefficients. */
export function varianceOf(factors: readonly number[], covariance: readonly (readonly number[])[]): number {
  let sum = 0;
  for (const [i, a] of factors.entries()) for (const [j, b] of factors.entries()) sum += a * b * covariance[i]![j]!;
  return sum;
}
