import { readFitsKeywords } from './fits/read.ts';
import { FrameError, type Bytes } from './frame.ts';

/** How a solved frame lies on the sky. */
export interface PlateScale {
  /** Seconds of arc a pixel of the sensor, its binning taken out; geometric mean of both axes. */
  arcsecPerPx: number;
  /** Position angle of the frame's +y, degrees from north through east. */
  angleDeg: number;
  /** East lies to the right: the frame is mirrored. */
  mirrored: boolean;
  /** The header has distortion terms, which are left out. */
  hasDistortion: boolean;
}

export type WcsReading = { ok: true; scale: PlateScale } | { ok: false; message: string };

const refused = (message: string): WcsReading => ({ ok: false, message });

type Values = ReadonlyMap<string, string | number | boolean>;

/** Keywords that say by how much a frame was binned (common practice of capture programs, no source). */
const BINNED_BY = ['XBINNING', 'CCDXBIN', 'BINX', 'XBIN'];
const MOST_BINNED = 16;

/** Pixels of the sensor along a side of one of the frame; undefined where the header says nothing, or two things. */
export function binningOf(values: Values): number | undefined {
  const said = BINNED_BY.map((key) => values.get(key)).filter(
    (value): value is number =>
      typeof value === 'number' && Number.isInteger(value) && value >= 1 && value <= MOST_BINNED
  );
  return new Set(said).size === 1 ? said[0] : undefined;
}

/** Whether a header says of the binning what cannot be true at once. */
const contradictsBinning = (values: Values): boolean =>
  new Set(BINNED_BY.map((key) => values.get(key)).filter((value) => typeof value === 'number')).size > 1;

const DEGREES = 180 / Math.PI;

/** The linear part of the projection, degrees a pixel: from CD, else PC and CDELT, else CDELT and CROTA2. */
function matrixOf(numbers: Values): [number, number, number, number] | undefined {
  const of = (key: string): number | undefined => {
    const value = numbers.get(key);
    return typeof value === 'number' && Number.isFinite(value) ? value : undefined;
  };
  const cd = ['CD1_1', 'CD1_2', 'CD2_1', 'CD2_2'];
  if (cd.some((key) => of(key) !== undefined)) return cd.map((key) => of(key) ?? 0) as [number, number, number, number];
  const [x, y] = [of('CDELT1'), of('CDELT2')];
  if (x === undefined || y === undefined) return undefined;
  if (['PC1_1', 'PC1_2', 'PC2_1', 'PC2_2'].some((key) => of(key) !== undefined)) {
    return [x * (of('PC1_1') ?? 1), x * (of('PC1_2') ?? 0), y * (of('PC2_1') ?? 0), y * (of('PC2_2') ?? 1)];
  }
  const angle = (of('CROTA2') ?? 0) / DEGREES;
  return [x * Math.cos(angle), -y * Math.sin(angle), x * Math.sin(angle), y * Math.cos(angle)];
}

/**
 * Scale of a plate-solved frame, from the header of the image its file holds, however that is packed.
 *
 * @param bytes the file, of which no more is read than its headers
 */
export async function readPlateScale(bytes: Bytes): Promise<WcsReading> {
  try {
    return plateScaleOf(await readFitsKeywords(bytes));
  } catch (error) {
    if (error instanceof FrameError) return refused(error.message);
    throw error;
  }
}

/**
 * Scale of a plate-solved frame by the numbers of its header (Calabretta & Greisen 2002, from
 * memory). Distortion (SIP) is left out, and said to be there: at the middle of the frame it does not matter.
 */
export function plateScaleOf(values: Values): WcsReading {
  const matrix = matrixOf(values);
  if (!matrix) return refused('The header has no world coordinates: solve the frame first.');
  const [a, b, c, d] = matrix;
  const determinant = a * d - b * c;
  const size = Math.max(...matrix.map(Math.abs));
  if (!(Math.abs(determinant) > 1e-12 * size * size)) {
    return refused('The world coordinates of the header make no plane: their matrix cannot be inverted.');
  }
  if (contradictsBinning(values)) {
    return refused('The header states the binning twice, with two values: the pixel scale is not known.');
  }
  return {
    ok: true,
    scale: {
      arcsecPerPx: (Math.sqrt(Math.abs(determinant)) * 3600) / (binningOf(values) ?? 1),
      angleDeg: Math.atan2(b, d) * DEGREES,
      mirrored: determinant > 0,
      hasDistortion: values.has('A_ORDER') || values.has('B_ORDER')
    }
  };
}
