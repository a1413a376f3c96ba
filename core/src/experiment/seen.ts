import { RAD } from '../stats/angles.ts';
import type { FrameHeader, FrameSummary } from '../frame/summary.ts';
import type { Star } from '../frame/stars/index.ts';
import { medianOf } from '../stats/median.ts';
import { LEAST_IN_CORNER, byCorner, fieldPlace, isTelling, type FieldShape } from '../frame/place.ts';
import { binningOf, plateScaleOf, type PlateScale } from '../frame/solved.ts';
import type { CornerStar, TriedSpacing } from '../train/model.ts';

/** Camera and binning a frame was taken with, as far as its file says. */
export interface TakenWith {
  camera?: string;
  binning?: number;
}

const numberIn = (header: FrameHeader | undefined, key: string): number | undefined => {
  const value = header?.[key];
  return typeof value === 'number' && Number.isFinite(value) ? value : undefined;
};

export function takenWith({ header }: Pick<FrameSummary, 'header'>): TakenWith {
  const camera = header?.['INSTRUME'];
  const binning = binningOf(new Map(Object.entries(header ?? {})));
  return {
    ...(typeof camera === 'string' && camera !== '' ? { camera } : {}),
    ...(binning === undefined ? {} : { binning })
  };
}

/**
 * Why a frame does not belong to a series, since it was taken with another camera or binning: what a pixel shows of a
 * star is not the same then. What is not said is not held against it.
 */
export function strangerIn(series: readonly TakenWith[], { camera, binning }: TakenWith): string | undefined {
  const other = series.find((each) => each.camera !== undefined && camera !== undefined && each.camera !== camera);
  if (other) return `It was taken with “${camera}”, the others with “${other.camera}”: they cannot be compared.`;
  const binned = series.find((each) => each.binning !== undefined && binning !== undefined && each.binning !== binning);
  if (binned)
    return `It is binned ${binning} × ${binning}, the others ${binned.binning} × ${binned.binning}: they cannot be compared.`;
  return undefined;
}

const LARGEST_POSITION = 1e7;

/** Where the focuser stood, in its own steps: from the header, else from the file’s name. */
export function focuserAt({ header }: Pick<FrameSummary, 'header'>, name: string): number | undefined {
  const told = ['FOCUSPOS', 'FOCPOS', 'FOCUSER'].map((key) => numberIn(header, key)).find((each) => each !== undefined);
  const named = /(?:focus(?:er)?|pos(?:ition)?)[ _=]*(-?\d{1,7}(?:\.\d+)?)/i.exec(name)?.[1];
  const at = told ?? (named === undefined ? undefined : Number(named));
  return at !== undefined && Math.abs(at) <= LARGEST_POSITION ? at : undefined;
}

/** Scale and lie on the sky of a frame that was solved, seconds of arc a pixel of the sensor; undefined where it was not. */
export function solvedScale({ header }: Pick<FrameSummary, 'header'>): PlateScale | undefined {
  const reading = plateScaleOf(new Map(Object.entries(header ?? {})));
  return reading.ok ? reading.scale : undefined;
}

/** The usual star of a part of the field: median size, mean stretch. */
function usual(stars: readonly Star[]): CornerStar {
  if (stars.length < LEAST_IN_CORNER) return null;
  const mean = (of: (star: Star) => number): number => stars.reduce((sum, star) => sum + of(star), 0) / stars.length;
  const e1 = mean(({ ellipticity, angleDeg }) => ellipticity * Math.cos(2 * angleDeg * RAD));
  const e2 = mean(({ ellipticity, angleDeg }) => ellipticity * Math.sin(2 * angleDeg * RAD));
  const rounded = (value: number, digits: number): number => Number(value.toFixed(digits));
  return {
    fwhmPx: rounded(Math.min(1000, medianOf(stars.map(({ fwhmPx }) => fwhmPx))), 2),
    ellipticity: rounded(Math.min(1, Math.hypot(e1, e2)), 3),
    angleDeg: rounded(Math.atan2(e2, e1) / 2 / RAD, 1)
  };
}

/** The usual star of each corner of a frame: top left, top right, bottom left, bottom right. */
export function cornerStars({
  stars,
  ...shape
}: FieldShape & { stars: readonly Star[] }): NonNullable<TriedSpacing['corners']> {
  const placed = stars.filter(isTelling).map((star) => ({ star, ...fieldPlace(star, shape) }));
  const [topLeft, topRight, bottomLeft, bottomRight] = byCorner(placed, shape);
  const of = (there: typeof placed): CornerStar => usual(there.map(({ star }) => star));
  return [of(topLeft), of(topRight), of(bottomLeft), of(bottomRight)];
}
