import { RAD } from '../stats/angles.ts';

/** A field of view, degrees: along the sensor's width and its height. */
export type Field = readonly [widthDeg: number, heightDeg: number];

/** An angle of something that looks the same turned by half a turn, in (−90, 90], degrees. */
export const halfTurn = (deg: number): number => {
  const within = ((((deg + 90) % 180) + 180) % 180) - 90;
  return within <= -90 + 1e-9 ? within + 180 : within;
};

/** What of the sensor is laid along an object. */
export type Along = 'side' | 'diagonal';

/**
 * Position angle the top of the sensor has to have (north through east) so that its long side, or one of its
 * diagonals, lies along an object: the one that takes the smaller turn, degrees in (−90, 90].
 *
 * @param objectDeg position angle of the object's long axis, degrees
 * @param standsDeg position angle of the sensor's top now, degrees
 */
export function angleAlong(along: Along, objectDeg: number, [widthDeg, heightDeg]: Field, standsDeg = 0): number {
  const isWide = widthDeg >= heightDeg;
  // The right side of the sensor points a quarter turn back from its top: with north up, to the west.
  const side = objectDeg - (isWide ? 90 : 0);
  if (along === 'side') return halfTurn(side);
  const off = Math.atan(Math.min(widthDeg, heightDeg) / Math.max(widthDeg, heightDeg)) / RAD;
  const ways = [halfTurn(side + off), halfTurn(side - off)];
  const turn = (deg: number): number => Math.abs(halfTurn(deg - standsDeg));
  return turn(ways[0]!) <= turn(ways[1]!) ? ways[0]! : ways[1]!;
}

/** The smaller turn from one position angle to another of a sensor, in (−90, 90], degrees: anticlockwise is positive. */
export const turnBetween = (fromDeg: number, toDeg: number): number => halfTurn(toDeg - fromDeg);

/** What an object takes of the sky, turned: its box along and across the sensor, degrees. */
export function boxOf(majorDeg: number, minorDeg: number, objectDeg: number, topDeg: number): Field {
  // Angle of the long axis from the sensor's width.
  const angle = (objectDeg - topDeg + 90) * RAD;
  const [a, b] = [majorDeg / 2, minorDeg / 2];
  const reach = (cos: number, sin: number): number => 2 * Math.hypot(a * cos, b * sin);
  return [reach(Math.cos(angle), Math.sin(angle)), reach(Math.sin(angle), Math.cos(angle))];
}

/** A mosaic of equal panels. */
export interface Mosaic {
  columns: number;
  rows: number;
  /** What the panels cover together, degrees. */
  coversDeg: Field;
  /** Middles of the panels from the middle of the mosaic, degrees along the sensor's width and height. */
  centresDeg: readonly Field[];
  minutes: number;
}

/** More panels than this in a row nobody takes. */
const MOST_PANELS = 20;

/**
 * Panels side by side.
 *
 * @param overlap share of a panel that it has in common with its neighbour, 0 to 0.9
 * @param minutesPerPanel exposure of each, minutes
 */
export function mosaicOf(
  [widthDeg, heightDeg]: Field,
  columns: number,
  rows: number,
  overlap: number,
  minutesPerPanel: number
): Mosaic {
  const [stepX, stepY] = [widthDeg * (1 - overlap), heightDeg * (1 - overlap)];
  const centresDeg = Array.from({ length: rows * columns }, (_, at): Field => {
    const [column, row] = [at % columns, Math.floor(at / columns)];
    return [(column - (columns - 1) / 2) * stepX, (row - (rows - 1) / 2) * stepY];
  });
  return {
    columns,
    rows,
    coversDeg: [widthDeg + (columns - 1) * stepX, heightDeg + (rows - 1) * stepY],
    centresDeg,
    minutes: columns * rows * minutesPerPanel
  };
}

/** The fewest columns and rows that cover a box; as many as {@link MOST_PANELS} at the most. */
export function panelsFor(
  [boxWidth, boxHeight]: Field,
  [widthDeg, heightDeg]: Field,
  overlap: number
): [number, number] {
  const count = (box: number, one: number): number =>
    Math.min(MOST_PANELS, Math.max(1, Math.ceil((box - one) / (one * (1 - overlap)) - 1e-9) + 1));
  return [count(boxWidth, widthDeg), count(boxHeight, heightDeg)];
}
