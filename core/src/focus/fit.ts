import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { Matrix, inverse } from 'ml-matrix';

/** Points a curve is laid through, with the standard deviation of each y. */
export interface FitData {
  x: readonly number[];
  y: readonly number[];
  /** Standard deviation of each y; all alike where left out. */
  standard?: readonly number[];
}

/** A curve with parameters, and its derivatives by them. */
export interface Curve {
  at: (parameters: readonly number[], x: number) => number;
  slopes: (parameters: readonly number[], x: number) => number[];
}

export interface Fit {
  parameters: number[];
  /** Σ ((y − f) / σ)². */
  chiSquare: number;
  degreesOfFreedom: number;
  /** (JᵀWJ)⁻¹: covariance of the parameters where σ are what they say; undefined where the points do not determine them. */
  covariance: number[][] | undefined;
}

/** Runs of the solver, each from where the last one ended, until nothing but rounding is left. */
const ROUNDS = 60;
const ITERATIONS = 4;

/**
 * Weighted least squares by Levenberg and Marquardt. Parameters are scaled to one, since the solver’s damping is the same
 * for all.
 *
 * @param start first guess; no entry may be 0 unless its scale is given
 * @param scale typical size of each parameter
 */
export function fitCurve(
  { x, y, standard }: FitData,
  curve: Curve,
  start: readonly number[],
  scale: readonly number[] = start.map((each) => Math.abs(each) || 1)
): Fit {
  const unscaled = (q: readonly number[]): number[] => q.map((each, at) => each * scale[at]!);
  const sizes = standard ?? x.map(() => 1);
  let q = start.map((each, at) => each / scale[at]!);
  const chi = (at: readonly number[]): number => {
    const p = unscaled(at);
    return x.reduce((sum, each, index) => sum + ((y[index]! - curve.at(p, each)) / sizes[index]!) ** 2, 0);
  };
  let least = chi(q);
  let damping = 1e-2;
  for (let round = 0; round < ROUNDS; round++) {
    // Every point in units of its own standard deviation: all weigh alike then.
    const { parameterValues } = levenbergMarquardt(
      { x: x.map((_, index) => index), y: y.map((each, index) => each / sizes[index]!) },
      (at) => {
        const p = unscaled(at);
        return (index) => curve.at(p, x[index]!) / sizes[index]!;
      },
      {
        initialValues: q,
        damping,
        maxIterations: ITERATIONS,
        errorTolerance: 0,
        jacobianFunction: (at) => {
          const p = unscaled(at);
          return (index) => curve.slopes(p, x[index]!).map((slope, k) => (slope * scale[k]!) / sizes[index]!);
        }
      }
    );
    const now = chi(parameterValues);
    // A step that leads nowhere is not taken.
    if (!(now <= least)) break;
    const gain = (least - now) / (least || 1);
    [q, least] = [parameterValues, now];
    if (gain < 1e-14) break;
    // Near the end the damping only holds it up.
    if (gain < 1e-3) damping = 1e-7;
  }
  const parameters = unscaled(q);
  return {
    parameters,
    chiSquare: least,
    degreesOfFreedom: x.length - parameters.length,
    covariance: covarianceOf(x, sizes, curve, parameters, scale)
  };
}

/**
 * Covariance of the parameters of a curve by points with those standard deviations, (JᵀWJ)⁻¹.
 *
 * @returns undefined where the points do not determine them
 */
export function covarianceOf(
  x: readonly number[],
  standard: readonly number[],
  { slopes }: Curve,
  parameters: readonly number[],
  scale: readonly number[]
): number[][] | undefined {
  const count = parameters.length;
  const normal = Array.from({ length: count }, () => new Array<number>(count).fill(0));
  for (const [index, each] of x.entries()) {
    const row = slopes(parameters, each).map((slope, at) => (slope * scale[at]!) / standard[index]!);
    for (let i = 0; i < count; i++) {
      for (let j = 0; j < count; j++) normal[i]![j]! += row[i]! * row[j]!;
    }
  }
  try {
    const inverted = inverse(new Matrix(normal));
    const covariance = Array.from({ length: count }, (_, i) =>
      Array.from({ length: count }, (__, j) => inverted.get(i, j) * scale[i]! * scale[j]!)
    );
    return covariance.every((row, at) => Number.isFinite(row[at]!) && row[at]! >= 0) ? covariance : undefined;
  } catch {
    return undefined;
  }
}
