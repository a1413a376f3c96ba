import { gathered, isMeasured, placesOf, standardOf, type FocusPoint, type Measured, type Place } from './point.ts';
import { covarianceOf } from './fit.ts';
import { hyperbola, type FocusFit } from './curve.ts';

/** Where the focuser can go. */
export interface Stops {
  low: number;
  high: number;
}

/** Between which positions focus lies, as far as frames tell it: infinite where one side is open. */
export interface Bracket {
  low: number;
  high: number;
}

/** What a frame says of the star’s size, largest last: a bound where it could not be measured. */
interface Level {
  position: number;
  hfrPx: number;
  standardPx: number;
  isBound: boolean;
}

/** A star that was not seen is larger than any that was. */
const UNSEEN_PX = 1e6;

function levelsOf(points: readonly FocusPoint[]): Level[] {
  const measured = gathered(points.filter(isMeasured)).map((place) => ({ ...place, isBound: false }));
  const bounds = points.flatMap((point): Level[] => {
    if (isMeasured(point)) return [];
    if (point.hfrPx !== undefined) {
      const standardPx = standardOf({ ...point, hfrPx: point.hfrPx });
      return [{ position: point.position, hfrPx: point.hfrPx, standardPx, isBound: true }];
    }
    return point.seen === 'nothing'
      ? [{ position: point.position, hfrPx: UNSEEN_PX, standardPx: 0, isBound: true }]
      : [];
  });
  return [...measured, ...bounds].sort((a, b) => a.position - b.position);
}

/** One position whose star is larger than that of another; a bound says so of whatever could be measured. */
interface Larger {
  at: number;
  than: number;
  isBound: boolean;
}

/** What frames say of each other beyond so many standard deviations, and what an eye says. */
function comparisons(points: readonly FocusPoint[], sigmas: number): Larger[] {
  const levels = levelsOf(points);
  const pairs = levels.flatMap((one) =>
    levels.flatMap((other): Larger[] => {
      const isBound = one.isBound && sigmas < CLEARLY;
      const noise = isBound ? 0 : sigmas * Math.hypot(one.standardPx, other.standardPx);
      return !other.isBound && one.position !== other.position && one.hfrPx - other.hfrPx > noise
        ? [{ at: one.position, than: other.position, isBound }]
        : [];
    })
  );
  const eyes = points.flatMap(({ position, seen }, index): Larger[] => {
    const last = points[index - 1]?.position;
    if (last === undefined || last === position) return [];
    if (seen === 'larger') return [{ at: position, than: last, isBound: false }];
    return seen === 'smaller' ? [{ at: last, than: position, isBound: false }] : [];
  });
  return [...pairs, ...eyes];
}

/** A difference beyond so many standard deviations is beyond doubt. */
const CLEARLY = 3;
/** One beyond so many shows the way, once another is beyond doubt. */
const HARDLY = 1;

/**
 * Where focus lies by which stars are larger: a star grows alike on both sides of focus, so that of two the nearer to it
 * is the smaller, and focus lies on that side of the middle between them.
 */
export function bracketOf(points: readonly FocusPoint[]): Bracket {
  let [low, high] = [-Infinity, Infinity];
  for (const { at, than } of comparisons(points, CLEARLY)) {
    const middle = (at + than) / 2;
    if (at < than) low = Math.max(low, middle);
    else high = Math.min(high, middle);
  }
  // What contradicts itself, a star that jumped or a clutch that slipped, bounds nothing.
  return low < high ? { low, high } : { low: -Infinity, high: Infinity };
}

/** Bounds that hold only if frames are right that hardly differ: no surer than the way to go. */
function likelyBracket(points: readonly FocusPoint[], sure: Bracket): Bracket {
  let { low, high } = sure;
  // Far from focus neighbours differ by noise alone.
  const isTold = Number.isFinite(sure.low) || Number.isFinite(sure.high);
  for (const { at, than, isBound } of comparisons(points, HARDLY)) {
    if (!isTold && !isBound) continue;
    // Not the middle: only beyond what is larger.
    if (at < than && at < high) low = Math.max(low, at);
    else if (at > than && at > low) high = Math.min(high, at);
  }
  return low < high ? { low, high } : sure;
}

/** Nearer than this share of a bracket to what was tried, another frame tells nothing new. */
const APART = 0.12;

/** Into the middle of the widest untried part of a stretch. */
function widest(low: number, high: number, tried: readonly number[]): number {
  const marks = [low, ...tried.filter((at) => at > low && at < high).toSorted((a, b) => a - b), high];
  let best = { from: low, width: 0 };
  for (let at = 1; at < marks.length; at++) {
    const width = marks[at]! - marks[at - 1]!;
    if (width > best.width) best = { from: marks[at - 1]!, width };
  }
  return best.from + best.width / 2;
}

/** Where the squares of three radii have their least: they lie on a parabola (handbook §10). */
function vertexOfSquares([p, q, r]: readonly [Place, Place, Place]): number | undefined {
  const [y0, y1, y2] = [p.hfrPx ** 2, q.hfrPx ** 2, r.hfrPx ** 2];
  const [u, v] = [p.position - q.position, r.position - q.position];
  const curvature = ((y0 - y1) / u - (y2 - y1) / v) / (u - v);
  if (!(curvature > 0)) return undefined;
  return q.position - ((y0 - y1) / u - curvature * u) / (2 * curvature);
}

/** A place within a bracket that is closed on both sides. */
function within({ low, high }: Bracket, places: readonly Place[], tried: readonly number[]): number {
  const [one, ...others] = places.toSorted((a, b) => a.hfrPx - b.hfrPx);
  const left =
    one && others.filter(({ position }) => position < one.position).toSorted((a, b) => b.position - a.position)[0];
  const right =
    one && others.filter(({ position }) => position > one.position).toSorted((a, b) => a.position - b.position)[0];
  const vertex = footOfV(places) ?? (one && left && right ? vertexOfSquares([left, one, right]) : undefined);
  const wanted = vertex !== undefined && vertex > low && vertex < high ? vertex : (low + high) / 2;
  const isTold = tried.some((at) => Math.abs(at - wanted) < APART * (high - low));
  return isTold ? widest(low, high, tried) : wanted;
}

/** A star out of the window is looked for in steps of so large a share of the travel. */
const SHARE_OF_TRAVEL = 0.12;
const FIRST_STEP = 200;
/** A star has to shrink by this share before its slope tells how far focus is. */
const TELLING = 0.1;
/** At most so many times what was walked over, at once. */
const FARTHEST = 3;

/** A V through so many places leaves something to judge it by. */
const LEAST_FOR_V = 3;
const V_PLACES = 240;
/** Σ of squared deviations a place, up to which a V goes with what was measured. */
const V_FITS = 4;

/**
 * Where the two asymptotes meet that go through stars far from focus, on whichever side each of them stands: HFR = c |x − x₀|.
 *
 * @returns undefined where they lie on no such V
 */
function footOfV(places: readonly Place[]): number | undefined {
  if (places.length < LEAST_FOR_V) return undefined;
  const [low, high] = [places[0]!.position, places.at(-1)!.position];
  const from = low - (high - low);
  const step = (3 * (high - low)) / V_PLACES;
  let best: { x0: number; square: number } | undefined;
  for (let at = 0; at <= V_PLACES; at++) {
    const x0 = from + at * step;
    // c of least squares, every place in its own deviation.
    const parts = places.map(({ position, hfrPx, standardPx }) => ({
      d: Math.abs(position - x0) / standardPx,
      y: hfrPx / standardPx
    }));
    const c = parts.reduce((sum, { d, y }) => sum + d * y, 0) / parts.reduce((sum, { d }) => sum + d * d, 0);
    const square = parts.reduce((sum, { d, y }) => sum + (y - c * d) ** 2, 0);
    if (!best || square < best.square) best = { x0, square };
  }
  return best && best.square <= V_FITS * places.length ? best.x0 : undefined;
}

/** On the way to one side, while that side is open. */
function onwards(side: 1 | -1, places: readonly Place[], tried: readonly number[], stops: Stops): number {
  const end = side > 0 ? Math.max(...tried) : Math.min(...tried);
  const walked = Math.max(...tried) - Math.min(...tried);
  const travel = stops.high - stops.low;
  const usual = Number.isFinite(travel) ? SHARE_OF_TRAVEL * travel : FIRST_STEP;
  const ahead = places.toSorted((a, b) => side * (b.position - a.position));
  const foot = footOfV(places);
  const start = side > 0 ? Math.min(...tried) : Math.max(...tried);
  const isNew = tried.every((at) => Math.abs(at - (foot ?? at)) > APART * walked);
  if (foot !== undefined && side * (foot - start) > 0 && isNew) return foot;
  const [near, far] = [ahead[0], ahead.find(({ hfrPx }) => ahead[0] && hfrPx > (1 + TELLING) * ahead[0].hfrPx)];
  if (near && far) {
    const slope = (far.hfrPx - near.hfrPx) / Math.abs(near.position - far.position);
    // The asymptotes of both sides meet at focus; a star that is small already is past the slope.
    const way = Math.min(near.hfrPx / slope, FARTHEST * Math.max(walked, usual / 4));
    return near.position + side * way;
  }
  // Alike: twice as far as was walked; while nothing can be compared, by even steps.
  return (
    end +
    side *
      (places.length > 1 ? Math.max(2 * walked, usual / 4) : Number.isFinite(travel) ? usual : Math.max(usual, walked))
  );
}

/** Where to look next, or why there is nowhere left. */
export type Step = { position: number } | { why: string };

const round = (position: number, points: readonly FocusPoint[]): number =>
  points.every((point) => Number.isInteger(point.position)) ? Math.round(position) : Number(position.toFixed(3));

/**
 * Where the next frame is taken while there is no best position yet: inside a bracket once there is one, else on the way
 * on which stars get smaller; never beyond an end stop.
 */
export function searchStep(points: readonly FocusPoint[], stops: Stops): Step | undefined {
  if (points.length === 0) return undefined;
  const tried = points.map(({ position }) => position);
  const sure = bracketOf(points);
  const likely = likelyBracket(points, sure);
  const low = Math.max(likely.low, stops.low);
  const high = Math.min(likely.high, stops.high);
  const places = placesOf(points.filter(isMeasured));
  if (Number.isFinite(likely.low) && Number.isFinite(likely.high)) {
    return { position: round(within({ low, high }, places, tried), points) };
  }
  // While nothing differs the way goes on as it began.
  const last = tried.at(-1)!;
  const began = tried.length > 1 ? Math.sign(last - tried.at(-2)!) : 1;
  const side = Number.isFinite(likely.low) ? 1 : Number.isFinite(likely.high) ? -1 : began < 0 ? -1 : 1;
  const wanted = onwards(side, places, tried, stops);
  if (wanted >= stops.low && wanted <= stops.high) return { position: round(wanted, points) };
  const stop = side > 0 ? stops.high : stops.low;
  const isAt = (position: number): boolean =>
    tried.some((at) => Math.abs(at - position) < 1e-6 * Math.max(1, Math.abs(position)));
  if (!isAt(stop)) return { position: round(stop, points) };
  // Between the stop and what bounds focus from the other side there may still be room.
  const beside = side > 0 ? Math.max(likely.low, sure.low) : Math.min(likely.high, sure.high);
  const nearest = tried.filter((at) => at !== stop).reduce((a, b) => (Math.abs(b - stop) < Math.abs(a - stop) ? b : a));
  const bound = Number.isFinite(beside) && Math.abs(beside - stop) < Math.abs(nearest - stop) ? beside : nearest;
  if (Math.abs(bound - stop) > AT_STOP * (stops.high - stops.low))
    return { position: round((stop + bound) / 2, points) };
  return {
    why:
      side > 0
        ? 'Stars still shrink at the end of the travel: focus is farther out. Add an extension tube.'
        : 'Focus is farther in than fully in: stars only grow on the way out. The train ahead of the camera is too long, or this is another star.'
  };
}

/** Nearer to a stop than this share of the travel there is no room for a best position. */
const AT_STOP = 0.02;
/** Places for the next frame that are looked at. */
const CANDIDATES = 25;
/** So much larger than the least the curve foretells, no star was seen at its smallest. */
const UNLIKE_LEAST = 1.4;
/** Where a star is so many times as large as at its best, a frame tells the slope of a side; nearer it tells little. */
const SIDE_GROWTH = 3;

/**
 * The position where one more frame would tell most of the best position: a place that was not tried, between the ends of
 * what was walked over, or beyond them on a side where no star was larger yet.
 *
 * @param clear whether stars on the inner and on the outer side stand clearly above the least
 */
export function mostTelling(
  points: readonly Measured[],
  { x0, a, c }: FocusFit,
  stops: Stops,
  clear: readonly [boolean, boolean] = [true, true]
): number {
  const places = placesOf(points);
  const x = points.map(({ position }) => position);
  const [low, high] = [places[0]!.position, places.at(-1)!.position];
  const reach = (Math.sqrt(SIDE_GROWTH ** 2 - 1) * a) / c;
  const sides = ([-1, 1] as const).map((side) => places.filter(({ position }) => side * (position - x0) > 0).length);
  const open = (side: 0 | 1): boolean => sides[side]! < 2 || !clear[side];
  const from = Math.max(stops.low, open(0) ? Math.min(low, x0 - reach) : low);
  const to = Math.min(stops.high, open(1) ? Math.max(high, x0 + reach) : high);
  const standard = points.map(standardOf);
  const share = standard.reduce((sum, each, at) => sum + each / points[at]!.hfrPx, 0) / points.length;
  const after = (at: number): number => {
    const hfr = hyperbola.at([x0, a, c], at);
    const covariance = covarianceOf(
      [...x, at],
      [...standard, share * hfr],
      hyperbola,
      [x0, a, c],
      [high - low || 1, a, c]
    );
    return covariance?.[0]?.[0] ?? Infinity;
  };
  const [near, far] = [Math.max(from, x0 - 2 * reach), Math.min(to, x0 + 2 * reach)];
  const apart = Math.min(reach, far - near) / CANDIDATES;
  // A side with a single place first: without it nothing holds.
  const lacking = open(0) && !open(1) ? 0 : open(1) && !open(0) ? 1 : undefined;
  // How small stars get is seen only at the best itself; until then nothing says what is near it.
  if (lacking === undefined && places.every(({ hfrPx }) => hfrPx > UNLIKE_LEAST * a) && x0 > from && x0 < to) {
    return round(x0, points);
  }
  const all = Array.from({ length: CANDIDATES }, (_, at) => near + ((far - near) * at) / (CANDIDATES - 1));
  const untried = all.filter((at) => places.every(({ position }) => Math.abs(position - at) > apart));
  const sided = untried.filter((at) => lacking === undefined || (lacking === 0 ? at < x0 : at > x0));
  const candidates = sided.length > 0 ? sided : untried.length > 0 ? untried : all;
  const best = candidates.reduce(
    (found, at) => {
      const variance = after(at);
      return variance < found.variance ? { at, variance } : found;
    },
    { at: x0, variance: Infinity }
  );
  return round(best.at, points);
}
