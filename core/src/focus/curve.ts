import { halfWidth95 } from '../stats/scatter.ts';
import { fitCurve, type Curve } from './fit.ts';
import { standardOf, type Measured } from './point.ts';

/**
 * A star out of focus: HFR = a √(1 + ((x − x₀)/b)²) (handbook §10), told as √(a² + c²(x − x₀)²), c = a/b, the slope of
 * its asymptotes. Parameters x₀, a, c.
 */
export const hyperbola: Curve = {
  at: ([x0, a, c], x) => Math.hypot(a!, c! * (x - x0!)),
  slopes: ([x0, a, c], x) => {
    const from = x - x0!;
    const hfr = Math.hypot(a!, c! * from) || Number.MIN_VALUE;
    return [(-c! * c! * from) / hfr, a! / hfr, (c! * from * from) / hfr];
  }
};

/** A hyperbola through a run. */
export interface FocusFit {
  x0: number;
  a: number;
  c: number;
  standard: number;
  /** Residual of each point over its standard deviation. */
  off: number[];
  /** Σ off² over the degrees of freedom. */
  reduced: number;
  /** How many times what is stated, or usual, the points scatter. */
  scatter: number;
}

/** The squares of the radii lie on a parabola: a first guess without any search. @returns undefined where it opens downward */
function guess(
  x: readonly number[],
  y: readonly number[],
  standard: readonly number[]
): [number, number, number] | undefined {
  const middle = x.reduce((sum, each) => sum + each, 0) / x.length;
  const spread = Math.max(...x.map((each) => Math.abs(each - middle))) || 1;
  const parabola: Curve = {
    at: ([p, q, r], t) => p! + q! * t + r! * t * t,
    slopes: (_parameters, t) => [1, t, t * t]
  };
  const t = x.map((each) => (each - middle) / spread);
  const { parameters } = fitCurve(
    {
      x: t,
      y: y.map((each) => each * each), // σ(y²) = 2 y σ.
      standard: y.map((each, at) => 2 * each * standard[at]!)
    },
    parabola,
    [y[0]! ** 2, 0, y[0]! ** 2],
    [y[0]! ** 2, y[0]! ** 2, y[0]! ** 2]
  );
  const [p, q, r] = parameters as [number, number, number];
  if (!(r > 0)) return undefined;
  const at = -q / (2 * r);
  const least = p - (q * q) / (4 * r);
  return [middle + at * spread, Math.sqrt(Math.max(least, (0.05 * Math.min(...y)) ** 2)), Math.sqrt(r) / spread];
}

export function fitFocus(points: readonly Measured[]): FocusFit | undefined {
  const x = points.map(({ position }) => position);
  const y = points.map(({ hfrPx }) => hfrPx);
  const standard = points.map(standardOf);
  const start = guess(x, y, standard);
  if (!start) return undefined;
  const width = Math.max(...x) - Math.min(...x);
  const { parameters, chiSquare, degreesOfFreedom, covariance } = fitCurve({ x, y, standard }, hyperbola, start, [
    width,
    start[1],
    start[2]
  ]);
  if (!covariance) return undefined;
  const [x0, a, c] = parameters as [number, number, number];
  const reduced = degreesOfFreedom > 0 ? chiSquare / degreesOfFreedom : 1;
  // Points tell their own scatter; what ±2 u is to hold in 95 of 100 takes Student's t.
  const twice = halfWidth95(chiSquare, degreesOfFreedom);
  const off = points.map(({ hfrPx, position }, at) => (hfrPx - hyperbola.at(parameters, position)) / standard[at]!);
  return {
    x0,
    a: Math.abs(a),
    c: Math.abs(c),
    standard: (twice / 2) * Math.sqrt(covariance[0]![0]!),
    off,
    reduced,
    scatter: Math.max(1, Math.sqrt(reduced))
  };
}
