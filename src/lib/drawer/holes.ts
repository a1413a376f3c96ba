/** A stretch of lengths that nothing makes, both ends among them, mm. */
export interface Hole {
  fromMm: number;
  toMm: number;
}

/** Lengths that are not made, neighbours together. @param lengths in order, evenly apart */
export function holesIn(lengths: readonly { mm: number; rings: number | undefined }[]): Hole[] {
  const holes: Hole[] = [];
  lengths.forEach(({ mm, rings }, index) => {
    if (rings !== undefined) return;
    const last = holes.at(-1);
    if (last && lengths[index - 1]?.rings === undefined) last.toMm = mm;
    else holes.push({ fromMm: mm, toMm: mm });
  });
  return holes;
}
