import { t95 } from '../stats/scatter.ts';
import type { Night } from '../train/model.ts';

/** Means of two groups, and how sure it is that they differ. */
export interface Apart {
  before: number;
  after: number;
  /** After less before. */
  difference: number;
  /** Half-width of the 95 % interval of the difference. */
  halfWidth95: number;
}

/** Degrees of freedom that are whole but for the noise of the calculation. */
const WHOLE = 1e-9;

const meanOf = (values: readonly number[]): number => values.reduce((sum, each) => sum + each, 0) / values.length;
/** Variance of the mean of some values. */
const spreadOf = (values: readonly number[], mean: number): number =>
  values.reduce((sum, each) => sum + (each - mean) ** 2, 0) / (values.length - 1) / values.length;

/**
 * What became of a figure: the difference of two means with unequal scatter (Welch 1947; degrees of freedom by
 * Welch–Satterthwaite, JCGM 100:2008 §G.4.1).
 *
 * @returns undefined where either side has fewer than two values: one night says nothing of how nights differ
 */
export function apart(before: readonly number[], after: readonly number[]): Apart | undefined {
  if (before.length < 2 || after.length < 2) return undefined;
  const [was, is] = [meanOf(before), meanOf(after)];
  const [one, other] = [spreadOf(before, was), spreadOf(after, is)];
  const variance = one + other;
  const difference = is - was;
  if (variance === 0) return { before: was, after: is, difference, halfWidth95: 0 };
  const degrees = variance ** 2 / (one ** 2 / (before.length - 1) + other ** 2 / (after.length - 1));
  return { before: was, after: is, difference, halfWidth95: t95(degrees + WHOLE) * Math.sqrt(variance) };
}

/** Figures of a night that changes of a train may move. */
export const NIGHT_FIGURES = ['guideRmsArcsec', 'hfrPx'] as const;
export type NightFigure = (typeof NIGHT_FIGURES)[number];

/** What a day of changes did to a figure of the nights around it. */
export interface Effect extends Apart {
  figure: NightFigure;
  /** Day of the change. */
  on: string;
  /** Nights on either side. */
  nights: readonly [before: number, after: number];
}

/**
 * What each day of changes did to the nights: those since the day of changes before it against those until the next.
 *
 * @param days days on which the train was changed, `YYYY-MM-DD`
 * @returns the newest first; only where both sides have two nights with that figure
 */
export function effectsOf(nights: readonly Night[], days: readonly string[]): Effect[] {
  const changed = [...new Set(days)].sort();
  return changed
    .flatMap((on, index) => {
      const [from, until] = [changed[index - 1] ?? '', changed[index + 1] ?? '9999-99-99'];
      // A day begins in the morning: what was changed that day was there at night.
      const before = nights.filter((night) => night.on >= from && night.on < on);
      const after = nights.filter((night) => night.on >= on && night.on < until);
      return NIGHT_FIGURES.flatMap((figure): Effect[] => {
        const [was, is] = [before, after].map((some) => some.flatMap((night) => night[figure] ?? []));
        const found = apart(was!, is!);
        return found ? [{ ...found, figure, on, nights: [was!.length, is!.length] }] : [];
      });
    })
    .reverse();
}
