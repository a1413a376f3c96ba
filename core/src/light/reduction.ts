import type { Ledger } from '../length/ledger.ts';
import { lensFocalLength, magnificationAt } from './beam.ts';

/** Magnification that is reckoned may be no less than this: closer to the lens there is no image. */
const LEAST_MAGNIFICATION = 0.05;

/** What a corrector makes of the host’s focus at the distance the train has. */
export interface Reduction {
  /** Focus shift of the glass between its shoulder and the sensor, mm. */
  glassMm: number;
  /** Air-equivalent distance from its shoulder to the sensor, mm. */
  distanceMm: number;
  /** Focal length as a thin lens, mm; undefined of a flattener, or where no magnification is published. */
  lensMm: number | undefined;
  published: number | undefined;
  /** At this distance; 1 without a corrector. */
  reckoned: number;
}

/** @see handbook §5, thin lens */
export function reductionOf({ glass, actualMm, datum, required }: Ledger): Reduction {
  const glassMm = glass.reduce((sum, { shiftMm }) => sum + shiftMm, 0);
  const distanceMm = actualMm - glassMm;
  const published = datum.corrector?.magnification;
  const { nominalMm, datumMm, allowedGlassMm } = required;
  const publishedMm = nominalMm === null ? undefined : nominalMm + (datumMm ?? 0) - (allowedGlassMm ?? 0);
  const lensMm =
    published === undefined || publishedMm === undefined ? undefined : lensFocalLength(publishedMm, published);
  const reckoned =
    lensMm === undefined ? (published ?? 1) : Math.max(LEAST_MAGNIFICATION, magnificationAt(distanceMm, lensMm));
  return { glassMm, distanceMm, lensMm, published, reckoned };
}
