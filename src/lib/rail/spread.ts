/**
 * Where things go that want to stand at `wanted`, at least `apart` from each other and inside `from` to `to`: as little
 * moved as can be, least squares by pooling neighbours that push each other (isotonic regression; Barlow et al. 1972,
 * from memory).
 *
 * @param wanted ascending
 * @returns as many places, ascending; closer together than `apart` where the room is too small
 */
export function spread(wanted: readonly number[], apart: number, from: number, to: number): number[] {
  const count = wanted.length;
  if (count === 0) return [];
  const step = count > 1 ? Math.min(apart, Math.max(0, to - from) / (count - 1)) : 0;
  // Less its share of the row, every place only has to be no smaller than the one before.
  const pools: { sum: number; count: number }[] = [];
  wanted.forEach((at, index) => {
    pools.push({ sum: at - index * step, count: 1 });
    for (;;) {
      const [before, last] = pools.slice(-2);
      if (!before || !last || before.sum / before.count <= last.sum / last.count) break;
      pools.splice(-2, 2, { sum: before.sum + last.sum, count: before.count + last.count });
    }
  });
  const last = to - (count - 1) * step;
  return pools
    .flatMap(({ sum, count: pooled }) => Array.from({ length: pooled }, () => sum / pooled))
    .map((at, index) => Math.max(from, Math.min(last, at)) + index * step);
}
