/** A word that wants to stand over a point of a line. */
export interface Label {
  /** Where its middle wants to stand. */
  at: number;
  width: number;
}

/** Where a word stands: its middle, and its row, the first being 0. */
export interface PlacedLabel {
  middle: number;
  row: number;
}

/**
 * Places words beside a line so that none lies on another: each as near to its point as the ends of the line let it,
 * the first ones in the first row, those that would touch one in a row farther out.
 *
 * @param labels the most important first
 * @param gap room between two words of a row
 * @returns as many places, in their order
 */
export function placeLabels(labels: readonly Label[], from: number, to: number, gap: number): PlacedLabel[] {
  const rows: { from: number; to: number }[][] = [];
  return labels.map(({ at, width }) => {
    const half = width / 2;
    // A word that is longer than the line begins where the line does.
    const middle = Math.max(from + half, Math.min(to - half, at));
    const [left, right] = [middle - half, middle + half];
    const touches = (row: { from: number; to: number }[]): boolean =>
      row.some((taken) => left < taken.to + gap && taken.from - gap < right);
    let row = rows.findIndex((each) => !touches(each));
    if (row < 0) row = rows.push([]) - 1;
    rows[row]!.push({ from: left, to: right });
    return { middle, row };
  });
}

/** So much farther aside is as good as a row nearer to the line, in the unit of the places. */
const ROW_COSTS = 40;

/**
 * Places words that have a line leading to their points: none on another, in so many rows, each as near to its point as
 * it gets; for the sake of a row they go aside.
 *
 * @param labels the most important first
 * @param gap room between two words of a row
 * @param rows how many there are
 * @returns as many places, in their order; undefined for what has no room
 */
export function placeLedLabels(
  labels: readonly Label[],
  from: number,
  to: number,
  gap: number,
  rows: number
): (PlacedLabel | undefined)[] {
  const taken: { from: number; to: number }[][] = Array.from({ length: rows }, () => []);
  return labels.map(({ at, width }) => {
    const half = width / 2;
    const isFree = (middle: number, row: readonly { from: number; to: number }[]): boolean =>
      middle - half >= from - 1e-9 &&
      middle + half <= to + 1e-9 &&
      row.every((other) => middle + half <= other.from - gap + 1e-9 || middle - half >= other.to + gap - 1e-9);
    const places = taken.flatMap((row, index) =>
      // Nearest is over the point, at an end of the line, or against a neighbour.
      [at, from + half, to - half, ...row.flatMap((other) => [other.from - gap - half, other.to + gap + half])]
        .filter((middle) => isFree(middle, row))
        .map((middle) => ({ middle, row: index, cost: Math.abs(middle - at) + ROW_COSTS * index }))
    );
    const best = places.sort((a, b) => a.cost - b.cost)[0];
    if (!best) return undefined;
    taken[best.row]?.push({ from: best.middle - half, to: best.middle + half });
    return { middle: best.middle, row: best.row };
  });
}
