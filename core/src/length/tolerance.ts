/** On spec is |residual| ≤ tolerance, equality included, compared in whole micrometres. */
export const withinTolerance = (residualMm: number, toleranceMm: number): boolean =>
  Math.round(Math.abs(residualMm) * 1000) <= Math.round(toleranceMm * 1000);
