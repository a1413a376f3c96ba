import { placeLabels } from '@lodestone/core/shape';

/** Width of a letter of a chart’s words, px, a little more than on the average. */
export const LETTER_PX = 6.1;

/** Words beside a line, each with where it wants to be, px: the same with their middles and rows, none on another. */
export function placeWords<Word extends { x: number; words: string }>(
  wanted: readonly Word[],
  { from, to, gap }: { from: number; to: number; gap: number }
): (Word & { middle: number; row: number })[] {
  const placed = placeLabels(
    wanted.map(({ x, words }) => ({ at: x, width: words.length * LETTER_PX })),
    from,
    to,
    gap
  );
  return wanted.map((word, index) => ({ ...word, ...placed[index]! }));
}
