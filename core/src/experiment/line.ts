import { Matrix, inverse } from 'ml-matrix';

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

/** A value with an interval. */
export interface Interval {
  at: number;
  from: number;
  to: number;
}

/**
 * Where a line crosses zero, with an interval (Fieller 1954): not symmetric, and unbounded where the slope itself is not
 * known to differ from zero.
 *
 * @param halfWidth of the interval in standard uncertainties
 */
export function zeroCrossing(
  {
    intercept,
    slope,
    interceptStandard,
    slopeStandard,
    covariance
  }: Pick<Line, 'intercept' | 'slope' | 'interceptStandard' | 'slopeStandard' | 'covariance'>,
  halfWidth: number
): Interval | undefined {
  if (slope === 0) return undefined;
  const at = -intercept / slope;
  const square = halfWidth ** 2;
  // (a + b x)² ≤ t² (σa² + 2 x cov + x² σb²), solved for x.
  const p = slope * slope - square * slopeStandard ** 2;
  const q = slope * intercept - square * covariance;
  const r = intercept * intercept - square * interceptStandard ** 2;
  if (!(p > 0)) return { at, from: -Infinity, to: Infinity };
  const root = Math.sqrt(Math.max(0, q * q - p * r));
  return { at, from: (-q - root) / p, to: (-q + root) / p };
}

/** Variance of a line's height at x. */
export const lineVariance = ({ interceptStandard, slopeStandard, covariance }: Line, x: number): number =>
  interceptStandard ** 2 + 2 * x * covariance + x * x * slopeStandard ** 2;

/** y = a + b u + c u², u = x − middle. */
export interface Parabola {
  middle: number;
  a: number;
  b: number;
  c: number;
  /** Covariance of a, b and c. */
  covariance: number[][];
  chiSquare: number;
  degreesOfFreedom: number;
}

/** Rounds in which the uncertainty of x is made one of y by the slope there. */
const ROUNDS = 3;

/**
 * Weighted least squares by a parabola, x about its middle and in units of its spread.
 *
 * @returns undefined where the points do not determine it
 */
export function fitParabola(points: readonly LinePoint[]): Parabola | undefined {
  const middle = points.reduce((sum, { x }) => sum + x, 0) / points.length;
  const spread = Math.max(...points.map(({ x }) => Math.abs(x - middle)));
  if (!(spread > 0) || new Set(points.map(({ x }) => x)).size < 3) return undefined;
  let [a, b, c] = [0, 0, 0];
  let inverted = new Matrix(0, 0);
  const weightOf = ({ x, sigmaX, sigmaY }: LinePoint): number =>
    1 / (sigmaY ** 2 + ((b + (2 * c * (x - middle)) / spread) * (sigmaX / spread)) ** 2);
  for (let round = 0; round < ROUNDS; round++) {
    const normal = Matrix.zeros(3, 3);
    const right = [0, 0, 0];
    for (const point of points) {
      const u = (point.x - middle) / spread;
      const row = [1, u, u * u];
      const weight = weightOf(point);
      for (let i = 0; i < 3; i++) {
        right[i]! += weight * row[i]! * point.y;
        for (let j = 0; j < 3; j++) normal.set(i, j, normal.get(i, j) + weight * row[i]! * row[j]!);
      }
    }
    try {
      inverted = inverse(normal);
    } catch {
      return undefined;
    }
    [a, b, c] = inverted.mmul(Matrix.columnVector(right)).to1DArray() as [number, number, number];
    if (![a, b, c].every(Number.isFinite)) return undefined;
  }
  const scales = [1, spread, spread * spread];
  const unscaled: Pick<Parabola, 'middle' | 'a' | 'b' | 'c'> = { middle, a, b: b / spread, c: c / spread ** 2 };
  return {
    ...unscaled,
    covariance: [0, 1, 2].map((i) => [0, 1, 2].map((j) => inverted.get(i, j) / (scales[i]! * scales[j]!))),
    chiSquare: points.reduce((sum, point) => sum + weightOf(point) * (point.y - heightOf(unscaled, point.x)) ** 2, 0),
    degreesOfFreedom: points.length - 3
  };
}

/** Height of a parabola. */
export function heightOf({ middle, a, b, c }: Pick<Parabola, 'middle' | 'a' | 'b' | 'c'>, x: number): number {
  const u = x - middle;
  return a + b * u + c * u * u;
}

/** Standard uncertainty of a parabola's height, as its points state theirs. */
export function heightStandard({ middle, covariance }: Parabola, x: number): number {
  const u = x - middle;
  const row = [1, u, u * u];
  const variance = row.reduce(
    (sum, one, i) => sum + row.reduce((inner, two, j) => inner + one * two * covariance[i]![j]!, 0),
    0
  );
  return Math.sqrt(Math.max(0, variance));
}

/** Where a parabola turns, with an interval (Fieller 1954, of its derivative's zero). */
export function vertexOf({ middle, b, c, covariance }: Parabola, halfWidth: number): Interval | undefined {
  const turn = zeroCrossing(
    {
      intercept: b,
      slope: 2 * c,
      interceptStandard: Math.sqrt(covariance[1]![1]!),
      slopeStandard: 2 * Math.sqrt(covariance[2]![2]!),
      covariance: 2 * covariance[1]![2]!
    },
    halfWidth
  );
  return turn && { at: turn.at + middle, from: turn.from + middle, to: turn.to + middle };
}

/** Where a parabola crosses zero, the lower place first; undefined where it does not. */
export function rootsOf({ middle, a, b, c }: Parabola): [number, number] | undefined {
  const inside = b * b - 4 * a * c;
  if (!(inside > 0) || c === 0) return undefined;
  const half = Math.sqrt(inside) / (2 * Math.abs(c));
  const turn = middle - b / (2 * c);
  return [turn - half, turn + half];
}

/** Farther than this from a root its interval is not followed, mm. */
const FARTHEST_MM = 20;
const STEP_MM = 0.02;

/** A root with the places about it where the parabola's height does not differ from zero. */
export function rootInterval(parabola: Parabola, root: number, halfWidth: number): Interval {
  const isZero = (x: number): boolean =>
    Math.abs(heightOf(parabola, x)) <= halfWidth * heightStandard(parabola, x) + 1e-12;
  const endOf = (way: 1 | -1): number => {
    for (let off = STEP_MM; off <= FARTHEST_MM; off += STEP_MM) {
      if (isZero(root + way * off)) continue;
      let [inside, outside] = [off - STEP_MM, off];
      for (let halving = 0; halving < 20; halving++) {
        const between = (inside + outside) / 2;
        if (isZero(root + way * between)) inside = between;
        else outside = between;
      }
      return root + way * outside;
    }
    return way * Infinity;
  };
  return { at: root, from: endOf(-1), to: endOf(1) };
}
