import { LEAST_SNR, type Star } from './stars/index.ts';

/** A place of the field over half its diagonal from the middle, y upward. */
export interface FieldPlace {
  x: number;
  y: number;
  /** Of the distance from the middle; 1 in the corners. */
  square: number;
}

/** A field's size and which way its rows run. */
export interface FieldShape {
  widthPx: number;
  heightPx: number;
  bottomUp: boolean;
}

export function fieldPlace(
  { x, y }: { x: number; y: number },
  { widthPx, heightPx, bottomUp }: FieldShape
): FieldPlace {
  const half = Math.hypot(widthPx, heightPx) / 2;
  const across = (x - (widthPx + 1) / 2) / half;
  const rows = (y - (heightPx + 1) / 2) / half;
  const up = bottomUp ? rows : -rows;
  return { x: across, y: up, square: across * across + up * up };
}

/** A corner begins so far out along both sides. */
const CORNER_FROM = 0.66;
/** A corner with fewer stars says nothing. */
export const LEAST_IN_CORNER = 2;

/** What lies in each corner: top left, top right, bottom left, bottom right. */
export function byCorner<T extends FieldPlace>(
  all: readonly T[],
  { widthPx, heightPx }: Pick<FieldShape, 'widthPx' | 'heightPx'>
): [T[], T[], T[], T[]] {
  const diagonal = Math.hypot(widthPx, heightPx);
  const [halfWidth, halfHeight] = [widthPx / diagonal, heightPx / diagonal];
  const at = (right: 1 | -1, up: 1 | -1): T[] =>
    all.filter(({ x, y }) => (right * x) / halfWidth > CORNER_FROM && (up * y) / halfHeight > CORNER_FROM);
  return [at(-1, 1), at(1, 1), at(-1, -1), at(1, -1)];
}

/** A star whose size and shape say something: not cut off, well above the noise. */
export const isTelling = ({ saturated, snr }: Pick<Star, 'saturated' | 'snr'>): boolean =>
  !saturated && snr >= LEAST_SNR;

/** Which way stars are elongated, of their signed stretch along the radius. */
export const stretchWords = (stretch: number): string => (stretch >= 0 ? 'radial' : 'tangential');

/**
 * Ellipticity as a vector that turns twice: along +x (e, 0), along the diagonal (0, e); none is (0, 0).
 *
 * @param stretch its direction in degrees anticlockwise from +x, y upward
 */
export function stretchVector(stretch: { ellipticity: number; angleDeg: number } | null): [e1: number, e2: number] {
  if (!stretch) return [0, 0];
  const twice = (stretch.angleDeg * Math.PI) / 90;
  return [stretch.ellipticity * Math.cos(twice), stretch.ellipticity * Math.sin(twice)];
}
