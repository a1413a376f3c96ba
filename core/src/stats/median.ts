/** Median of values in any order; NaN of none. */
export function medianOf(values: readonly number[]): number {
  const sorted = Float64Array.from(values).sort();
  const middle = sorted.length >> 1;
  return sorted.length === 0 ? NaN : sorted.length % 2 ? sorted[middle]! : (sorted[middle]! + sorted[middle - 1]!) / 2;
}
