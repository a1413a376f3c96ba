/** A point with standard uncertainties of both coordinates. */
export interface LinePoint {
  x: number;
  y: number;
  /** 0 where x is exact. */
  sigmaX: number;
  sigmaY: number;
}

/** A straight line y = intercept + slope · x. */
export interface Line {
  intercept: number;
  slope: number;
  interceptStandard: number;
  slopeStandard: number;
  covariance: number;
  /** Σ of squared distances in units of their uncertainty. */
  chiSquare: number;
  degreesOfFreedom: number;
}

const MOST_ROUNDS = 200;

/**
 * The straight line through points with uncertainties in both coordinates (York, Evensen, López Martínez & De Basabe
 * Delgado 2004, equations 13, for uncorrelated errors; from memory). With exact x it is ordinary weighted least squares.
 *
 * @returns undefined where the points do not determine a line
 */
export function fitLine(points: readonly LinePoint[]): Line | undefined {
  const count = points.length;
  if (count < 2) return undefined;
  const middle = points.reduce((sum, { x }) => sum + x, 0) / count;
  if (!points.some(({ x }) => x !== points[0]!.x)) return undefined;
  const weightsAt = (slope: number): number[] =>
    points.map(({ sigmaX, sigmaY }) => 1 / (sigmaY * sigmaY + slope * slope * sigmaX * sigmaX));
  const meansOf = (weights: readonly number[]): [number, number] => {
    const sum = weights.reduce((a, b) => a + b, 0);
    return [
      points.reduce((total, { x }, at) => total + weights[at]! * (x - middle), 0) / sum,
      points.reduce((total, { y }, at) => total + weights[at]! * y, 0) / sum
    ];
  };
  // Begun as if x were exact.
  let slope = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const weights = weightsAt(slope);
    const [meanX, meanY] = meansOf(weights);
    let [above, below] = [0, 0];
    for (const [at, { x, y, sigmaX, sigmaY }] of points.entries()) {
      const [u, v, w] = [x - middle - meanX, y - meanY, weights[at]!];
      const beta = w * (u * sigmaY * sigmaY + slope * v * sigmaX * sigmaX);
      above += w * beta * v;
      below += w * beta * u;
    }
    const next = above / below;
    if (!Number.isFinite(next)) return undefined;
    const change = Math.abs(next - slope);
    slope = next;
    if (change <= 1e-15 * Math.abs(slope)) break;
  }
  const weights = weightsAt(slope);
  const [meanX, meanY] = meansOf(weights);
  const sum = weights.reduce((a, b) => a + b, 0);
  // Adjusted points, whose spread gives the uncertainties.
  const adjusted = points.map(({ x, y, sigmaX, sigmaY }, at) => {
    const [u, v] = [x - middle - meanX, y - meanY];
    return meanX + weights[at]! * (u * sigmaY * sigmaY + slope * v * sigmaX * sigmaX);
  });
  const meanAdjusted = adjusted.reduce((total, x, at) => total + weights[at]! * x, 0) / sum;
  const spread = adjusted.reduce((total, x, at) => total + weights[at]! * (x - meanAdjusted) ** 2, 0);
  if (!(spread > 0)) return undefined;
  const slopeVariance = 1 / spread;
  // Of the intercept at 0, not at the middle.
  const fromZero = meanAdjusted + middle;
  const intercept = meanY - slope * (meanX + middle);
  return {
    intercept,
    slope,
    slopeStandard: Math.sqrt(slopeVariance),
    interceptStandard: Math.sqrt(1 / sum + fromZero * fromZero * slopeVariance),
    covariance: -fromZero * slopeVariance,
    chiSquare: points.reduce((total, { x, y }, at) => total + weights[at]! * (y - intercept - slope * x) ** 2, 0),
    degreesOfFreedom: count - 2
  };
}

/**
 * Where a line crosses zero, with an interval that holds it with the chance that belongs to t (Fieller 1954): not
 * symmetric, and unbounded where the slope itself is not known to differ from zero.
 *
 * @param t of Student's distribution, for the wanted chance
 * @param widen factor on the standard uncertainties
 */
export function zeroCrossing(
  { intercept, slope, interceptStandard, slopeStandard, covariance }: Line,
  t: number,
  widen = 1
): { at: number; from: number; to: number } | undefined {
  if (slope === 0) return undefined;
  const at = -intercept / slope;
  const square = (t * widen) ** 2;
  // (a + b x)² ≤ t² (σa² + 2 x cov + x² σb²), solved for x.
  const p = slope * slope - square * slopeStandard ** 2;
  const q = slope * intercept - square * covariance;
  const r = intercept * intercept - square * interceptStandard ** 2;
  if (!(p > 0)) return { at, from: -Infinity, to: Infinity };
  const root = Math.sqrt(Math.max(0, q * q - p * r));
  return { at, from: (-q - root) / p, to: (-q + root) / p };
}

/** Student's t for 95 % on both sides (tables; from memory), by degrees of freedom. */
const T95 = [12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131];
/** Normal quantile that leaves 2.5 % on either side. */
const Z95 = 1.959964;

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

/** y = a + b u + c u², u = x − middle. */
export interface Parabola {
  middle: number;
  a: number;
  b: number;
  c: number;
  chiSquare: number;
}

/**
 * Weighted least squares by a parabola: normal equations about the middle, x in units of its spread, solved by Cramer's
 * rule.
 *
 * @param slope of the points, by which the uncertainty of x counts in y
 * @returns undefined where the points do not determine it
 */
export function fitParabola(points: readonly LinePoint[], slope: number): Parabola | undefined {
  const middle = points.reduce((sum, { x }) => sum + x, 0) / points.length;
  const spread = Math.max(...points.map(({ x }) => Math.abs(x - middle)));
  if (!(spread > 0)) return undefined;
  const scaled = points.map(({ x, y, sigmaX, sigmaY }) => ({
    u: (x - middle) / spread,
    y,
    weight: 1 / (sigmaY ** 2 + (slope * sigmaX) ** 2)
  }));
  const sum = (of: (point: (typeof scaled)[number]) => number): number =>
    scaled.reduce((total, point) => total + point.weight * of(point), 0);
  const [m0, m1, m2, m3, m4] = [0, 1, 2, 3, 4].map((power) => sum(({ u }) => u ** power)) as [
    number,
    number,
    number,
    number,
    number
  ];
  const [r0, r1, r2] = [0, 1, 2].map((power) => sum(({ u, y }) => y * u ** power)) as [number, number, number];
  const determinant = m0 * (m2 * m4 - m3 * m3) - m1 * (m1 * m4 - m3 * m2) + m2 * (m1 * m3 - m2 * m2);
  if (!(Math.abs(determinant) > 1e-12 * m0 * m2 * m4)) return undefined;
  const a = (r0 * (m2 * m4 - m3 * m3) - m1 * (r1 * m4 - m3 * r2) + m2 * (r1 * m3 - m2 * r2)) / determinant;
  const b = (m0 * (r1 * m4 - m3 * r2) - r0 * (m1 * m4 - m3 * m2) + m2 * (m1 * r2 - r1 * m2)) / determinant;
  const c = (m0 * (m2 * r2 - m3 * r1) - m1 * (m1 * r2 - r1 * m2) + r0 * (m1 * m3 - m2 * m2)) / determinant;
  return {
    middle,
    a,
    b: b / spread,
    c: c / spread ** 2,
    chiSquare: sum(({ u, y }) => (y - a - b * u - c * u * u) ** 2)
  };
}
