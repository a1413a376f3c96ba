import type { Ledger } from '../length/ledger.ts';
import { nameOf, type Train } from '../train/model.ts';
import type { Explanation, ExplanationLine } from '../why/explanation.ts';
import { mm, percent } from '../why/quantity.ts';
import { formatTolerance } from '../why/wording.ts';
import { rectangularStandard, type Doubt } from './doubts.ts';
import type { Spread } from './spread.ts';
import { chanceWithin } from './uncertainty.ts';

/** Numbers of the uncertainty that can be asked. */
export type DoubtSubject = `doubt.${'worst-case' | 'standard' | 'interval' | 'probability'}`;

const OF_WORDS: Readonly<Record<Exclude<Doubt['of'], 'thread'>, string>> = {
  length: '',
  shims: 'loose shim under ',
  group: 'measured together from ',
  opening: 'opening before ',
  recess: 'recess of ',
  'back-focus': 'back focus of ',
  glass: 'thickness of the glass in '
};

const KIND_WORDS: Readonly<Record<Doubt['kind'], string>> = {
  stated: 'stated',
  assumed: 'not stated, assumed',
  measured: 'measured, U (k = 2)'
};

/** What a doubt is about, in words: `thread on the camera face of Guider`. */
export const doubtName = (train: Train, { id, of, face }: Pick<Doubt, 'id' | 'of' | 'face'>): string =>
  of === 'thread' ? `thread on the ${face} face of ${nameOf(train, id)}` : `${OF_WORDS[of]}${nameOf(train, id)}`;

/** What readings of one instrument share: their limits added up. */
function sharedLimits(doubts: readonly Doubt[]): Map<string, { halfWidthMm: number; readings: number }> {
  const found = new Map<string, { halfWidthMm: number; readings: number }>();
  for (const { shared } of doubts) {
    if (!shared) continue;
    const { halfWidthMm, readings } = found.get(shared.instrument) ?? { halfWidthMm: 0, readings: 0 };
    found.set(shared.instrument, { halfWidthMm: halfWidthMm + shared.halfWidthMm, readings: readings + 1 });
  }
  return found;
}

function worstCaseLines(train: Train, doubts: readonly Doubt[]): ExplanationLine[] {
  return doubts.map((doubt) => ({
    label: doubtName(train, doubt),
    quantity: mm(doubt.halfWidthMm),
    source: () => (doubt.figures ? 'published figures are so far apart' : KIND_WORDS[doubt.kind])
  }));
}

function standardLines(train: Train, doubts: readonly Doubt[]): ExplanationLine[] {
  const own = doubts.map((doubt): ExplanationLine => {
    const sharedMm = doubt.shared?.halfWidthMm ?? 0;
    const standardMm = Math.sqrt(Math.max(0, doubt.standardMm ** 2 - rectangularStandard(sharedMm) ** 2));
    return {
      label: doubtName(train, doubt),
      quantity: mm(standardMm),
      source: (unit) =>
        doubt.shape === 'rectangular'
          ? `±${formatTolerance(doubt.halfWidthMm, unit)} / √3`
          : doubt.shared
            ? `of its own, without what ${doubt.shared.instrument} shares`
            : 'U / 2'
    };
  });
  const shared = [...sharedLimits(doubts)].map(([instrument, { halfWidthMm, readings }]): ExplanationLine => ({
    label: `${instrument}, shared by ${readings === 1 ? 'one reading' : `${readings} readings`}`,
    quantity: mm(rectangularStandard(halfWidthMm)),
    source: (unit) => `limits added up: ±${formatTolerance(halfWidthMm, unit)} / √3 (JCGM 100 §5.2)`
  }));
  return [...own, ...shared];
}

const standardLine = ({ standardMm }: Spread): ExplanationLine => ({
  label: 'standard uncertainty',
  quantity: mm(standardMm),
  source: () => 'of the sum of lengths',
  why: 'doubt.standard'
});

/**
 * The sum behind a number of the uncertainty.
 *
 * @returns undefined where the train has no such number
 */
export function explainDoubt(
  train: Train,
  { residualMm, required }: Ledger,
  doubts: readonly Doubt[],
  spread: Spread,
  subject: DoubtSubject
): Explanation | undefined {
  switch (subject) {
    case 'doubt.worst-case':
      return {
        title: 'Everything off in the same direction',
        lines: worstCaseLines(train, doubts),
        combine: 'sum',
        result: mm(spread.worstCaseMm)
      };
    case 'doubt.standard':
      return {
        title: 'Standard uncertainty, combined (JCGM 100 §5.1.2)',
        lines: standardLines(train, doubts),
        combine: 'quadrature',
        result: mm(spread.standardMm)
      };
    case 'doubt.interval':
      return {
        title: '95 % range of such trains',
        lines: [
          standardLine(spread),
          {
            label: 'worst case',
            quantity: mm(spread.worstCaseMm),
            source: () => 'never wider than this',
            why: 'doubt.worst-case'
          }
        ],
        combine: { formula: '95 % of the convolved errors' },
        result: mm(spread.halfWidth95Mm)
      };
    case 'doubt.probability': {
      const chance = chanceWithin(spread, residualMm, required.toleranceMm);
      if (chance === null || residualMm === null) return undefined;
      return {
        title: 'Chance that the true length is within tolerance',
        lines: [
          {
            label: 'residual',
            quantity: mm(residualMm),
            source: () => 'actual minus required',
            why: 'length.residual'
          },
          {
            label: 'tolerance, either way',
            quantity: mm(required.toleranceMm ?? 0),
            source: () => 'of the back focus',
            why: 'length.tolerance'
          },
          standardLine(spread)
        ],
        combine: { formula: 'share of the convolved errors between the two ends of the tolerance' },
        result: percent(chance)
      };
    }
  }
}
