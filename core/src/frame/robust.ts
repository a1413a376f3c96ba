import { Matrix, inverse } from 'ml-matrix';

/** A linear fit: coefficients with their covariance. */
export interface LinearFit {
  coefficients: number[];
  covariance: number[][];
  /** σ of an equation of weight 1, from the residuals. */
  spread: number;
}

const ROUNDS = 6;
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
  const count = equations.length;
  // Divided by their standard deviation, side by side.
  const design = new Float64Array(count * size);
  const values = new Float64Array(count);
  for (let at = 0; at < count; at++) {
    const { factors, value, sigma } = equations[at]!;
    for (let i = 0; i < size; i++) design[at * size + i] = factors[i]! / sigma;
    values[at] = value / sigma;
  }
  const weights = new Float64Array(count).fill(1);
  const off = new Float64Array(count);
  let coefficients: number[] = [];
  let covariance: Matrix | undefined;
  let spread = 1;
  for (let round = 0; round < ROUNDS; round++) {
    const { normal, right } = normalEquations(design, values, weights, size);
    try {
      covariance = inverse(Matrix.from1DArray(size, size, normal));
    } catch {
      return undefined;
    }
    const inverted = covariance;
    coefficients = Array.from(right, (_, i) => right.reduce((sum, each, j) => sum + inverted.get(i, j) * each, 0));
    if (!coefficients.every(Number.isFinite)) return undefined;
    residuals(design, values, coefficients, off);
    const sizes = off.map(Math.abs).sort();
    spread = Math.max(1e-9, sizes[count >> 1]! / 0.6745);
    for (let at = 0; at < count; at++) {
      const u = Math.abs(off[at]!) / spread;
      weights[at] = round < 2 ? Math.min(1, 1.345 / u) : u < CUT ? (1 - (u / CUT) ** 2) ** 2 : 0;
    }
  }
  return {
    coefficients,
    covariance: covariance!.to2DArray().map((row) => row.map((each) => each * spread * spread)),
    spread
  };
}

function normalEquations(design: Float64Array, values: Float64Array, weights: Float64Array, size: number) {
  const normal = new Float64Array(size * size);
  const right = new Float64Array(size);
  for (let at = 0, row = 0; at < weights.length; at++, row += size) {
    const weight = weights[at]!;
    for (let i = 0; i < size; i++) {
      const weighted = weight * design[row + i]!;
      right[i]! += weighted * values[at]!;
      for (let j = 0; j < size; j++) normal[i * size + j]! += weighted * design[row + j]!;
    }
  }
  return { normal, right };
}

function residuals(
  design: Float64Array,
  values: Float64Array,
  coefficients: readonly number[],
  out: Float64Array
): void {
  const size = coefficients.length;
  for (let at = 0, row = 0; at < values.length; at++, row += size) {
    let sum = values[at]!;
    for (let i = 0; i < size; i++) sum -= design[row + i]! * coefficients[i]!;
    out[at] = sum;
  }
}

/** Σ aᵢ bⱼ Cᵢⱼ: variance of a combination of coefficients. */
export function varianceOf(factors: readonly number[], covariance: readonly (readonly number[])[]): number {
  let sum = 0;
  for (const [i, a] of factors.entries()) for (const [j, b] of factors.entries()) sum += a * b * covariance[i]![j]!;
  return sum;
}
