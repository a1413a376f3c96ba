import { scaleLinear, type ScaleLinear } from 'd3-scale';

/** Room beside a plot, px. */
export interface Margins {
  left: number;
  right: number;
  top: number;
  foot: number;
}

/** A plot: its scales, from values to px, and where it ends. */
export interface Plot {
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The plot of a chart of this size. A chart that is not laid out yet has none of the room it needs: never less than nothing. */
export function plotOf(
  widthPx: number,
  heightPx: number,
  { left, right, top, foot }: Margins,
  x: readonly [number, number],
  y: readonly [number, number]
): Plot {
  const end = Math.max(left, widthPx - right);
  const bottom = Math.max(top, heightPx - foot);
  return { x: scaleLinear(x, [left, end]), y: scaleLinear(y, [bottom, top]), left, right: end, top, bottom };
}

/** A line through points, as the `d` of a path. */
export const lineThrough = (points: readonly (readonly [x: number, y: number])[]): string =>
  points.map(([x, y], at) => `${at === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join('');

/** Places from one value to another, evenly, both ends among them. */
export const evenly = (from: number, to: number, steps: number): number[] =>
  Array.from({ length: steps + 1 }, (_, at) => from + ((to - from) * at) / steps);

/** A number with its sign, none at nothing. */
export const signed = (value: number): string => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value)}`;
