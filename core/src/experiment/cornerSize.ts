import { fitLine, fitParabola, heightOf, vertexOf, type Interval, type LinePoint } from './line.ts';
import { oneEachSpacing, withRepeatability } from './repeats.ts';
import { halfWidth95 } from '../stats/scatter.ts';
import type { Experiment } from './generated/types.ts';

/** What the size of corner stars against those of the middle says of the spacing. */
export interface CornerSize {
  /** Where they are least, where what was tried stands on both sides of it. */
  least: (Interval & { ratio: number }) | undefined;
  /** Where they would be least, as far as can be told from one side, mm. */
  towardsMm: number | undefined;
  /** Way in which they shrink: + longer, − shorter; 0 where that is not known, or both ways are worse. */
  way: -1 | 0 | 1;
  /** Ratio of corner to middle at a spacing, with its standard uncertainty. */
  at: (spacingMm: number) => { ratio: number; standard: number };
}

/** Corner stars larger than those of the middle by more than this are swollen (common practice, no source). */
const SWOLLEN = 1.25;
/** So much larger than their least is as small as they get. */
const NEAR_LEAST = 1.15;

/** Ratio of corner stars to those of the middle, where an experiment tells it. */
export const sizesIn = (experiments: readonly Experiment[]): { x: number; ratio: number; standard: number }[] =>
  experiments.flatMap(({ spacingMm, size }) =>
    size ? [{ x: spacingMm, ratio: 1 + size.cornerPct / 100, standard: size.standardPct / 100 }] : []
  );

/**
 * Reads sizes at several spacings: a blur grows with the distance from where it is least, so that squares of sizes lie on
 * a parabola, as those of a star through focus do (handbook §10).
 *
 * @returns undefined where no experiment tells a size
 */
export function cornerSizeOf(experiments: readonly Experiment[]): CornerSize | undefined {
  const sized = sizesIn(experiments);
  if (sized.length === 0) return undefined;
  const points = oneEachSpacing(
    withRepeatability(
      sized.map(({ x, ratio, standard }): LinePoint => ({
        x,
        y: ratio * ratio,
        sigmaX: 0,
        // σ(r²) = 2 r σ; a small one is not better known than what it is made of.
        sigmaY: Math.max(2 * ratio * standard, standard * standard, 1e-6)
      }))
    )
  );
  const at = (spacingMm: number): { ratio: number; standard: number } => {
    const distance = Math.min(...sized.map(({ x }) => Math.abs(x - spacingMm)));
    const there = sized.filter(({ x }) => Math.abs(x - spacingMm) <= distance + 1e-9);
    return {
      ratio: there.reduce((sum, { ratio }) => sum + ratio, 0) / there.length,
      standard: Math.hypot(...there.map(({ standard }) => standard)) / there.length
    };
  };
  const [low, high] = [Math.min(...points.map(({ x }) => x)), Math.max(...points.map(({ x }) => x))];
  const parabola = fitParabola(points);
  if (parabola && parabola.c > 0) {
    const half = halfWidth95(parabola.chiSquare, parabola.degreesOfFreedom);
    const turn = vertexOf(parabola, half);
    const isBracketed =
      turn !== undefined && Number.isFinite(turn.from) && turn.from > low && turn.to < high && turn.at > low;
    if (turn && isBracketed) {
      const ratio = Math.sqrt(Math.max(0.25, heightOf(parabola, turn.at)));
      return { least: { ...turn, ratio }, towardsMm: turn.at, way: 0, at };
    }
  }
  const line = fitLine(points);
  if (!line) return { least: undefined, towardsMm: undefined, way: 0, at };
  const isSloping = Math.abs(line.slope) > halfWidth95(line.chiSquare, line.degreesOfFreedom) * line.slopeStandard;
  const turnMm = parabola && parabola.c > 0 ? parabola.middle - parabola.b / (2 * parabola.c) : undefined;
  // By a line where there is no better: it only says which way.
  const way = isSloping ? (line.slope > 0 ? -1 : 1) : 0;
  const isAhead = turnMm !== undefined && (way > 0 ? turnMm > low : way < 0 ? turnMm < high : true);
  return { least: undefined, towardsMm: isAhead ? turnMm : undefined, way, at };
}

/**
 * Whether the corners are still swollen at a spacing, so that a zero of the stretch there is not the best (handbook §9),
 * and which way they shrink.
 */
export function swellingAt({ least, way, at }: CornerSize, spacingMm: number): { isSwollen: boolean; way: -1 | 0 | 1 } {
  const { ratio, standard } = at(spacingMm);
  if (!least) return { isSwollen: ratio - 2 * standard > SWOLLEN, way };
  const isApart = spacingMm < least.from || spacingMm > least.to;
  return {
    isSwollen: isApart && ratio - 2 * standard > NEAR_LEAST * least.ratio,
    way: least.at > spacingMm ? 1 : -1
  };
}
