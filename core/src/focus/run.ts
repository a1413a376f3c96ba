import { median } from 'simple-statistics';
import { fitFocus } from './curve.ts';
import { gathered, isMeasured, placesOf, type FocusPoint, type Measured, type Place } from './point.ts';
import { bracketOf, mostTelling, searchStep, type Stops } from './search.ts';

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

/** A point that is off by more standard deviations than this is left out, one after the other. */
const OUTLIER = 3.5;

/** Fewer points than this make no curve. */
const LEAST_POINTS = 4;
/** So few do not show how far they scatter: they are never enough. */
const LEAST_FOR_ENOUGH = 5;
/** The ends of a run stand above its least by at least this share, and clearly. */
const CLEAR_SHARE = 0.12;
const CLEAR_SIGMAS = 3;
/** Points that scatter by less about one hyperbola, in what they state, are not of two. */
const TWO_MINIMA_SCATTER = 3;
/** After so many frames of one star another does not help. */
const MOST_FRAMES = 24;

/** Enough where being off by 2 u makes stars larger by less than this share. */
const ENOUGH_GROWTH = 0.02;

/** Points that stand on each side of the best at the least, before it is said to be found. */
const LEAST_SIDE = 2;

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

/** Whether there are two places where stars are smallest, with a hill between that noise does not make. */
function hasTwoMinima(points: readonly Measured[]): boolean {
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

/** A largest value that stands at several positions, so much above the least, is a window’s edge, not a star’s size. */
const CEILING_RATIO = 3;
const CEILING_PX = 20;

/** Points whose value is what their window can measure at most: told by themselves, or the same largest value again and again. */
function withCeilings<Point extends FocusPoint>(points: readonly Point[]): Point[] {
  const values = points.flatMap((point) => (isMeasured(point) ? [point.hfrPx] : []));
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const there = new Set(points.filter(({ hfrPx }) => hfrPx === most).map(({ position }) => position));
  const isCeiling =
    there.size > 1 && most >= CEILING_PX && (most >= CEILING_RATIO * least || there.size === values.length);
  return points.map((point) => (isCeiling && point.hfrPx === most ? { ...point, ceiling: true } : point));
}

const GIVEN_UP =
  'So many frames and no better: another will not help. See whether the draw tube moves and holds, whether it is always the same star, and whether wind, dew or high cloud blurs it.';

/**
 * Reads a focus run: points of one star, come to on one way, with outliers left out, on a hyperbola by weighted least
 * squares; its minimum with a standard uncertainty (±2 u hold 95 of 100), and where to look next (handbook §10). A best
 * position is told only between two ends that stand clearly above it.
 *
 * @param backlash steps that are lost after a reversal; points within it are not comparable
 * @param maxPosition the focuser stops there; its other stop is 0
 */
export function readFocusRun(points: readonly FocusPoint[], backlash = 0, maxPosition?: number): FocusAnswer {
  const left: FocusAnswer['left'] = [];
  const leave = (index: number, why: string): void => void left.push({ index, why });
  const stops: Stops = maxPosition === undefined ? { low: -Infinity, high: Infinity } : { low: 0, high: maxPosition };
  const all = withDirections(points).filter((point) => {
    if (point.position >= stops.low && point.position <= stops.high) return true;
    leave(point.index, `beyond the end stop at ${point.position < stops.low ? stops.low : stops.high}`);
    return false;
  });
  const star = largest(all.filter(({ hfrPx }) => hfrPx !== undefined).map((point) => point.star));
  const ofStar = all.filter((point) => {
    // Whoever says “larger” means the star of the frame before.
    if (point.star === star || (point.hfrPx === undefined && point.star === undefined)) return true;
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
  const comparable = withCeilings(
    turned.filter(({ way, index }) => {
      if ((way ?? null) === direction) return true;
      leave(index, `come to from the other side; the others were come to on the way ${direction ?? ''}`);
      return false;
    })
  );
  for (const point of comparable) {
    if (isMeasured(point)) continue;
    leave(
      point.index,
      point.hfrPx !== undefined || point.seen === 'nothing'
        ? 'larger than can be measured: it only says that focus is not there'
        : point.seen === undefined
          ? 'it says nothing of the star'
          : 'seen by eye: it shows the way, but has no place on the curve'
    );
  }
  let used = comparable.filter(isMeasured);
  const step = comparable.length >= MOST_FRAMES ? { why: GIVEN_UP } : searchStep(comparable, stops);
  const nothing = (why: string, goesOn = true, telling?: number): FocusAnswer => ({
    bestPosition: null,
    standard: null,
    minHfrPx: null,
    used: used.map(({ index }) => index),
    left: left.toSorted((a, b) => a.index - b.index),
    nextPosition: goesOn && step && 'position' in step ? (telling ?? step.position) : null,
    enough: false,
    why: goesOn && step && 'why' in step ? step.why : why,
    direction,
    curve: null
  });
  const places = new Set(used.map(({ position }) => position)).size;
  if (comparable.length === 0) return nothing('There are no points.');
  if (new Set(comparable.map(({ position }) => position)).size === 1) {
    return nothing('All points stand at one position: move the focuser.');
  }
  if (used.length < LEAST_POINTS || places < 3) {
    return nothing(
      `${used.length} comparable ${used.length === 1 ? 'point is' : 'points are'} too few for a curve: it takes ${LEAST_POINTS} at three positions.`
    );
  }
  let found = fitFocus(used);
  // One hyperbola that nearly fits is not two.
  if (!(found && found.scatter < TWO_MINIMA_SCATTER) && hasTwoMinima(used)) {
    return nothing(
      'Stars are smallest at two positions: two stars, or a focuser that slipped. Go through once more, one way, one star.',
      false
    );
  }
  // One outlier at a time: each that goes changes what the others are off by.
  while (found && used.length > LEAST_FOR_ENOUGH) {
    const scatter = Math.max(1, median(found.off.map(Math.abs)) * 1.4826);
    const [worst, offBy] = found.off.reduce<[number, number]>(
      (most, off, at) => (Math.abs(off) > most[1] ? [at, Math.abs(off)] : most),
      [0, 0]
    );
    if (offBy / scatter <= OUTLIER) break;
    const without = used.toSpliced(worst, 1);
    const again = new Set(without.map(({ position }) => position)).size >= 3 ? fitFocus(without) : undefined;
    // What goes has to be the one that does not belong: the others fit much better without it.
    if (!again || again.reduced > found.reduced * 0.6) break;
    leave(used[worst]!.index, 'an outlier: saturated, blended, or blurred by a gust');
    [used, found] = [without, again];
  }
  if (!found) return nothing('Stars only get smaller in one direction: the best position is not in this run.');
  const { x0, a, c, standard, scatter } = found;
  const bracket = bracketOf(comparable);
  const there = placesOf(used);
  const isClear = (side: readonly Place[]): boolean =>
    side.some(({ hfrPx, standardPx }) => hfrPx - a > Math.max(CLEAR_SHARE * a, CLEAR_SIGMAS * scatter * standardPx));
  const ends = [there.filter(({ position }) => position < x0), there.filter(({ position }) => position > x0)] as const;
  if (
    ends[0].length === 0 ||
    ends[1].length === 0 ||
    x0 + 3 * standard <= bracket.low ||
    x0 - 3 * standard >= bracket.high
  ) {
    return nothing('The best position lies outside what was walked over: go on that way.');
  }
  const clear = [isClear(ends[0]), isClear(ends[1])] as const;
  if (!clear[0] || !clear[1]) {
    return nothing(
      'Both ends of the run have to stand clearly above its least: go on until the star has grown on either side.',
      true,
      mostTelling(used, found, stops, clear)
    );
  }
  const sides = [
    used.filter(({ position }) => position < x0).length,
    used.filter(({ position }) => position > x0).length
  ];
  const growth = a > 0 ? Math.hypot(a, c * 2 * standard) / a - 1 : Infinity;
  const enough = growth <= ENOUGH_GROWTH && Math.min(...sides) >= LEAST_SIDE && used.length >= LEAST_FOR_ENOUGH;
  const isSpent = !enough && used.length >= MOST_FRAMES;
  return {
    bestPosition: x0,
    standard,
    minHfrPx: a,
    used: used.map(({ index }) => index),
    left: left.toSorted((p, q) => p.index - q.index),
    nextPosition: isSpent ? null : enough ? Math.round(x0) : mostTelling(used, found, stops),
    enough,
    why: isSpent ? GIVEN_UP : null,
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
