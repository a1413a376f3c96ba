import { RAD } from '../stats/angles.ts';
import { medianOf } from '../stats/median.ts';
import { fieldPlace, isTelling, stretchVector } from './place.ts';
import type { Star } from './stars/index.ts';
import type { FrameSummary } from './summary.ts';

/** A place of the field, and what its stars show together. */
export interface Zone {
  /** Its middle from the top left corner of the picture, px. */
  x: number;
  y: number;
  count: number;
  /** Mean stretch of its stars, its direction with y upward, and the standard deviation of that mean along one axis. */
  ellipticity: number;
  angleDeg: number;
  standard: number;
  /** Stretch stands above what chance does to any of the zones. */
  isStretched: boolean;
  /** Of what is stretched: along the radius, or round the middle. */
  isOutward: boolean;
  fwhmPx: number;
  /** Size over the usual of the field, and its standard deviation. */
  size: number;
  sizeStandard: number;
  /** Size differs from the usual by more than chance does to any of the zones. */
  isSizeApart: boolean;
}

/** Zones along the longer side. */
const ALONG = 7;
const LEAST_STARS = 4;
/** Chance that a field without any fault shows one zone that stands out. */
const BY_CHANCE = 0.05;
/** Stars that a blend or a defect made lie so many deviations from the median of their zone, or more. */
const OUTLYING = 4;

/** A star with its stretch, without what is taken away. */
interface Placed {
  star: Star;
  e1: number;
  e2: number;
}

const meanOf = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

/**
 * Means zone by zone without what lies far from the median, and the standard deviation of single stars, over all zones:
 * a dozen stars alone do not tell it. 1.4826 makes a deviation of a median of normal values.
 */
function meansOf(zones: readonly (readonly number[])[]): { means: number[]; deviation: number } {
  const middles = zones.map(medianOf);
  const rough = 1.4826 * medianOf(zones.flatMap((values, at) => values.map((value) => Math.abs(value - middles[at]!))));
  const near = zones.map((values, at) => values.filter((value) => Math.abs(value - middles[at]!) <= OUTLYING * rough));
  const means = near.map(meanOf);
  const squares = near.flatMap((values, at) => values.map((value) => (value - means[at]!) ** 2));
  // A zone of n stars leaves n − 1 of them free.
  const free = Math.max(1, squares.length - zones.length);
  return { means, deviation: Math.sqrt(squares.reduce((sum, square) => sum + square, 0) / free) };
}

/**
 * What stars show zone by zone, and whether chance does as much. Means of directions that turn twice: the noise of single
 * stars, which makes each look stretched some way, goes.
 *
 * @param without what all stars have in common is taken away
 * @returns zones with stars enough, row by row from the top left
 */
export function zonesOf(summary: FrameSummary, without = false): Zone[] {
  const { widthPx, heightPx, stars, field } = summary;
  const longer = Math.max(widthPx, heightPx);
  const [columns, rows] = [widthPx, heightPx].map((side) => Math.max(3, Math.round((ALONG * side) / longer))) as [
    number,
    number
  ];
  const [c1, c2] = stretchVector(without ? field.tracking : null);
  const half = Math.hypot(widthPx, heightPx) / 2;
  const cells = Array.from({ length: columns * rows }, (): Placed[] => []);
  for (const star of stars) {
    if (!isTelling(star)) continue;
    const place = fieldPlace(star, summary);
    const column = Math.floor(((place.x * half) / widthPx + 0.5) * columns);
    const row = Math.floor((0.5 - (place.y * half) / heightPx) * rows);
    const cell = cells[Math.min(rows - 1, Math.max(0, row)) * columns + Math.min(columns - 1, Math.max(0, column))]!;
    const [e1, e2] = stretchVector(star);
    cell.push({ star, e1: e1 - c1, e2: e2 - c2 });
  }
  const filled = cells.map((inZone, at) => ({ inZone, at })).filter(({ inZone }) => inZone.length >= LEAST_STARS);
  if (filled.length === 0) return [];

  const along1 = meansOf(filled.map(({ inZone }) => inZone.map(({ e1 }) => e1)));
  const along2 = meansOf(filled.map(({ inZone }) => inZone.map(({ e2 }) => e2)));
  const logs = meansOf(filled.map(({ inZone }) => inZone.map(({ star }) => Math.log(star.fwhmPx))));
  const shape = Math.hypot(along1.deviation, along2.deviation) / Math.SQRT2;
  const spread = logs.deviation;
  const usual = medianOf(logs.means);
  // The length of a vector of two normal parts is Rayleigh's; a normal part alone lies beyond less often.
  const far = Math.sqrt(2 * Math.log(filled.length / BY_CHANCE));

  return filled.map(({ inZone, at }, index): Zone => {
    const [e1, e2, log] = [along1.means[index]!, along2.means[index]!, logs.means[index]!];
    const ellipticity = Math.hypot(e1, e2);
    const root = Math.sqrt(inZone.length);
    const size = Math.exp(log - usual);
    const [column, row] = [at % columns, Math.floor(at / columns)];
    const [x, y] = [((column + 0.5) * widthPx) / columns, ((row + 0.5) * heightPx) / rows];
    const [fromMiddle, up] = [x - widthPx / 2, heightPx / 2 - y];
    return {
      x,
      y,
      count: inZone.length,
      ellipticity,
      angleDeg: Math.atan2(e2, e1) / 2 / RAD,
      standard: shape / root,
      isStretched: ellipticity > far * (shape / root),
      isOutward: e1 * (fromMiddle * fromMiddle - up * up) + e2 * 2 * fromMiddle * up >= 0,
      fwhmPx: Math.exp(log),
      size,
      sizeStandard: (size * spread) / root,
      isSizeApart: Math.abs(Math.log(size)) > (far * spread) / root
    };
  });
}
