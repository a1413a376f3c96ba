import { contours } from 'd3-contour';
import type { LightMap } from './lightMap.ts';

/** A line of equal light on a sensor, as a path in mm: x to the right, y down, the middle at 0. */
export interface IsoLine {
  /** Share of the light. */
  share: number;
  path: string;
  /** Where its word goes: the rightmost place of it on the horizontal through the middle, mm; undefined where it has none. */
  wordAtMm: number | undefined;
}

/** Shares that lines are drawn at, brightest first. */
const ISO_SHARES = [0.98, 0.95, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1] as const;

/** Rightmost place where the middle row passes a share, in cells from its left edge; undefined where it does not. */
function crossing({ columns, rows, shares }: LightMap, share: number, least: number): number | undefined {
  const row = Math.floor(rows / 2) * columns;
  for (let column = columns - 1; column > columns / 2; column--) {
    const [inner, outer] = [shares[row + column - 1]! / least, shares[row + column]! / least];
    if (inner >= share && outer < share) return column - 0.5 + (inner - share) / (inner - outer);
  }
  return undefined;
}

/**
 * Lines of equal light.
 *
 * @param relative to the light in the middle, as a flat shows it
 */
export function isoLines(map: LightMap, [widthMm, heightMm]: readonly [number, number], relative: boolean): IsoLine[] {
  const { columns, rows, shares, centre } = map;
  const unit = relative && centre > 0 ? centre : 1;
  const values = Array.from(shares, (share) => share / unit);
  const made = contours()
    .size([columns, rows])
    .thresholds([...ISO_SHARES])(values);
  const x = (cell: number): string => ((cell / columns - 0.5) * widthMm).toFixed(3);
  // Rows count upward, the picture downward.
  const y = (cell: number): string => ((0.5 - cell / rows) * heightMm).toFixed(3);
  return made.flatMap(({ value, coordinates }): IsoLine[] => {
    if (coordinates.length === 0) return [];
    const path = coordinates
      .flat()
      .map((ring) => `M${ring.map(([cx, cy]) => `${x(cx!)} ${y(cy!)}`).join('L')}Z`)
      .join('');
    const at = crossing(map, value, unit);
    return [{ share: value, path, wordAtMm: at === undefined ? undefined : (at / columns - 0.5) * widthMm }];
  });
}
