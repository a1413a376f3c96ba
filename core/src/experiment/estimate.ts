import { fitLine, fitParabola, t95, zeroCrossing, type Line, type LinePoint, type Parabola } from './line.ts';
import type { Experiment } from './generated/types.ts';

/** What all experiments say together, as `tune --json` prints it. */
export interface TuneAnswer {
  /** Null where the entries decide nothing. */
  bestMm: number | null;
  interval95Mm: [number, number] | null;
  model: 'linear' | 'quadratic' | 'bracket';
  /** Stretch (or, of sweeps alone, micrometres of astigmatism) a millimetre; its sign is this corrector's own. */
  slopePerMm: number | null;
  /** How far from the best the stars of the corners still look round. */
  toleranceMm: number | null;
  /** Experiments that do not go with the others. */
  outliers: number[];
  nextMm: number | null;
  enough: boolean;
  /** What is missing, or why this is the next one. */
  why: string;
}

/** Stretch in the corners that is just seen (common practice, no source). */
const SEEN = 0.05;
/** Astigmatism that is just seen at usual focal ratios, μm (common practice, no source). */
const SEEN_UM = 20;
/** An eye that says so strongly is sure of the side. */
const FIRMLY = 2;
/** Longest step beyond what was tried, mm. */
const LONGEST_STEP_MM = 3;
const FIRST_STEP_MM = 1;
/** A parabola has to explain so much more than a line (χ² less by this, in units of the scatter). */
const NEEDS_CURVE = 12;
/** Studentized distance from the line through the others. */
const OUTLIER = 4.5;
/** A bracket by eye so narrow (half-width) is as good as eyes are, mm. */
const EYES_ENOUGH_MM = 0.5;

interface Measured extends LinePoint {
  index: number;
}

/** A line with how much wider than their uncertainties its points scatter, and Student's t for it. */
interface Fitted {
  points: Measured[];
  line: Line;
  widen: number;
  t: number;
  outliers: number[];
}

/** What is known of the scatter before any point: as much as so many more points would tell. */
const TOLD_BEFORE = 3;

function scatterOf({ chiSquare, degreesOfFreedom }: Line): { widen: number; t: number } {
  const known = TOLD_BEFORE + degreesOfFreedom;
  // What is stated is believed, unless the points scatter more than it lets them in 99 of 100 series (quantile of χ²
  // by Wilson & Hilferty 1931).
  const third = 2 / (9 * degreesOfFreedom);
  const most = degreesOfFreedom * (1 - third + 2.326 * Math.sqrt(third)) ** 3;
  return degreesOfFreedom > 0 && chiSquare > most
    ? { widen: Math.sqrt((TOLD_BEFORE + chiSquare) / known), t: t95(known) }
    : { widen: 1, t: 1.96 };
}

const lineVariance = ({ interceptStandard, slopeStandard, covariance }: Line, x: number): number =>
  interceptStandard ** 2 + 2 * x * covariance + x * x * slopeStandard ** 2;

/** Frames at one spacing that are needed beyond the first of each, before their scatter is believed. */
const LEAST_REPEATS = 2;

/**
 * Measurements with what they scatter by at one spacing beyond what they state: their own repeatability is surer than
 * what a single frame can know of itself.
 */
function withRepeatability(all: readonly Measured[]): Measured[] {
  let [squares, repeats, stated] = [0, 0, 0];
  for (const x of new Set(all.map((each) => each.x))) {
    const there = all.filter((each) => each.x === x);
    const mean = there.reduce((sum, { y }) => sum + y, 0) / there.length;
    squares += there.reduce((sum, { y }) => sum + (y - mean) ** 2, 0);
    repeats += there.length - 1;
    if (there.length > 1)
      stated += (there.reduce((sum, { sigmaY }) => sum + sigmaY ** 2, 0) / there.length) * (there.length - 1);
  }
  if (repeats < LEAST_REPEATS) return [...all];
  const excess = Math.max(0, (squares - stated) / repeats);
  return all.map((each) => ({ ...each, sigmaY: Math.hypot(each.sigmaY, Math.sqrt(excess)) }));
}

/** The line through measurements; what lies far from all others is left out, at most a quarter of them. */
function fitWithout(all: readonly Measured[]): Fitted | undefined {
  let points = withRepeatability(all);
  const outliers: number[] = [];
  while (points.length >= 4 && outliers.length < Math.floor(all.length / 4)) {
    let worst: { point: Measured; distance: number } | undefined;
    for (const point of points) {
      const line = fitLine(points.filter((each) => each !== point));
      if (!line) continue;
      const { widen } = scatterOf(line);
      const off = point.y - line.intercept - line.slope * point.x;
      const own = point.sigmaY ** 2 + (line.slope * point.sigmaX) ** 2;
      const distance = Math.abs(off) / (widen * Math.sqrt(own + lineVariance(line, point.x)));
      if (!worst || distance > worst.distance) worst = { point, distance };
    }
    if (!worst || worst.distance < OUTLIER) break;
    const { point } = worst;
    outliers.push(point.index);
    points = points.filter((each) => each !== point);
  }
  const line = fitLine(points);
  return line && { points, line, ...scatterOf(line), outliers };
}

/** The parabola through measurements, where it explains much more than the line. */
function curveOf({ points, line }: Fitted): Parabola | undefined {
  if (points.length < 5 || new Set(points.map(({ x }) => x)).size < 4) return undefined;
  const parabola = fitParabola(points, line.slope);
  if (!parabola) return undefined;
  const scatter = Math.max(1, parabola.chiSquare / (points.length - 3));
  return (line.chiSquare - parabola.chiSquare) / scatter > NEEDS_CURVE ? parabola : undefined;
}

/** Where a parabola is zero nearest to the smallest measurement, or, where it never is, where it is smallest. */
function crossingOf({ middle, a, b, c }: Parabola, near: number): number {
  const inside = b * b - 4 * a * c;
  if (inside <= 0) return middle - b / (2 * c);
  const roots = [1, -1].map((sign) => middle + (-b + sign * Math.sqrt(inside)) / (2 * c));
  return roots.reduce((one, two) => (Math.abs(two - near) < Math.abs(one - near) ? two : one));
}

/** A side of the best that an entry lies on: + outward, − circling, 0 round. */
interface Sided {
  index: number;
  x: number;
  side: number;
  strength: number;
}

const STRENGTH_OF_STRETCH = 0.07;

function sidedOf({ spacingMm, radial, sweep, eye }: Experiment, index: number): Sided | undefined {
  const sign = (value: number, standard: number): number => (Math.abs(value) < 2 * standard ? 0 : Math.sign(value));
  if (sweep) {
    const strength = Math.min(3, Math.abs(sweep.astigmatismUm) / SEEN_UM);
    return { index, x: spacingMm, side: sign(sweep.astigmatismUm, sweep.standardUm), strength };
  }
  if (radial) {
    const strength = Math.min(3, Math.abs(radial.value) / STRENGTH_OF_STRETCH);
    return { index, x: spacingMm, side: sign(radial.value, radial.standard), strength };
  }
  if (!eye || eye.stretch === 'unknown') return undefined;
  if (eye.stretch === 'round' || eye.strength === 0) return { index, x: spacingMm, side: 0, strength: 0 };
  return { index, x: spacingMm, side: eye.stretch === 'outward' ? 1 : -1, strength: eye.strength ?? 1 };
}

const NOTHING: TuneAnswer = {
  bestMm: null,
  interval95Mm: null,
  model: 'bracket',
  slopePerMm: null,
  toleranceMm: null,
  outliers: [],
  nextMm: null,
  enough: false,
  why: 'Nothing was tried yet.'
};

/** The split of entries into two sides that contradicts the fewest: those below are of one side, those above of the other. */
function splitOf(entries: readonly Sided[]): { low: Sided[]; high: Sided[]; wrong: Sided[] } | undefined {
  const firm = entries.filter(({ side }) => side !== 0).toSorted((p, q) => p.x - q.x);
  if (!firm.some(({ side }) => side > 0) || !firm.some(({ side }) => side < 0)) return undefined;
  let best: { low: Sided[]; high: Sided[]; wrong: Sided[]; cost: number } | undefined;
  for (const sense of [1, -1]) {
    for (let at = 1; at < firm.length; at++) {
      // Entries at one spacing belong together.
      if (firm[at]!.x === firm[at - 1]!.x) continue;
      const low = firm.slice(0, at).filter(({ side }) => side === -sense);
      const high = firm.slice(at).filter(({ side }) => side === sense);
      const wrong = firm.filter((entry) => !low.includes(entry) && !high.includes(entry));
      const cost = wrong.reduce((sum, { strength }) => sum + 0.5 + strength, 0);
      if (low.length > 0 && high.length > 0 && (!best || cost < best.cost)) best = { low, high, wrong, cost };
    }
  }
  return best;
}

/** What sides alone tell: the best lies between the nearest of either. */
function bracketOf(
  entries: readonly Sided[],
  experiments: readonly Experiment[],
  publishedMm: number | undefined
): TuneAnswer {
  const split = splitOf(entries);
  const rounds = entries.filter(({ side }) => side === 0).map(({ x }) => x);
  if (split) {
    const { low, high, wrong } = split;
    const below = low.reduce((a, b) => (b.x > a.x ? b : a));
    const above = high.reduce((a, b) => (b.x < a.x ? b : a));
    const outliers = wrong.map(({ index }) => index).sort((a, b) => a - b);
    const inside = rounds.filter((x) => x >= below.x && x <= above.x);
    // Between the middle and what the strengths say: they are only ranks.
    const share = 0.5 + 0.5 * (below.strength / Math.max(0.1, below.strength + above.strength) - 0.5);
    const best =
      inside.length > 0 ? inside.reduce((a, b) => a + b, 0) / inside.length : below.x + (above.x - below.x) * share;
    const half = (above.x - below.x) / 2;
    const enough = half <= EYES_ENOUGH_MM || (inside.length > 1 && half <= 2 * EYES_ENOUGH_MM);
    // A round one is not tried again: the wider open side is.
    const wider = above.x - best > best - below.x ? (best + above.x) / 2 : (best + below.x) / 2;
    return {
      ...NOTHING,
      bestMm: best,
      interval95Mm: [below.x, above.x],
      outliers,
      nextMm: enough ? null : inside.length > 0 ? wider : best,
      enough,
      why: enough
        ? 'Enough: eyes tell no more.'
        : `The stretch changes its sense between ${below.x.toFixed(2)} and ${above.x.toFixed(2)} mm.`
    };
  }
  const firm = entries.filter(({ side }) => side !== 0);
  if (firm.length === 0 && rounds.length > 0) {
    const best = rounds.reduce((a, b) => a + b, 0) / rounds.length;
    return {
      ...NOTHING,
      bestMm: best,
      nextMm: best + FIRST_STEP_MM,
      why: 'It looks round here; how far that reaches, entries on either side will tell.'
    };
  }
  return { ...NOTHING, ...onwards(firm, rounds, experiments, publishedMm) };
}

/** Where to go while all entries lie on one side, or say only better or worse. */
function onwards(
  firm: readonly Sided[],
  rounds: readonly number[],
  experiments: readonly Experiment[],
  publishedMm: number | undefined
): Pick<TuneAnswer, 'nextMm' | 'why' | 'bestMm'> {
  const last = experiments.at(-1);
  if (!last) return { bestMm: null, nextMm: publishedMm ?? null, why: NOTHING.why };
  if (rounds.length > 0 && firm.length > 0) {
    // One side and round ones: the best lies among the round ones, or beyond them.
    const away = firm[0]!.x < rounds[0]! ? Math.max(...rounds) : Math.min(...rounds);
    const step = firm[0]!.x < rounds[0]! ? FIRST_STEP_MM : -FIRST_STEP_MM;
    return {
      bestMm: rounds.reduce((a, b) => a + b, 0) / rounds.length,
      nextMm: away + step,
      why: 'It looks round already; the other side is not known yet.'
    };
  }
  const other = [...experiments].reverse().find(({ spacingMm }) => spacingMm !== last.spacingMm);
  if (other) {
    const way = Math.sign(last.spacingMm - other.spacingMm);
    const strengthAt = (x: number): number | undefined => firm.findLast((entry) => entry.x === x)?.strength;
    const [now, before] = [strengthAt(last.spacingMm), strengthAt(other.spacingMm)];
    const isBetter =
      last.eye?.versusLast === 'better' || (last.eye?.versusLast === undefined && (now ?? 0) < (before ?? 0));
    const isWorse =
      last.eye?.versusLast === 'worse' || (last.eye?.versusLast === undefined && (now ?? 0) > (before ?? 0));
    const gone = Math.abs(last.spacingMm - other.spacingMm);
    if (isBetter) {
      const step = Math.min(LONGEST_STEP_MM, Math.max(FIRST_STEP_MM / 2, gone * Math.max(0.5, now ?? 1)));
      return {
        bestMm: null,
        nextMm: last.spacingMm + way * step,
        why: 'It grew better this way: on, until it is past the best.'
      };
    }
    if (isWorse) {
      const step = Math.min(LONGEST_STEP_MM, Math.max(FIRST_STEP_MM, gone));
      return {
        bestMm: null,
        nextMm: other.spacingMm - way * step,
        why: 'It grew worse this way: the best lies the other way.'
      };
    }
    // Which way is not known still: beyond the other end of what was tried, by more.
    const tried = experiments.map(({ spacingMm }) => spacingMm);
    const otherEnd = way > 0 ? Math.min(...tried) : Math.max(...tried);
    return {
      bestMm: null,
      nextMm: otherEnd - way * Math.min(LONGEST_STEP_MM, 2 * gone),
      why: 'These look alike: a longer step the other way will tell.'
    };
  }
  const away = publishedMm !== undefined && Math.abs(publishedMm - last.spacingMm) > 0.2;
  return {
    bestMm: null,
    nextMm: away ? publishedMm! : last.spacingMm + FIRST_STEP_MM,
    why: 'Only one spacing was tried, and which way this corrector stretches is not known: both ways are taught. A second spacing decides it.'
  };
}

/** The spacing whose frame would narrow the interval most; the best itself unless another is clearly better. */
function nextOf({ points, line, widen, t }: Fitted, bestMm: number): number {
  const [least, most] = [Math.min(...points.map(({ x }) => x)), Math.max(...points.map(({ x }) => x))];
  const bounded = (x: number): number => Math.max(least - LONGEST_STEP_MM, Math.min(most + LONGEST_STEP_MM, x));
  const sigmaY = Math.sqrt(points.reduce((sum, each) => sum + each.sigmaY ** 2, 0) / points.length);
  const sigmaX = Math.sqrt(points.reduce((sum, each) => sum + each.sigmaX ** 2, 0) / points.length);
  const width = (x: number): number => {
    const added = fitLine([...points, { x, y: line.intercept + line.slope * x, sigmaX, sigmaY }]);
    const crossing = added && zeroCrossing(added, t, widen);
    return crossing ? crossing.to - crossing.from : Infinity;
  };
  const candidates = [bestMm, ...[-2, -1, 1, 2].map((by) => bestMm + by)].map(bounded);
  const atBest = width(candidates[0]!);
  const narrowest = candidates.reduce((a, b) => (width(b) < width(a) ? b : a));
  return width(narrowest) < 0.75 * atBest ? narrowest : candidates[0]!;
}

/**
 * What all experiments with one corrector say together (handbook §9). Sweeps, which measure the astigmatism itself, win
 * over frames where they determine a line; frames over the eye. Which way it stretches is learned from the entries alone.
 *
 * @param publishedMm where to look while there is only one entry
 */
export function tuneFrom(experiments: readonly Experiment[], publishedMm?: number): TuneAnswer {
  const measured = (of: (experiment: Experiment) => { y: number; sigmaY: number } | undefined): Measured[] =>
    experiments.flatMap((experiment, index) => {
      const value = of(experiment);
      return value ? [{ index, x: experiment.spacingMm, sigmaX: (experiment.uncertaintyMm ?? 0) / 2, ...value }] : [];
    });
  const sweeps = fitWithout(measured(({ sweep }) => sweep && { y: sweep.astigmatismUm, sigmaY: sweep.standardUm }));
  const frames = fitWithout(measured(({ radial }) => radial && { y: radial.value, sigmaY: radial.standard }));
  const decides = (fitted: Fitted | undefined): boolean => {
    const crossing = fitted && zeroCrossing(fitted.line, fitted.t, fitted.widen);
    return crossing !== undefined && Number.isFinite(crossing.from);
  };
  const chosen = [sweeps, frames].find((fitted) => decides(fitted));
  const sided = experiments.flatMap((experiment, index) => sidedOf(experiment, index) ?? []);
  if (!chosen) {
    const answer = bracketOf(sided, experiments, publishedMm);
    const tried = new Set(experiments.map(({ spacingMm }) => spacingMm));
    if (answer.bestMm !== null || tried.size > 1 || experiments.length < 2) return answer;
    return { ...answer, why: `All entries are of one spacing. ${answer.why}` };
  }

  const { line, t, widen, points } = chosen;
  // What can be seen is said by frames where they determine a line.
  const byFrames = frames && decides(frames) ? frames.line : undefined;
  const slopePerMm = (byFrames ?? line).slope;
  const toleranceMm = (byFrames ? SEEN : SEEN_UM) / Math.abs(slopePerMm);
  const crossing = zeroCrossing(line, t, widen)!;
  // What an eye has firmly seen the other way from what frames say of that spacing does not go with them.
  const contradicting = byFrames
    ? experiments.flatMap(({ spacingMm, radial, sweep, eye }, index) => {
        if (radial || sweep || !eye || (eye.strength ?? 1) < FIRMLY) return [];
        const side = eye.stretch === 'outward' ? 1 : eye.stretch === 'circling' ? -1 : 0;
        const seenByFrames = byFrames.intercept + byFrames.slope * spacingMm;
        return side * seenByFrames < -SEEN ? [index] : [];
      })
    : [];
  const outliers = [...chosen.outliers, ...contradicting].sort((a, b) => a - b);
  const curve = curveOf(chosen);
  const smallest = points.reduce((a, b) => (Math.abs(b.y) < Math.abs(a.y) ? b : a)).x;
  const shift = curve ? crossingOf(curve, smallest) - crossing.at : 0;
  const bestMm = crossing.at + shift;
  const interval95Mm: [number, number] = [crossing.from + shift, crossing.to + shift];
  const enough = Math.max(bestMm - interval95Mm[0], interval95Mm[1] - bestMm) <= toleranceMm;
  const least = Math.min(...points.map(({ x }) => x)) - LONGEST_STEP_MM;
  const most = Math.max(...points.map(({ x }) => x)) + LONGEST_STEP_MM;
  return {
    bestMm,
    interval95Mm,
    model: curve ? 'quadratic' : 'linear',
    slopePerMm,
    toleranceMm,
    outliers,
    nextMm: enough ? null : curve ? Math.max(least, Math.min(most, bestMm)) : nextOf(chosen, bestMm),
    enough,
    why: enough
      ? 'Enough: what is not known is less than what can be seen.'
      : 'Another frame narrows it: it lies within more than can be seen.'
  };
}

/** One of the two readings that are taught of what stretched corners mean: neither is known to hold for a corrector. */
export interface School {
  /** What stars that point outward are said to mean. */
  outwardMeans: 'too long' | 'too short';
  nextMm: number;
}

/**
 * Where either school would go first, while the owner's own entries do not say which one holds (handbook §9: both are
 * common practice). A hypothesis, never an answer.
 *
 * @returns undefined where the entries decide it, or show no stretch
 */
export function startingSchools(experiments: readonly Experiment[]): [School, School] | undefined {
  const sided = experiments.flatMap((experiment, index) => sidedOf(experiment, index) ?? []);
  const spacings = new Set(experiments.map(({ spacingMm }) => spacingMm));
  const last = sided.at(-1);
  if (!last || last.side === 0 || spacings.size > 1) return undefined;
  const step = Math.max(FIRST_STEP_MM, Math.min(LONGEST_STEP_MM, FIRST_STEP_MM * last.strength));
  return [
    { outwardMeans: 'too long', nextMm: last.x - last.side * step },
    { outwardMeans: 'too short', nextMm: last.x + last.side * step }
  ];
}
