import { withinTolerance } from '../length/tolerance.ts';
import type { Spread } from './spread.ts';

export interface Uncertainty {
  /** Σ of half-widths, mm. */
  worstCaseMm: number;
  /** Standard uncertainty of the sum, mm. */
  standardMm: number;
  /** Chance that the true residual lies inside the tolerance; null where nothing is asked for. */
  probabilityInTolerance: number | null;
}

/**
 * Chance that the true residual lies within ± tolerance, by how the errors really spread.
 *
 * @param residualMm null where nothing is asked for
 */
export function chanceWithin(spread: Spread, residualMm: number | null, toleranceMm: number | null): number | null {
  if (residualMm === null || toleranceMm === null) return null;
  if (spread.standardMm === 0) return withinTolerance(residualMm, toleranceMm) ? 1 : 0;
  if (spread.bounded && withinTolerance(Math.abs(residualMm) + spread.worstCaseMm, toleranceMm)) return 1;
  return spread.between(-toleranceMm - residualMm, toleranceMm - residualMm);
}

/**
 * What a spread says of a sum of lengths: worst case, and standard uncertainty, what instruments share added linearly and
 * the rest in quadrature (JCGM 100:2008 §5.1.2, §5.2), with the chance that the true residual lies in tolerance.
 */
export function uncertaintyOf(spread: Spread, residualMm: number | null, toleranceMm: number | null): Uncertainty {
  const { worstCaseMm, standardMm } = spread;
  return { worstCaseMm, standardMm, probabilityInTolerance: chanceWithin(spread, residualMm, toleranceMm) };
}

/** A chance as a person reads it: never 100 % or 0 % of what is not certain. */
export function chanceInWords(chance: number): string {
  if (chance === 1 || chance === 0) return chance === 1 ? 'certainly' : 'certainly not';
  if (chance > 0.99) return 'more than 99 % likely';
  if (chance < 0.01) return 'less than 1 % likely';
  return `${Math.round(chance * 100)} % likely`;
}

/**
 * How likely a length is within tolerance, in words. Certain is only what stays true with every assumption at its worst:
 * against an assumed tolerance, or with a length whose own tolerance is assumed, nothing is.
 *
 * @param assumed the tolerance of the back focus is a rule of thumb, or that of a length is assumed
 */
export function chanceWithinInWords(
  chance: number,
  assumed: { tolerance: boolean; lengths: boolean } = { tolerance: false, lengths: false }
): string {
  const sure = assumed.tolerance || assumed.lengths ? Math.min(0.999, Math.max(0.001, chance)) : chance;
  return `${chanceInWords(sure)} within ${assumed.tolerance ? 'the assumed tolerance' : 'tolerance'}`;
}
