import { radians } from '../stats/angles.ts';

/** Latitudes nearer to the plane of the Galaxy than this are not described by the counts; there are more stars. */
export const LEAST_LATITUDE_DEG = 20;

/** Magnitudes that the counts describe. */
const COUNTED_MAGNITUDES = [5, 30] as const;

/**
 * Stars brighter than a visual magnitude in a square degree, at galactic longitude 90° (Bahcall & Soneira 1980, ApJS
 * 44, 73, appendix B; constants from memory): disc and spheroid.
 *
 * @param magnitude V, 5 to 30
 * @param latitudeDeg galactic latitude; nearer to the plane than 20° it is taken as 20°, and the answer is a least
 */
export function starsPerSquareDegree(magnitude: number, latitudeDeg: number): number {
  const b = radians(Math.max(LEAST_LATITUDE_DEG, Math.abs(latitudeDeg)));
  const m = Math.min(COUNTED_MAGNITUDES[1], Math.max(COUNTED_MAGNITUDES[0], magnitude));
  const gamma = m <= 12 ? 0.36 : m < 20 ? 0.04 * (12 - m) + 0.36 : 0.04;
  const disc = (925 * 10 ** (0.035 * (m - 15.75))) / (1 + 10 ** (-0.132 * (m - 15.75))) ** 3;
  const spheroid = (1050 * 10 ** (0.087 * (m - 17.5))) / (1 + 10 ** (-0.18 * (m - 17.5))) ** 2.5;
  // At longitude 90° the terms with the cosine of the longitude are gone.
  return disc / Math.sin(b) ** (3 - 5 * gamma) + spheroid;
}

/** Stars to expect in a field, and the chance of at least one where they lie by chance (Poisson). */
export function starsIn(
  [widthDeg, heightDeg]: readonly [number, number],
  magnitude: number,
  latitudeDeg: number
): { count: number; chance: number } {
  const count = starsPerSquareDegree(magnitude, latitudeDeg) * widthDeg * heightDeg;
  return { count, chance: 1 - Math.exp(-count) };
}
