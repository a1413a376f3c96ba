import { dialAnswer, type DialAnswer } from '../length/dial.ts';
import { ledgerOf, type Entry, type Ledger, type Required, type SlotRequirement } from '../length/ledger.ts';
import { uncertaintyOf, withinTolerance, type Uncertainty } from '../length/uncertainty.ts';
import type { Verdict } from '../length/wording.ts';
import { readTrain, type Reading } from '../train/read.ts';
import type { Train } from '../train/model.ts';
import { problemsOf, type Problem } from './problems.ts';

/** The answer to "is this train right?", as `check --json` prints it. Lengths unrounded, mm. */
export interface CheckReport {
  required: Required;
  actual: { totalMm: number; entries: Entry[] };
  residualMm: number | null;
  verdict: Verdict;
  slots: SlotRequirement[];
  dial: DialAnswer | null;
  uncertainty: Uncertainty;
  problems: Problem[];
}

/** A report together with the ledger it was drawn from. */
export interface Assessment {
  ledger: Ledger;
  report: CheckReport;
}

function verdictOf(residualMm: number | null, toleranceMm: number | null): Verdict {
  if (residualMm === null || toleranceMm === null) return 'free';
  if (withinTolerance(residualMm, toleranceMm)) return 'on-spec';
  return residualMm < 0 ? 'short' : 'long';
}

/**
 * Reckons everything about a train.
 *
 * @param train a valid document, as {@link readTrain} hands it over
 */
export function assess(train: Train): Assessment {
  const ledger = ledgerOf(train);
  const { residualMm, required, actualMm, entries, slots, doubts } = ledger;
  return {
    ledger,
    report: {
      required,
      actual: { totalMm: actualMm, entries },
      residualMm,
      verdict: verdictOf(residualMm, required.toleranceMm),
      slots,
      dial: dialAnswer(train, ledger),
      uncertainty: uncertaintyOf(doubts, residualMm, required.toleranceMm),
      problems: problemsOf(train, ledger)
    }
  };
}

/** The report alone. */
export const checkTrain = (train: Train): CheckReport => assess(train).report;

/** Good: on spec or free, and no problem of severity error. Warnings never count. */
export const isGood = ({ verdict, problems }: CheckReport): boolean =>
  (verdict === 'on-spec' || verdict === 'free') && problems.every(({ severity }) => severity !== 'error');

/** Validates, then checks: for callers that hold JSON of unknown origin. */
export function checkDocument(candidate: unknown): Reading<CheckReport> {
  const reading = readTrain(candidate);
  return reading.ok ? { ok: true, document: checkTrain(reading.document) } : reading;
}
