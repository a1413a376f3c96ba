import { workingFocalRatio, type Host } from '../train/model.ts';

/** Light behind a lens: how fast it converges, and where its exit pupil stands. */
export interface Beam {
  /** Focal ratio. */
  fRatio: number;
  /** Exit pupil, mm ahead of the focus; negative behind it; Infinity where the beam is telecentric. */
  pupilMm: number;
}

/**
 * Focal length of a reducer (or, negative, an extender) from the published pair, thin lens: d₀ / (1 − m₀), mm.
 *
 * @param distanceMm published distance to the sensor, mm, from its principal plane
 * @param magnification published magnification; 1 has no focal length
 * @returns undefined for a flattener, which has none
 */
export function lensFocalLength(distanceMm: number, magnification: number): number | undefined {
  return magnification === 1 || distanceMm <= 0 ? undefined : distanceMm / (1 - magnification);
}

/** Magnification at a distance, thin lens: m = 1 − d / f. */
export const magnificationAt = (distanceMm: number, lensMm: number): number => 1 - distanceMm / lensMm;

/** Distance at which a lens magnifies so much, thin lens: d = f (1 − m). */
export const distanceFor = (magnification: number, lensMm: number): number => lensMm * (1 - magnification);

/** Focal length of a lens from two scales measured at two distances: f = −Δd / Δm. */
export const lensFromScales = (
  [d1, m1]: readonly [number, number],
  [d2, m2]: readonly [number, number]
): number | undefined => (m1 === m2 ? undefined : -(d2 - d1) / (m2 - m1));

/**
 * Where a reducer shows the pupil of what stands ahead of it (thin lens imaging).
 *
 * The pupil lies s_o = E − s ahead of the lens, s = d / m its intermediate focus behind it; it is imaged at
 * s_i = 1 / (1/f − 1/s_o) behind it, so that it stands d − s_i ahead of the sensor.
 *
 * @param pupilMm exit pupil of the host, mm ahead of its own focus; Infinity: telecentric
 * @param distanceMm lens to sensor, mm
 * @param lensMm focal length of the lens, mm
 */
export function pupilBehind(pupilMm: number, distanceMm: number, lensMm: number): number {
  const intermediateMm = distanceMm / magnificationAt(distanceMm, lensMm);
  const ahead = pupilMm - intermediateMm;
  // A telecentric beam has its pupil at infinity: it is imaged at the focus of the lens.
  const power = 1 / lensMm - (Number.isFinite(ahead) ? 1 / ahead : 0);
  return power === 0 ? Infinity : distanceMm - 1 / power;
}

/** Hosts whose aperture is their stop: the pupil stands a focal length ahead of the focus. */
const STOPPED_AT_APERTURE: ReadonlySet<Host['kind']> = new Set(['refractor', 'newtonian']);

export type PupilFrom = 'stated' | 'reckoned' | 'telecentric';

/** Exit pupil of the host alone, mm ahead of its focus. */
export function hostPupil({ kind, focalLengthMm, exitPupilMm }: Host): { mm: number; from: PupilFrom } {
  if (exitPupilMm !== undefined) return { mm: exitPupilMm, from: 'stated' };
  if (STOPPED_AT_APERTURE.has(kind)) return { mm: focalLengthMm, from: 'reckoned' };
  return { mm: Infinity, from: 'telecentric' };
}

/** Focal ratio of the host: as it is stopped down, or by its aperture. */
export const hostFRatio = (host: Host): number => workingFocalRatio({ host });

/** The cone of light to one point of the field, where it passes a plane. */
export interface Cone {
  x: number;
  y: number;
  radius: number;
}

/** A pupil nearer to the focus than this is no pupil anybody has seen, mm; it keeps numbers finite. */
const LEAST_PUPIL_MM = 1e-3;

/** How far the middle of a beam is from the axis at a distance before the focus, over its image height: 1 − z/E. */
export const leaning = (pupilMm: number, zMm: number): number =>
  1 - zMm / (Math.abs(pupilMm) < LEAST_PUPIL_MM ? LEAST_PUPIL_MM : pupilMm);

/**
 * Disc that the beam to a point of the field fills at a distance before the focus, mm.
 *
 * @param field point of the image, mm from the axis
 * @param zMm air-equivalent distance before the focus, mm
 */
export function coneAt({ fRatio, pupilMm }: Beam, [x, y]: readonly [number, number], zMm: number): Cone {
  const share = leaning(pupilMm, zMm);
  return { x: x * share, y: y * share, radius: zMm / (2 * fRatio) };
}

/** Diameter that passes all light to an image height h: 2 |h (1 − z/E)| + z/N, mm. */
export const fullDiameter = ({ fRatio, pupilMm }: Beam, heightMm: number, zMm: number): number =>
  2 * Math.abs(heightMm * leaning(pupilMm, zMm)) + zMm / fRatio;

/** Seconds of arc in a radian, over a thousand: pixels in µm, focal lengths in mm. */
export const ARCSEC = 206.264806;

/** Image scale, seconds of arc a pixel. @param pixelUm µm @param focalLengthMm mm */
export const scaleOf = (pixelUm: number, focalLengthMm: number): number => (ARCSEC * pixelUm) / focalLengthMm;

/** Field of view along one side of the sensor, degrees: 2 atan(w / 2F). */
export const fieldOfView = (sideMm: number, focalLengthMm: number): number =>
  (2 * Math.atan(sideMm / (2 * focalLengthMm)) * 180) / Math.PI;

/** Wavelength that depths of focus are told for, mm: green, where eyes and sensors see best. */
const WAVELENGTH_MM = 0.00055;

/** Ways to say how deep the focus is. */
export const DEPTHS = {
  /** Quarter of a wave, Rayleigh's criterion: ±2 λ N² (Born & Wolf, from memory). */
  quarterWave: (fRatio: number): number => 2 * WAVELENGTH_MM * fRatio * fRatio,
  /** Half of the critical focus zone of amateurs, 4.88 λ N² in all (common practice). */
  criticalZone: (fRatio: number): number => 2.44 * WAVELENGTH_MM * fRatio * fRatio,
  /** Geometric: ±N c for a blur of diameter c, mm. */
  blur: (fRatio: number, blurMm: number): number => fRatio * blurMm
} as const;

/** How much longer an exposure of an extended object has to be at N₂ than at N₁: (N₂/N₁)². */
export const exposureFactor = (fromFRatio: number, toFRatio: number): number => (toFRatio / fromFRatio) ** 2;

/** Pixels that a tracking error of so many seconds of arc covers. */
export const driftPixels = (errorArcsec: number, scaleArcsecPerPx: number): number => errorArcsec / scaleArcsecPerPx;

/** Distance of a mote from the sensor by its shadow on a flat: z = shadow · N, mm. */
export const dustDistance = (shadowPx: number, pixelUm: number, fRatio: number): number =>
  ((shadowPx * pixelUm) / 1000) * fRatio;

/** Width of the shadow of a mote at a distance, pixels. */
export const dustShadow = (zMm: number, pixelUm: number, fRatio: number): number => (zMm / fRatio / pixelUm) * 1000;
