import type { LinePoint } from './line.ts';
import type { Experiment } from './generated/types.ts';

/** Frames at one spacing that are needed beyond the first of each, before their scatter is believed. */
const LEAST_REPEATS = 2;

/** What measurements at the same spacing scatter by, and what they state of themselves (variances of one of them). */
interface Pooled {
  variance: number;
  stated: number;
}

function groupsOf<Point extends LinePoint>(points: readonly Point[]): Point[][] {
  const groups = new Map<number, Point[]>();
  for (const point of points) groups.set(point.x, [...(groups.get(point.x) ?? []), point]);
  return [...groups.values()];
}

/** Pooled over all spacings that were measured more than once; undefined while that says nothing. */
function pooledOf(points: readonly LinePoint[]): Pooled | undefined {
  let [squares, stated, repeats] = [0, 0, 0];
  for (const group of groupsOf(points)) {
    const mean = group.reduce((sum, { y }) => sum + y, 0) / group.length;
    const more = group.length - 1;
    squares += group.reduce((sum, { y }) => sum + (y - mean) ** 2, 0);
    stated += (group.reduce((sum, { sigmaY }) => sum + sigmaY ** 2, 0) / group.length) * more;
    repeats += more;
  }
  return repeats < LEAST_REPEATS ? undefined : { variance: squares / repeats, stated: stated / repeats };
}

/**
 * Measurements with what they scatter by at one spacing beyond what they state: their own repeatability is surer than
 * what a single frame can know of itself.
 */
export function withRepeatability<Point extends LinePoint>(points: readonly Point[]): Point[] {
  const pooled = pooledOf(points);
  if (!pooled) return [...points];
  const excess = Math.max(0, pooled.variance - pooled.stated);
  return points.map((each) => ({ ...each, sigmaY: Math.hypot(each.sigmaY, Math.sqrt(excess)) }));
}

/**
 * One measurement a spacing. Frames of one setup share what it does (how it was focused, how the joints lie): more of
 * them tell their scatter, but the place of the setup itself no better than one frame would, and they count as one
 * degree of freedom.
 */
export function oneEachSpacing<Point extends LinePoint>(points: readonly Point[]): Point[] {
  return groupsOf(points).map((group) => {
    const [first] = group;
    if (group.length === 1) return first!;
    const weights = group.map(({ sigmaY }) => 1 / sigmaY ** 2);
    const sum = weights.reduce((a, b) => a + b, 0);
    return {
      ...first!,
      y: group.reduce((total, { y }, at) => total + weights[at]! * y, 0) / sum,
      sigmaX: Math.sqrt(group.reduce((total, { sigmaX }) => total + sigmaX ** 2, 0) / group.length),
      sigmaY: Math.sqrt(group.length / sum)
    };
  });
}

/** What each of some entries counts where those of one spacing count as one. */
export function sharesOf(entries: readonly { x: number }[]): number[] {
  const counts = new Map<number, number>();
  for (const { x } of entries) counts.set(x, (counts.get(x) ?? 0) + 1);
  return entries.map(({ x }) => 1 / counts.get(x)!);
}

/** How far frames of one setup differ by themselves. */
export interface FrameScatter {
  /** Frames at spacings that have more than one. */
  frames: number;
  /** Standard deviation of the stretch of one frame. */
  standard: number;
  /** What the frames state of themselves. */
  stated: number;
}

/** The owner's own scatter, from frames that were taken without a change between them; undefined while there are too few. */
export function frameScatterOf(experiments: readonly Experiment[]): FrameScatter | undefined {
  const points = experiments.flatMap(({ spacingMm, radial }): LinePoint[] =>
    radial ? [{ x: spacingMm, y: radial.value, sigmaX: 0, sigmaY: radial.standard }] : []
  );
  const pooled = pooledOf(points);
  if (!pooled) return undefined;
  return {
    frames: groupsOf(points).reduce((sum, { length }) => (length > 1 ? sum + length : sum), 0),
    standard: Math.sqrt(pooled.variance),
    stated: Math.sqrt(pooled.stated)
  };
}
