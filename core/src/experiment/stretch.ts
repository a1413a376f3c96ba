import {
  fitLine,
  fitParabola,
  heightOf,
  heightStandard,
  lineVariance,
  rootInterval,
  rootsOf,
  vertexOf,
  zeroCrossing,
  type Interval,
  type Line,
  type LinePoint,
  type Parabola
} from './line.ts';
import { oneEachSpacing, withRepeatability } from './repeats.ts';
import { Z95, halfWidth95, logEvidence } from '../stats/scatter.ts';

/** What was measured at a spacing, with the place of its experiment among all. */
export interface Measured extends LinePoint {
  index: number;
}

/** Where stretch says the best spacing is. */
export interface StretchBest extends Interval {
  model: 'linear' | 'quadratic';
  /** Change of the stretch a millimetre, at the best; 0 where it only turns there. */
  slopePerMm: number;
  /** How far from the best the stretch is not yet seen. */
  toleranceMm: number;
  /** Half of an interval that is never narrower than what frames state of themselves. */
  sureHalfMm: number;
  /** Experiments left out, by their place among all. */
  outliers: number[];
  /** Both places where the stretch is zero, where it has two. */
  zeros?: [number, number];
}

/** Studentized distance from the curve through the others. */
const OUTLIER = 4.5;
/** So few points leave nothing out: which of them is wrong they cannot tell. */
const TOO_FEW_FOR_OUTLIERS = 5;
/** In a long series only so many of the worst are asked whether they belong. */
const MOST_SUSPECTS = 8;
/** Stretch is often close to a line (handbook §9): so much likelier than a parabola before anything is known. */
const LINE_BEFORE = 4;
/** Curvature is at most so many times what is just seen, a square millimetre, either way. */
const MOST_CURVED = 1;
/** A model that is not less likely than this is not ruled out: its best counts in the interval. */
const RULED_OUT = 0.03;
/** One that is not less likely than this has to agree before it is enough. */
const A_RIVAL = 0.1;

/** Each measurement once: the same frame kept twice tells nothing new, least of all of its scatter. */
function eachOnce(all: readonly Measured[]): Measured[] {
  return [...new Map(all.map((each) => [`${each.x} ${each.y} ${each.sigmaY}`, each])).values()];
}

interface Models {
  points: Measured[];
  line: Line;
  parabola: Parabola | undefined;
  /** Chance of the parabola against the line. */
  curved: number;
}

/** The line and the parabola through some points, weighed against each other. */
function modelsOf(points: Measured[], seen: number): Models | undefined {
  const line = fitLine(points);
  if (!line) return undefined;
  const parabola = fitParabola(points);
  if (!parabola) return { points, line, parabola, curved: 0 };
  // Ratio of the marginal likelihoods: the parabola pays for the range its curvature might have had.
  const range = 2 * MOST_CURVED * seen;
  const occam = (Math.sqrt(2 * Math.PI) * Math.sqrt(parabola.covariance[2]![2]!)) / range;
  const against =
    logEvidence(line.chiSquare, line.degreesOfFreedom) -
    logEvidence(parabola.chiSquare, parabola.degreesOfFreedom) -
    Math.log(occam);
  return { points, line, parabola, curved: 1 / (1 + LINE_BEFORE * Math.exp(Math.min(700, against))) };
}

/** How far a point lies from the curve through others, in what both are not known by. */
function distanceFrom({ line, parabola, curved }: Models, { x, y, sigmaX, sigmaY }: Measured): number {
  const isCurve = parabola !== undefined && curved > 0.5;
  const { chiSquare, degreesOfFreedom } = isCurve ? parabola : line;
  const slope = isCurve ? parabola.b + 2 * parabola.c * (x - parabola.middle) : line.slope;
  const off = isCurve ? y - heightOf(parabola, x) : y - line.intercept - line.slope * x;
  const known = isCurve ? heightStandard(parabola, x) ** 2 : lineVariance(line, x);
  const widen = halfWidth95(chiSquare, degreesOfFreedom) / Z95;
  return Math.abs(off) / (Math.max(1, widen) * Math.sqrt(sigmaY ** 2 + (slope * sigmaX) ** 2 + known));
}

/** The models of all points but those that lie far from all others, at most a quarter of them. */
function modelsWithout(all: readonly Measured[], seen: number): (Models & { outliers: number[] }) | undefined {
  let points = withRepeatability(eachOnce(all));
  let models = modelsOf(points, seen);
  if (!models) return undefined;
  const most = Math.floor(points.length / 4);
  const outliers: number[] = [];
  while (points.length > TOO_FEW_FOR_OUTLIERS && outliers.length < most) {
    const now = models;
    const suspects = points.toSorted((a, b) => distanceFrom(now, b) - distanceFrom(now, a)).slice(0, MOST_SUSPECTS);
    let worst: { point: Measured; without: Models; distance: number } | undefined;
    for (const point of suspects) {
      const without = modelsOf(
        points.filter((each) => each !== point),
        seen
      );
      if (!without) continue;
      const distance = distanceFrom(without, point);
      if (!worst || distance > worst.distance) worst = { point, without, distance };
    }
    if (!worst || worst.distance < OUTLIER) break;
    outliers.push(worst.point.index);
    models = worst.without;
    points = models.points;
  }
  const each = oneEachSpacing(points);
  const together = each.length < points.length ? modelsOf(each, seen) : models;
  return together && { ...together, outliers };
}

/** A parabola has two zeros where it stands beyond zero between them by more than this, in half-widths of 95 %. */
const CLEARLY = 1.4;

type Found = Omit<StretchBest, 'outliers'>;

const halfOf = ({ at, from, to }: Interval): number => Math.max(at - from, to - at);

function byLine(line: Line, seen: number): Found | undefined {
  const half = halfWidth95(line.chiSquare, line.degreesOfFreedom);
  const crossing = zeroCrossing(line, half);
  if (!crossing || !Number.isFinite(crossing.from)) return undefined;
  return {
    ...crossing,
    model: 'linear',
    slopePerMm: line.slope,
    toleranceMm: seen / Math.abs(line.slope),
    sureHalfMm: halfOf(zeroCrossing(line, Math.max(half, Z95))!)
  };
}

function byParabola({ points }: Models, parabola: Parabola, seen: number, near: number | undefined): Found | undefined {
  const half = halfWidth95(parabola.chiSquare, parabola.degreesOfFreedom);
  const sure = Math.max(half, Z95);
  const turn = vertexOf(parabola, half);
  const zeros = rootsOf(parabola);
  const isClear = (x: number, times: number): boolean =>
    Math.abs(heightOf(parabola, x)) > times * half * heightStandard(parabola, x);
  const ends = [Math.min(...points.map(({ x }) => x)), Math.max(...points.map(({ x }) => x))] as const;
  const isThrough =
    heightOf(parabola, ends[0]) * heightOf(parabola, ends[1]) < 0 && isClear(ends[0], 1) && isClear(ends[1], 1);
  // Between zeros that lie close together hardly a stretch is seen: then what matters is where it turns.
  const isBeyond = turn && isClear(turn.at, CLEARLY) && Math.abs(heightOf(parabola, turn.at)) > seen / 2;
  if (zeros && (isThrough || isBeyond)) {
    // Of two zeros the one where the corners are least, else where the least stretch was seen.
    const wanted = near ?? points.reduce((a, b) => (Math.abs(b.y) < Math.abs(a.y) ? b : a)).x;
    const inside = zeros.filter((zero) => zero >= ends[0] && zero <= ends[1]);
    const root =
      isThrough && inside.length === 1
        ? inside[0]!
        : Math.abs(zeros[0] - wanted) < Math.abs(zeros[1] - wanted)
          ? zeros[0]
          : zeros[1];
    const slopePerMm = parabola.b + 2 * parabola.c * (root - parabola.middle);
    const interval = rootInterval(parabola, root, half);
    if (!Number.isFinite(interval.to - interval.from)) return undefined;
    return {
      ...interval,
      model: 'quadratic',
      slopePerMm,
      toleranceMm: seen / Math.abs(slopePerMm),
      sureHalfMm: halfOf(rootInterval(parabola, root, sure)),
      zeros
    };
  }
  if (!turn || !Number.isFinite(turn.from)) return undefined;
  return {
    ...turn,
    model: 'quadratic',
    slopePerMm: 0,
    toleranceMm: Math.sqrt(seen / Math.abs(parabola.c)),
    sureHalfMm: halfOf(vertexOf(parabola, sure)!)
  };
}

/**
 * Height of the curve that goes through stretches at several spacings: the line or the parabola they speak for.
 *
 * @returns undefined where they determine none
 */
export function stretchCurve(all: readonly Measured[], seen: number): ((spacingMm: number) => number) | undefined {
  const models = modelsWithout(all, seen);
  if (!models || models.points.length < 2) return undefined;
  const { line, parabola, curved } = models;
  return parabola && curved > 0.5 ? (x) => heightOf(parabola, x) : (x) => line.intercept + line.slope * x;
}

/**
 * Where the stretch of the corners says the best spacing is (handbook §9): a line's zero, a parabola's zero, or the place
 * where a parabola turns, whichever model the points speak for; the interval tells what that model leaves open.
 *
 * @param seen stretch that is just seen, in the measure of the points
 * @param near which of two zeros is meant, where corner sizes tell it, mm
 * @returns undefined where the points decide nothing
 */
export function bestByStretch(all: readonly Measured[], seen: number, near?: number): StretchBest | undefined {
  const models = modelsWithout(all, seen);
  if (!models) return undefined;
  const { line, parabola, curved, outliers } = models;
  const one = byLine(line, seen);
  const two = parabola && curved > RULED_OUT ? byParabola(models, parabola, seen, near) : undefined;
  const found = curved > 0.5 ? (two ?? one) : (one ?? two);
  if (!found) return undefined;
  const less = Math.min(curved, 1 - curved);
  const rival = less < RULED_OUT ? undefined : found === two ? one : two;
  if (!rival) return { ...found, outliers };
  // What either of the two leaves open is open.
  const [from, to] = [Math.min(found.from, rival.from), Math.max(found.to, rival.to)];
  return {
    ...found,
    from,
    to,
    ...(less > A_RIVAL ? { sureHalfMm: Math.max(found.sureHalfMm, found.at - from, to - found.at) } : {}),
    outliers
  };
}
