import { isMeasured, type FocusPoint } from './point.ts';
import type { Stops } from './search.ts';

/** Way a position is come to. */
export type Way = 'out' | 'in';

/** A point of a run, and its place in it. */
export interface Indexed extends FocusPoint {
  index: number;
}

/** A point that does not count, and why. */
export interface LeftOut {
  index: number;
  why: string;
}

/** Way each point was come to: as it says, else by where the one before stood. */
export function withDirections(points: readonly FocusPoint[]): (Indexed & { way: Way | undefined })[] {
  let way: Way | undefined;
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

/** Parts of points that can be told from the others: those for which a test holds; the others are left out. */
function sifted<Point extends Indexed>(
  points: readonly Point[],
  why: (point: Point) => string | undefined
): { kept: Point[]; left: LeftOut[] } {
  const kept: Point[] = [];
  const left: LeftOut[] = [];
  for (const point of points) {
    const reason = why(point);
    if (reason === undefined) kept.push(point);
    else left.push({ index: point.index, why: reason });
  }
  return { kept, left };
}

/** Why a point shows the way at most, but has no place on a curve; undefined where it has one. */
function offTheCurve(point: FocusPoint): string | undefined {
  if (isMeasured(point)) return undefined;
  if (point.hfrPx !== undefined || point.seen === 'nothing') {
    return 'larger than can be measured: focus is not there';
  }
  return point.seen === undefined ? 'no star size' : 'seen by eye: it shows the way, but has no place on the curve';
}

/**
 * Points of a run that can be compared: of one star, between the end stops, come to on one way, and out of the backlash
 * after a reversal. What is larger than can be measured, or was only seen, is among them, and is told of as well.
 *
 * @param backlash steps that are lost after a reversal
 * @returns the way most of them were come to; null where none moved
 */
export function comparableOf(
  points: readonly FocusPoint[],
  backlash: number,
  stops: Stops
): { comparable: Indexed[]; left: LeftOut[]; direction: Way | null } {
  const { kept: all, left: beyond } = sifted(withDirections(points), ({ position }) =>
    position < stops.low || position > stops.high
      ? `beyond the end stop at ${position < stops.low ? stops.low : stops.high}`
      : undefined
  );
  const star = largest(all.filter(({ hfrPx }) => hfrPx !== undefined).map((point) => point.star));
  const { kept: ofStar, left: ofOthers } = sifted(all, (point) => {
    // Whoever says “larger” means the star of the frame before.
    if (point.star === star || (point.hfrPx === undefined && point.star === undefined)) return undefined;
    return star === undefined
      ? `another star: ${point.star ?? ''}`
      : `not ${star}: stars are not compared with each other`;
  });
  // The first point of a run has no way yet: it goes with the next.
  const firstWay = ofStar.find(({ way }) => way !== undefined)?.way;
  let turnAt: number | undefined;
  let before: (typeof ofStar)[number] | undefined;
  const { kept: turned, left: inBacklash } = sifted(
    ofStar.map((point) => ({ ...point, way: point.way ?? firstWay })),
    (point) => {
      if (before && point.way !== before.way) turnAt = before.position;
      before = point;
      return turnAt !== undefined && backlash > 0 && Math.abs(point.position - turnAt) <= backlash
        ? 'within the backlash after a reversal'
        : undefined;
    }
  );
  const direction = largest(turned.map(({ way }) => way)) ?? null;
  const { kept: oneWay, left: otherWay } = sifted(turned, ({ way }) =>
    (way ?? null) === direction
      ? undefined
      : `approached from the other side; the others were approached on the way ${direction ?? ''}`
  );
  const comparable = withCeilings(oneWay);
  const { left: unplaced } = sifted(comparable, offTheCurve);
  return { comparable, left: [...beyond, ...ofOthers, ...inBacklash, ...otherWay, ...unplaced], direction };
}
