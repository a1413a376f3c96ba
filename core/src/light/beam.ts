import { degrees } from '../stats/angles.ts';
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

export type PupilFrom = 'stated' | 'reckoned' | 'assumed' | 'telecentric';

/** Exit pupil of a host alone, mm ahead of its focus; Infinity: telecentric. */
export interface HostPupil {
  mm: number;
  from: PupilFrom;
  /** Nearest and farthest it may be, where it is assumed; Infinity: telecentric. */
  rangeMm?: readonly [number, number];
}

/**
 * Exit pupil of a two-mirror telescope whose stop is its primary: the primary as its secondary shows it.
 *
 * With M = F/f₁ the secondary stands s = (f₁ + b)/(M + 1) ahead of the primary's focus, d = f₁ − s from the primary,
 * and has |f₂| = M s/(M − 1). It shows the primary x = d|f₂|/(d + |f₂|) behind itself, M s ahead of the focus.
 *
 * @param primaryMm focal length of the primary f₁, mm
 * @param focalMm focal length of the system F, mm, > f₁
 * @param backMm from the vertex of the primary back to the focus b, mm
 * @returns x + M s, mm ahead of the focus; undefined where no secondary magnifies so
 * @see mirror equations, as in Schroeder, Astronomical Optics (from memory)
 */
export function twoMirrorPupil(primaryMm: number, focalMm: number, backMm: number): number | undefined {
  const magnification = focalMm / primaryMm;
  const innerMm = (primaryMm + backMm) / (magnification + 1);
  const apartMm = primaryMm - innerMm;
  if (magnification <= 1 || innerMm <= 0 || apartMm <= 0) return undefined;
  const secondaryMm = (magnification * innerMm) / (magnification - 1);
  return (apartMm * secondaryMm) / (apartMm + secondaryMm) + magnification * innerMm;
}

/** Exit pupils of hosts that state none, shares of their focal length (handbook §5; a petzval: common practice, no source). */
const ASSUMED_PUPILS: Readonly<Partial<Record<Host['kind'], { at: number; range: readonly [number, number] }>>> = {
  'schmidt-cassegrain': { at: 0.3, range: [0.3, 0.5] },
  'two-mirror': { at: 0.4, range: [0.3, 0.5] },
  petzval: { at: 1, range: [0.3, Infinity] }
};

/** The exit pupil of a camera lens lies nowhere nearer to the sensor, mm (handbook §5; common practice, no source). */
const NEAREST_LENS_PUPIL_MM = 40;

/** Exit pupil of the host alone: stated, calculated from its stop, or assumed by its kind with a range. */
export function hostPupil(host: Host): HostPupil {
  const { kind, focalLengthMm, exitPupilMm, primaryFocalMm, backFromPrimaryMm } = host;
  if (exitPupilMm !== undefined) return { mm: exitPupilMm, from: 'stated' };
  if (STOPPED_AT_APERTURE.has(kind)) return { mm: focalLengthMm, from: 'reckoned' };
  if (primaryFocalMm !== undefined && backFromPrimaryMm !== undefined) {
    const mm = twoMirrorPupil(primaryFocalMm, focalLengthMm, backFromPrimaryMm);
    if (mm !== undefined) return { mm, from: 'reckoned' };
  }
  if (kind === 'camera-lens') return { mm: Infinity, from: 'assumed', rangeMm: [NEAREST_LENS_PUPIL_MM, Infinity] };
  const assumed = ASSUMED_PUPILS[kind];
  if (!assumed) return { mm: Infinity, from: 'telecentric' };
  const [near, far] = assumed.range;
  return { mm: assumed.at * focalLengthMm, from: 'assumed', rangeMm: [near * focalLengthMm, far * focalLengthMm] };
}

/** Pupils that stand for a range: its ends and what lies between, in even steps of 1/E, by which beams lean. */
export function pupilsOver([nearMm, farMm]: readonly [number, number], count: number): number[] {
  return Array.from({ length: count }, (_, at) => {
    const power = 1 / nearMm + (at / (count - 1)) * (1 / farMm - 1 / nearMm);
    return power === 0 ? Infinity : 1 / power;
  });
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
  degrees(2 * Math.atan(sideMm / (2 * focalLengthMm)));

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
