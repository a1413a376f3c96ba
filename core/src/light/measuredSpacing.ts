import type { Train } from '../train/model.ts';
import { ARCSEC, distanceFor } from './beam.ts';
import type { Light } from './light.ts';

/** Hosts whose own focal length changes with their focus: a scale says nothing of the spacing there. */
const CHANGING: ReadonlySet<Train['host']['kind']> = new Set(['schmidt-cassegrain', 'two-mirror']);

/** What a measured image scale says of the spacing. */
export interface MeasuredSpacing {
  focalLengthMm: number;
  magnification: number;
  /** Air-equivalent distance from the corrector's shoulder to the sensor, thin lens, mm. */
  distanceMm: number;
  /** The same with the glass behind the corrector, as the ledger counts, mm. */
  actualMm: number;
}

/**
 * The true spacing by the scale of a solved frame: F = 206265″ p / scale, m = F / F₀, d = f (1 − m) (handbook §5).
 *
 * @param arcsecPerPx of an unbinned frame
 * @returns why nothing can be said, where that is so
 */
export function spacingFromScale(train: Train, light: Light, arcsecPerPx: number): MeasuredSpacing | string {
  if (!(arcsecPerPx > 0) || !Number.isFinite(arcsecPerPx)) return 'An image scale is more than 0″ a pixel.';
  const { host } = train;
  if (CHANGING.has(host.kind)) {
    return `The focal length of ${host.name} changes with its focus, so the image scale does not give the spacing.`;
  }
  const lens = light.lensMm;
  if (lens === undefined) return 'Nothing here changes the focal length, so the image scale does not give the spacing.';
  const focalLengthMm = (ARCSEC * light.sensor.pixelUm) / arcsecPerPx;
  const magnification = focalLengthMm / host.focalLengthMm;
  const distanceMm = distanceFor(magnification, lens);
  return { focalLengthMm, magnification, distanceMm, actualMm: distanceMm + light.glassMm };
}
