import type { Doubt } from './ledger.ts';

export interface Uncertainty {
  /** Σ of half-widths, mm. */
  worstCaseMm: number;
  /** Standard uncertainty of the sum, mm. */
  standardMm: number;
  /** Chance that the true residual lies inside the tolerance; null where nothing is asked for. */
  probabilityInTolerance: number | null;
}

/**
 * Standard normal distribution function by the error function of Abramowitz & Stegun 7.1.26
 * (from memory; absolute error below 1.5 × 10⁻⁷).
 */
export function normalCdf(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const polynomial = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  const tail = 0.5 * polynomial * Math.exp(-x * x);
  return z < 0 ? tail : 1 - tail;
}

/**
 * Doubt of a sum of independent lengths: worst case, and quadrature (JCGM 100:2008 §5.1.2), with the
 * chance that the true residual lies within ± tolerance, the sum taken as normal.
 *
 * @param doubts half-widths and standard uncertainties of the lengths that count, mm
 * @param residualMm null where nothing is asked for
 */
export function uncertaintyOf(
  doubts: readonly Doubt[],
  residualMm: number | null,
  toleranceMm: number | null
): Uncertainty {
  let worstCaseMm = 0;
  let variance = 0;
  for (const { halfWidthMm, standardMm } of doubts) {
    worstCaseMm += halfWidthMm;
    variance += standardMm * standardMm;
  }
  const standardMm = Math.sqrt(variance);
  return { worstCaseMm, standardMm, probabilityInTolerance: probability(residualMm, toleranceMm, standardMm) };
}

function probability(residualMm: number | null, toleranceMm: number | null, standardMm: number): number | null {
  if (residualMm === null || toleranceMm === null) return null;
  if (standardMm === 0) return withinTolerance(residualMm, toleranceMm) ? 1 : 0;
  return normalCdf((toleranceMm - residualMm) / standardMm) - normalCdf((-toleranceMm - residualMm) / standardMm);
}

/** On spec is |residual| ≤ tolerance, equality included, compared in whole micrometres. */
export const withinTolerance = (residualMm: number, toleranceMm: number): boolean =>
  Math.round(Math.abs(residualMm) * 1000) <= Math.round(toleranceMm * 1000);
