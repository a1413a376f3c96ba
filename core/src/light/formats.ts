import type { Hole } from './illumination.ts';

/** A filter format with the opening it usually leaves (handbook §5, common practice). */
export interface FilterFormat {
  name: string;
  clearMm: number;
  shape: Hole['kind'];
}

/** Usual filter formats, smallest first; an unmounted filter is held by a rim of about a millimetre. */
export const FILTER_FORMATS: readonly FilterFormat[] = [
  { name: '1.25″ mounted', clearMm: 26, shape: 'round' },
  { name: '31 mm unmounted', clearMm: 29, shape: 'round' },
  { name: '36 mm unmounted', clearMm: 34, shape: 'round' },
  { name: '2″ mounted', clearMm: 46, shape: 'round' },
  { name: '50 mm round', clearMm: 48, shape: 'round' },
  { name: '50 mm square', clearMm: 48, shape: 'square' }
];

/** The smallest usual format that leaves so much; undefined where none does. */
export const formatFor = (clearMm: number): FilterFormat | undefined =>
  FILTER_FORMATS.find((format) => format.clearMm >= clearMm - 1e-9);
