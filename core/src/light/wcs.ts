/** How a solved frame lies on the sky. */
export interface PlateScale {
  /** Seconds of arc a pixel, geometric mean of both axes. */
  arcsecPerPx: number;
  /** Position angle of the frame's +y, degrees from north through east. */
  angleDeg: number;
  /** East lies to the right: the frame is mirrored. */
  mirrored: boolean;
  /** The header has distortion terms, which are left out. */
  hasDistortion: boolean;
}

export type WcsReading = { ok: true; scale: PlateScale } | { ok: false; message: string };

const CARD = 80;
const BLOCK = 2880;

/** Longest header that is read, bytes: forty times what a capture program writes. */
export const MAX_HEADER_BYTES = 100 * BLOCK;

const refused = (message: string): WcsReading => ({ ok: false, message });

/** Numbers of a primary FITS header by keyword (FITS 4.0, §4, from memory); strings and comments are passed over. */
function numbersOf(bytes: Uint8Array): Map<string, number> | string {
  const text = (from: number, to: number): string => String.fromCharCode(...bytes.subarray(from, to));
  if (bytes.length < CARD || !/^SIMPLE {2}= /.test(text(0, 10)))
    return 'This is no FITS file: it does not begin with SIMPLE.';
  const numbers = new Map<string, number>();
  for (let at = 0; at < MAX_HEADER_BYTES; at += CARD) {
    if (at + CARD > bytes.length) return 'The FITS header is cut off before its END.';
    const key = text(at, at + 8).trimEnd();
    if (key === 'END') return numbers;
    if (text(at + 8, at + 10) !== '= ') continue;
    const [value = ''] = text(at + 10, at + CARD).split('/');
    // Fortran writes 1.0D-4.
    const number = Number(value.trim().replace(/[dD]/, 'E'));
    if (value.trim() !== '' && Number.isFinite(number)) numbers.set(key, number);
  }
  return 'The FITS header is longer than any that is read here.';
}

const DEGREES = 180 / Math.PI;

/** The linear part of the projection, degrees a pixel: from CD, else PC and CDELT, else CDELT and CROTA2. */
function matrixOf(numbers: ReadonlyMap<string, number>): [number, number, number, number] | undefined {
  const of = (key: string): number | undefined => numbers.get(key);
  const cd = ['CD1_1', 'CD1_2', 'CD2_1', 'CD2_2'];
  if (cd.some((key) => numbers.has(key))) return cd.map((key) => of(key) ?? 0) as [number, number, number, number];
  const [x, y] = [of('CDELT1'), of('CDELT2')];
  if (x === undefined || y === undefined) return undefined;
  if (['PC1_1', 'PC1_2', 'PC2_1', 'PC2_2'].some((key) => numbers.has(key))) {
    return [x * (of('PC1_1') ?? 1), x * (of('PC1_2') ?? 0), y * (of('PC2_1') ?? 0), y * (of('PC2_2') ?? 1)];
  }
  const angle = (of('CROTA2') ?? 0) / DEGREES;
  return [x * Math.cos(angle), -y * Math.sin(angle), x * Math.sin(angle), y * Math.cos(angle)];
}

/** Scale of a plate-solved frame, from the world coordinates of its FITS header. @param bytes the file, or its beginning */
export function readPlateScale(bytes: Uint8Array): WcsReading {
  const numbers = numbersOf(bytes);
  return typeof numbers === 'string' ? refused(numbers) : plateScaleOf(numbers);
}

/**
 * Scale of a plate-solved frame by the numbers of its header (Calabretta & Greisen 2002, from
 * memory). Distortion (SIP) is left out, and said to be there: at the middle of the frame it does not matter.
 */
export function plateScaleOf(numbers: ReadonlyMap<string, number>): WcsReading {
  const matrix = matrixOf(numbers);
  if (!matrix) return refused('The header has no world coordinates: solve the frame first.');
  const [a, b, c, d] = matrix;
  const determinant = a * d - b * c;
  const size = Math.max(...matrix.map(Math.abs));
  if (!(Math.abs(determinant) > 1e-12 * size * size)) {
    return refused('The world coordinates of the header make no plane: their matrix cannot be inverted.');
  }
  return {
    ok: true,
    scale: {
      arcsecPerPx: Math.sqrt(Math.abs(determinant)) * 3600,
      angleDeg: Math.atan2(b, d) * DEGREES,
      mirrored: determinant > 0,
      hasDistortion: numbers.has('A_ORDER') || numbers.has('B_ORDER')
    }
  };
}
