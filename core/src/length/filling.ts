import type { GapElement, Train } from '../train/model.ts';
import { axisOf, type Axis, type Fillings } from './axis.ts';
import type { Ledger } from './ledger.ts';

/** A train with its gaps taken as long as what is missing: where everything will stand once they are filled. */
export interface Filled {
  /** What each gap is taken to hold, by its index, mm. */
  lengths: Fillings;
  /** All of it, mm. */
  totalMm: number;
  ledger: Ledger;
  axis: Axis;
}

/** What the gaps of a train have to hold for it to be as long as is required: the first as much as its limits let it. */
function lengthsOf({ elements }: Train, { residualMm, datum }: Ledger): Map<number, number> {
  const gaps = elements.flatMap((element, index): { index: number; gap: GapElement; counts: boolean }[] =>
    element.kind === 'gap' ? [{ index, gap: element, counts: index > datum.index }] : []
  );
  // What has to be there is there; the rest goes where there is room.
  const lengths = new Map(gaps.map(({ index, gap }) => [index, gap.minMm ?? 0]));
  let left = Math.max(0, -(residualMm ?? 0));
  for (const { index, counts } of gaps) if (counts) left -= lengths.get(index)!;
  for (const { index, gap, counts } of gaps) {
    if (!counts || left <= 0) continue;
    const more = Math.min(left, (gap.maxMm ?? Infinity) - lengths.get(index)!);
    lengths.set(index, lengths.get(index)! + more);
    left -= more;
  }
  return lengths;
}

/**
 * A train as it will stand once its gaps are filled: each takes what it has to hold, and what is missing is shared out
 * from the sky side on, within their limits. Its parts are as they are: a gap has neither mass nor bore.
 *
 * @returns undefined where there is no gap, or nothing goes into any
 */
export function filledOf(train: Train, ledger: Ledger): Filled | undefined {
  const lengths = lengthsOf(train, ledger);
  let totalMm = 0;
  let countedMm = 0;
  for (const [index, lengthMm] of lengths) {
    totalMm += lengthMm;
    if (index > ledger.datum.index) countedMm += lengthMm;
  }
  if (totalMm === 0) return undefined;
  const { actualMm, residualMm } = ledger;
  const filled: Ledger = {
    ...ledger,
    actualMm: actualMm + countedMm,
    residualMm: residualMm === null ? null : residualMm + countedMm
  };
  return { lengths, totalMm, ledger: filled, axis: axisOf(train, filled, lengths) };
}
