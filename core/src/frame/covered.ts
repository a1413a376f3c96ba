import { degrees } from '../stats/angles.ts';
import type { BackgroundMesh } from './background.ts';

/** Toward which side the sky of a frame is darker. */
export interface Shade {
  /** In the picture, degrees anticlockwise from its right. */
  deg: number;
  /** How much darker that side is than the one across, a share. */
  loss: number;
}

/** Less than this is no cover, but a gradient of the sky (common practice, no source). */
const LEAST_LOSS = 0.15;
/** A side reaches so far to either hand of its middle, as a cosine, and begins so far out, of the half diagonal. */
const SIDE_COSINE = 0.5;
const SIDE_FROM = 0.25;

/**
 * Where something covers a side of the light: the middle of what the sky lacks there lies on that side. What falls off
 * alike all round cancels out. Levels have a bias that is not light: it makes a shadow seem weaker, not elsewhere.
 *
 * @returns undefined where the frame is not plainly darker on one side
 */
export function shadeOf(
  { columns, rows, level }: Pick<BackgroundMesh, 'columns' | 'rows' | 'level'>,
  bottomUp: boolean
): Shade | undefined {
  const half = Math.hypot(columns, rows) / 2;
  const cells = Array.from(level, (value, at) => {
    const up = (Math.floor(at / columns) + 0.5 - rows / 2) / half;
    return { x: ((at % columns) + 0.5 - columns / 2) / half, y: bottomUp ? up : -up, value };
  });
  let [x, y] = [0, 0];
  // A corner's shadow lies where its middle does, that of a straight edge across a wide frame more toward its short side:
  // half way between the two neither is told wrong by much.
  for (const cell of cells) {
    x -= (cell.value * cell.x) / columns;
    y -= (cell.value * cell.y) / rows;
  }
  const size = Math.hypot(x, y);
  if (!(size > 0)) return undefined;
  const along = (way: 1 | -1): number => {
    const there = cells.filter((cell) => {
      const radius = Math.hypot(cell.x, cell.y);
      return radius > SIDE_FROM && (way * (cell.x * x + cell.y * y)) / size > SIDE_COSINE * radius;
    });
    return there.reduce((sum, { value }) => sum + value, 0) / Math.max(1, there.length);
  };
  const [dark, bright] = [along(1), along(-1)];
  const loss = bright > 0 ? 1 - dark / bright : 0;
  return loss < LEAST_LOSS ? undefined : { deg: degrees(Math.atan2(y, x)), loss };
}
