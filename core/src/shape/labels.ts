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
