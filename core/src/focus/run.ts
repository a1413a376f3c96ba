import { median } from 'simple-statistics';
import { covarianceOf, fitCurve, type Curve } from './fit.ts';

/** One measurement of a focus run. */
export interface FocusPoint {
  /** Steps, or whatever the focuser counts in. */
  position: number;
  hfrPx: number;
  /** Standard deviation of it. */
  standardPx?: number;
  /** Which star; points of one star only are compared. */
  star?: string;
  /** Way the focuser came; by the order of the points where it is not said. */
  direction?: 'out' | 'in';
}

/** What a run of frames says of the focus, as `lodestone focus` prints it. */
export interface FocusAnswer {
  /** Null where the points decide nothing: `why` says what is missing. */
  bestPosition: number | null;
  standard: number | null;
  minHfrPx: number | null;
  /** Points that count, by their place in the run. */
  used: number[];
  left: { index: number; why: string }[];
  /** Where to look next; null where nothing can be said. */
  nextPosition: number | null;
  /** Another frame cannot help. */
  enough: boolean;
  why: string | null;
  /** Points that count were taken on this way. */
  direction: 'out' | 'in' | null;
  /** Curve HFR = √(a² + c²(x − x₀)²); null where there is none. */
  curve: { x0: number; aPx: number; perStepPx: number } | null;
}

/** A run is no longer than this. */
export const MOST_POINTS = 5000;

/** A single frame’s half-flux radius scatters by about this share where nothing is said of it (common practice, no source). */
const USUAL_SCATTER = 0.03;

/** A point that is off by more standard deviations than this is left out, one after the other. */
const OUTLIER = 3.5;

/** Fewer points than this make no curve. */
const LEAST_POINTS = 4;

/** Enough where being off by 2 u makes stars larger by less than this share. */
const ENOUGH_GROWTH = 0.02;

/** Points that stand on each side of the best at the least, before it is said to be found. */
const LEAST_SIDE = 2;

/**
 * A star out of focus: HFR = a √(1 + ((x − x₀)/b)²) (handbook §10), told as √(a² + c²(x − x₀)²), c = a/b, the slope of
 * its asymptotes. Parameters x₀, a, c.
 */
const hyperbola: Curve = {
  at: ([x0, a, c], x) => Math.hypot(a!, c! * (x - x0!)),
  slopes: ([x0, a, c], x) => {
    const from = x - x0!;
    const hfr = Math.hypot(a!, c! * from) || Number.MIN_VALUE;
    return [(-c! * c! * from) / hfr, a! / hfr, (c! * from * from) / hfr];
  }
};

interface Found {
  x0: number;
  a: number;
  c: number;
  standard: number;
  /** Residual of each point over its standard deviation. */
  off: number[];
  /** Σ off² over the degrees of freedom. */
  reduced: number;
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

function fitted(points: readonly FocusPoint[]): Found | undefined {
  const x = points.map(({ position }) => position);
  const y = points.map(({ hfrPx }) => hfrPx);
  const isStated = points.every(({ standardPx }) => standardPx !== undefined);
  const standard = points.map(({ standardPx, hfrPx }) => standardPx ?? USUAL_SCATTER * hfrPx);
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
  // Where nobody says how they scatter the points do; where somebody does, they may still scatter more.
  const scale = degreesOfFreedom > 0 ? (isStated ? Math.max(1, reduced) : reduced) : 1;
  const off = points.map(({ hfrPx, position }, at) => (hfrPx - hyperbola.at(parameters, position)) / standard[at]!);
  return { x0, a: Math.abs(a), c: Math.abs(c), standard: Math.sqrt(covariance[0]![0]! * scale), off, reduced };
}

interface Indexed extends FocusPoint {
  index: number;
}

/** Way each point was come to: as it says, else by where the one before stood. */
function withDirections(points: readonly FocusPoint[]): (Indexed & { way: 'out' | 'in' | undefined })[] {
  let way: 'out' | 'in' | undefined;
  return points.map((point, index) => {
    const before = points[index - 1];
    if (point.direction !== undefined) way = point.direction;
    else if (before && point.position !== before.position) way = point.position > before.position ? 'out' : 'in';
    return { ...point, index, way };
  });
}

/** The largest of some groups; of equals the one that was met first. */
function largest<Key>(keys: readonly Key[]): Key | undefined {
  const counts = new Map<Key, number>();
  for (const key of keys) counts.set(key, (counts.get(key) ?? 0) + 1);
  return [...counts].reduce<[Key, number] | undefined>(
    (best, each) => (!best || each[1] > best[1] ? each : best),
    undefined
  )?.[0];
}

/** Positions in order, each once, with the mean radius there. */
function means(points: readonly FocusPoint[]): { position: number; hfrPx: number; standardPx: number }[] {
  const byPosition = new Map<number, FocusPoint[]>();
  for (const point of points) {
    const there = byPosition.get(point.position);
    if (there) there.push(point);
    else byPosition.set(point.position, [point]);
  }
  return [...byPosition]
    .map(([position, there]) => {
      const hfrPx = there.reduce((sum, each) => sum + each.hfrPx, 0) / there.length;
      const standardPx =
        there.reduce((sum, each) => sum + (each.standardPx ?? USUAL_SCATTER * each.hfrPx), 0) / there.length;
      return { position, hfrPx, standardPx: standardPx / Math.sqrt(there.length) };
    })
    .sort((a, b) => a.position - b.position);
}

/** Places a long run is gathered in before its hills are counted. */
const MOST_PLACES = 40;

/** Places of a run, neighbours gathered where there are many: what noise does between them is gone then. */
function gathered(points: readonly FocusPoint[]): { position: number; hfrPx: number; standardPx: number }[] {
  const there = means(points);
  const each = Math.ceil(there.length / MOST_PLACES);
  if (each === 1) return there;
  return Array.from({ length: Math.ceil(there.length / each) }, (_, at) => {
    const some = there.slice(at * each, (at + 1) * each);
    const mean = (of: (place: (typeof there)[number]) => number): number =>
      some.reduce((sum, place) => sum + of(place), 0) / some.length;
    return {
      position: mean(({ position }) => position),
      hfrPx: mean(({ hfrPx }) => hfrPx),
      standardPx: mean(({ standardPx }) => standardPx) / Math.sqrt(some.length)
    };
  });
}

/** Whether there are two places where stars are smallest, with a hill between that noise does not make. */
function hasTwoMinima(points: readonly FocusPoint[]): boolean {
  const there = gathered(points);
  const lows = there.filter(
    ({ hfrPx }, at) => at > 0 && at < there.length - 1 && hfrPx < there[at - 1]!.hfrPx && hfrPx < there[at + 1]!.hfrPx
  );
  for (const [at, one] of lows.entries()) {
    for (const other of lows.slice(at + 1)) {
      const between = there.filter(({ position }) => position > one.position && position < other.position);
      // A hill of a single point is an outlier.
      const high = between.filter(
        ({ hfrPx, standardPx }) => hfrPx - Math.max(one.hfrPx, other.hfrPx) > 5 * Math.hypot(standardPx, one.standardPx)
      );
      if (high.length >= 2) return true;
    }
  }
  return false;
}

const stepOf = (points: readonly FocusPoint[]): number => {
  const there = means(points).map(({ position }) => position);
  const gaps = there.slice(1).map((each, at) => each - there[at]!);
  return gaps.length === 0 ? 0 : gaps.toSorted((a, b) => a - b)[Math.floor(gaps.length / 2)]!;
};

/** A star that shrinks steadily is gone after so much of the way that is left; farther is not gone at once. */
const SHARE_OF_WAY = 0.45;
const MOST_STEPS = 8;

/**
 * Where to go while there is no minimum yet: on, where stars get smaller, the farther the larger they are; a change that
 * noise makes too is none, and the way goes on.
 */
function downhill(points: readonly FocusPoint[]): number | null {
  const there = means(points);
  const step = stepOf(points);
  const [before, last] = [points.at(-2), points.at(-1)];
  if (there.length < 2 || step === 0 || !before || !last) return null;
  const out = last.position >= before.position ? 1 : -1;
  const smallest = there.reduce((best, each) => (each.hfrPx < best.hfrPx ? each : best));
  const end = out > 0 ? there.at(-1)! : there[0]!;
  const start = out > 0 ? there[0]! : there.at(-1)!;
  const noise = 2 * Math.hypot(smallest.standardPx, end.standardPx);
  if (end.hfrPx - smallest.hfrPx <= noise) {
    const slope = (start.hfrPx - end.hfrPx) / Math.abs(end.position - start.position);
    const isSteady = start.hfrPx - end.hfrPx > 2 * Math.hypot(start.standardPx, end.standardPx);
    const way = isSteady ? (SHARE_OF_WAY * end.hfrPx) / slope : 2 * step;
    return Math.round(end.position + out * Math.max(step, Math.min(MOST_STEPS * step, way)));
  }
  if (smallest === start) return Math.round(start.position - out * step);
  return Math.round(smallest.position + (out * step) / 2);
}

/** Places for the next frame that are looked at. */
const CANDIDATES = 21;

/** The position within what was walked over where one more frame would tell most of the best position. */
function mostTelling(points: readonly FocusPoint[], { x0, a, c }: Found): number {
  const [low, high] = [Math.min(...points.map((p) => p.position)), Math.max(...points.map((p) => p.position))];
  const step = stepOf(points) || 1;
  const x = points.map(({ position }) => position);
  const standard = points.map(({ standardPx, hfrPx }) => standardPx ?? USUAL_SCATTER * hfrPx);
  const after = (at: number): number => {
    const hfr = hyperbola.at([x0, a, c], at);
    const covariance = covarianceOf(
      [...x, at],
      [...standard, USUAL_SCATTER * hfr],
      hyperbola,
      [x0, a, c],
      [high - low || 1, a, c]
    );
    return covariance?.[0]?.[0] ?? Infinity;
  };
  const from = Math.min(low, x0 - 2 * step);
  const to = Math.max(high, x0 + 2 * step);
  const candidates = Array.from({ length: CANDIDATES }, (_, at) => from + ((to - from) * at) / (CANDIDATES - 1));
  const best = candidates.reduce(
    (found, at) => {
      const variance = after(at);
      return variance < found.variance ? { at, variance } : found;
    },
    { at: x0, variance: Infinity }
  );
  return Math.round(best.at);
}

/**
 * Reads a focus run: points of one star, come to on one way, with outliers left out, on a hyperbola by weighted least
 * squares; its minimum with a standard uncertainty, and where to look next (handbook §10).
 *
 * @param backlash steps that are lost after a reversal; points within it are not comparable
 */
export function readFocusRun(points: readonly FocusPoint[], backlash = 0): FocusAnswer {
  const left: FocusAnswer['left'] = [];
  const leave = (index: number, why: string): void => void left.push({ index, why });
  const all = withDirections(points);
  const star = largest(all.map((point) => point.star));
  const ofStar = all.filter((point) => {
    if (point.star === star) return true;
    leave(
      point.index,
      star === undefined ? `another star: ${point.star ?? ''}` : `not ${star}: stars are not compared with each other`
    );
    return false;
  });
  // The first point of a run has no way yet: it goes with the next.
  const firstWay = ofStar.find(({ way }) => way !== undefined)?.way;
  const turned: typeof ofStar = [];
  let turnAt: number | undefined;
  let current = firstWay;
  for (const [at, point] of ofStar.entries()) {
    const way = point.way ?? firstWay;
    if (at > 0 && way !== current) turnAt = ofStar[at - 1]!.position;
    current = way;
    if (turnAt !== undefined && backlash > 0 && Math.abs(point.position - turnAt) <= backlash) {
      leave(point.index, 'within the backlash after a reversal');
    } else turned.push({ ...point, way });
  }
  const direction = largest(turned.map(({ way }) => way)) ?? null;
  let used = turned.filter(({ way, index }) => {
    if ((way ?? null) === direction) return true;
    leave(index, `come to from the other side; the others were come to on the way ${direction ?? ''}`);
    return false;
  });
  const nothing = (why: string, nextPosition: number | null = downhill(used)): FocusAnswer => ({
    bestPosition: null,
    standard: null,
    minHfrPx: null,
    used: used.map(({ index }) => index),
    left: left.toSorted((a, b) => a.index - b.index),
    nextPosition,
    enough: false,
    why,
    direction,
    curve: null
  });
  const places = new Set(used.map(({ position }) => position)).size;
  if (used.length === 0) return nothing('There are no points.', null);
  if (places === 1) return nothing('All points stand at one position: move the focuser.', null);
  if (used.length < LEAST_POINTS || places < 3) {
    return nothing(
      `${used.length} comparable ${used.length === 1 ? 'point is' : 'points are'} too few for a curve: it takes ${LEAST_POINTS} at three positions.`
    );
  }
  if (hasTwoMinima(used)) {
    return nothing(
      'Stars are smallest at two positions: two stars, or a focuser that slipped. Go through once more, one way, one star.',
      null
    );
  }
  let found = fitted(used);
  // One outlier at a time: each that goes changes what the others are off by.
  while (found && used.length > LEAST_POINTS) {
    const scatter = Math.max(1, median(found.off.map(Math.abs)) * 1.4826);
    const [worst, offBy] = found.off.reduce<[number, number]>(
      (most, off, at) => (Math.abs(off) > most[1] ? [at, Math.abs(off)] : most),
      [0, 0]
    );
    if (offBy / scatter <= OUTLIER) break;
    const without = used.toSpliced(worst, 1);
    const again = new Set(without.map(({ position }) => position)).size >= 3 ? fitted(without) : undefined;
    // What goes has to be the one that does not belong: the others fit much better without it.
    if (!again || again.reduced > found.reduced * 0.6) break;
    leave(used[worst]!.index, 'an outlier: saturated, blended, or blurred by a gust');
    [used, found] = [without, again];
  }
  if (!found) return nothing('Stars only get smaller in one direction: the best position is not in this run.');
  const { x0, a, c, standard } = found;
  const [low, high] = [Math.min(...used.map((p) => p.position)), Math.max(...used.map((p) => p.position))];
  if (x0 < low || x0 > high) {
    return nothing(
      'The best position lies outside what was walked over: go on that way.',
      Math.round(Math.max(low - (high - low), Math.min(high + (high - low), x0)))
    );
  }
  const sides = [
    used.filter(({ position }) => position < x0).length,
    used.filter(({ position }) => position > x0).length
  ];
  const growth = a > 0 ? Math.hypot(a, c * 2 * standard) / a - 1 : Infinity;
  const enough = growth <= ENOUGH_GROWTH && Math.min(...sides) >= LEAST_SIDE;
  return {
    bestPosition: x0,
    standard,
    minHfrPx: a,
    used: used.map(({ index }) => index),
    left: left.toSorted((p, q) => p.index - q.index),
    nextPosition: enough ? Math.round(x0) : mostTelling(used, found),
    enough,
    why: null,
    direction,
    curve: { x0, aPx: a, perStepPx: c }
  };
}

/** Backlash by two runs over the same star, one out and one in. */
export interface MeasuredBacklash {
  steps: number;
  standard: number;
}

/**
 * What the two ways differ by: best position coming in less that going out.
 *
 * @returns undefined where one of the two has no minimum
 */
export function measuredBacklash(points: readonly FocusPoint[]): MeasuredBacklash | undefined {
  const marked = withDirections(points);
  const first = marked.find(({ way }) => way !== undefined)?.way;
  const ways = (['out', 'in'] as const).map((way) =>
    readFocusRun(marked.filter((point) => (point.way ?? first) === way).map((point) => ({ ...point, direction: way })))
  );
  const [out, into] = ways as [FocusAnswer, FocusAnswer];
  if (out.bestPosition === null || into.bestPosition === null) return undefined;
  // Counted positions lag behind the tube by the backlash, on either way by what was lost turning into it.
  return {
    steps: Math.abs(into.bestPosition - out.bestPosition),
    standard: Math.hypot(out.standard ?? 0, into.standard ?? 0)
  };
}
