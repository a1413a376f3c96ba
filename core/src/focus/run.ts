import { medianOf } from '../stats/median.ts';
import { comparableOf, withDirections, type Indexed, type LeftOut } from './comparable.ts';
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
  left: LeftOut[];
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

const GIVEN_UP =
  'So many frames and no better: another will not help. See whether the draw tube moves and holds, whether it is always the same star, and whether wind, dew or high cloud blurs it.';

/** The curve through points without those that do not belong to it, one after the other. */
function fitWithoutOutliers(points: readonly (Measured & Indexed)[]) {
  let used = [...points];
  let found = fitFocus(used);
  const left: LeftOut[] = [];
  // One at a time: each that goes changes what the others are off by.
  while (found && used.length > LEAST_FOR_ENOUGH) {
    const scatter = Math.max(1, medianOf(found.off.map(Math.abs)) * 1.4826);
    const [worst, offBy] = found.off.reduce<[number, number]>(
      (most, off, at) => (Math.abs(off) > most[1] ? [at, Math.abs(off)] : most),
      [0, 0]
    );
    if (offBy / scatter <= OUTLIER) break;
    const without = used.toSpliced(worst, 1);
    const again = new Set(without.map(({ position }) => position)).size >= 3 ? fitFocus(without) : undefined;
    // What goes has to be the one that does not belong: the others fit much better without it.
    if (!again || again.reduced > found.reduced * 0.6) break;
    left.push({ index: used[worst]!.index, why: 'an outlier: saturated, blended, or blurred by a gust' });
    [used, found] = [without, again];
  }
  return { used, found, left };
}

/** Why points make no curve yet; undefined where they may. */
function tooFew(comparable: readonly Indexed[], used: readonly Measured[]): string | undefined {
  if (comparable.length === 0) return 'There are no points.';
  if (new Set(comparable.map(({ position }) => position)).size === 1) {
    return 'All points are at one position: move the focuser.';
  }
  const places = new Set(used.map(({ position }) => position)).size;
  return used.length < LEAST_POINTS || places < 3
    ? `${used.length} comparable ${used.length === 1 ? 'point is' : 'points are'} too few for a curve: it takes ${LEAST_POINTS} at three positions.`
    : undefined;
}

/**
 * Reads a focus run: points of one star, come to on one way, with outliers left out, on a hyperbola by weighted least
 * squares; its minimum with a standard uncertainty (±2 u hold 95 of 100), and where to look next (handbook §10). A best
 * position is told only between two ends that stand clearly above it.
 *
 * @param backlash steps that are lost after a reversal; points within it are not comparable
 * @param maxPosition the focuser stops there; its other stop is 0
 */
export function readFocusRun(points: readonly FocusPoint[], backlash = 0, maxPosition?: number): FocusAnswer {
  const stops: Stops = maxPosition === undefined ? { low: -Infinity, high: Infinity } : { low: 0, high: maxPosition };
  const { comparable, left: incomparable, direction } = comparableOf(points, backlash, stops);
  const measured = comparable.filter(isMeasured);
  const step = comparable.length >= MOST_FRAMES ? { why: GIVEN_UP } : searchStep(comparable, stops);
  const told = (used: readonly Indexed[], outliers: readonly LeftOut[]) => ({
    used: used.map(({ index }) => index),
    left: [...incomparable, ...outliers].sort((a, b) => a.index - b.index)
  });
  const nothing = (why: string, by = told(measured, []), goesOn = true, telling?: number): FocusAnswer => ({
    bestPosition: null,
    standard: null,
    minHfrPx: null,
    ...by,
    nextPosition: goesOn && step && 'position' in step ? (telling ?? step.position) : null,
    enough: false,
    why: goesOn && step && 'why' in step ? step.why : why,
    direction,
    curve: null
  });
  const few = tooFew(comparable, measured);
  if (few !== undefined) return nothing(few);
  const whole = fitFocus(measured);
  // One hyperbola that nearly fits is not two.
  if (!(whole && whole.scatter < TWO_MINIMA_SCATTER) && hasTwoMinima(measured)) {
    return nothing(
      'Stars are smallest at two positions: two stars, or a focuser that slipped. Go through once more, one way, one star.',
      told(measured, []),
      false
    );
  }
  const { used, found, left: outliers } = fitWithoutOutliers(measured);
  const by = told(used, outliers);
  if (!found) return nothing('Stars only get smaller in one direction: the best position is not in this run.', by);
  const { x0, a, c, standard, scatter } = found;
  const bracket = bracketOf(comparable);
  const there = placesOf(used);
  const isClear = (side: readonly Place[]): boolean =>
    side.some(({ hfrPx, standardPx }) => hfrPx - a > Math.max(CLEAR_SHARE * a, CLEAR_SIGMAS * scatter * standardPx));
  const ends = [there.filter(({ position }) => position < x0), there.filter(({ position }) => position > x0)] as const;
  const isBracketed = x0 + 3 * standard > bracket.low && x0 - 3 * standard < bracket.high;
  if (ends[0].length === 0 || ends[1].length === 0 || !isBracketed) {
    return nothing('The best position is outside the range covered: continue that way.', by);
  }
  const clear = [isClear(ends[0]), isClear(ends[1])] as const;
  if (!clear[0] || !clear[1]) {
    return nothing(
      'The star must grow clearly on both sides of the smallest: continue until it has.',
      by,
      true,
      mostTelling(used, found, stops, clear)
    );
  }
  const onSide = (side: -1 | 1): number => used.filter(({ position }) => side * (position - x0) > 0).length;
  const growth = a > 0 ? Math.hypot(a, c * 2 * standard) / a - 1 : Infinity;
  const isEven = Math.min(onSide(-1), onSide(1)) >= LEAST_SIDE;
  const enough = growth <= ENOUGH_GROWTH && isEven && used.length >= LEAST_FOR_ENOUGH;
  const isSpent = !enough && used.length >= MOST_FRAMES;
  return {
    bestPosition: x0,
    standard,
    minHfrPx: a,
    ...by,
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
