import { datumOf } from '../length/backFocus.ts';
import { ledgerOf } from '../length/ledger.ts';
import type { Operation } from '../train/operations.ts';
import type { Train } from '../train/model.ts';

/** Spacing of a train as a tuned value is measured, mm; undefined while a place is open or nothing is asked for. */
export function spacingOf(train: Train): number | undefined {
  const { required, actualMm } = ledgerOf(train);
  const { datumMm, glassMm } = required;
  if (datumMm === null || glassMm === null || train.elements.some(({ kind }) => kind === 'gap')) return undefined;
  return actualMm - datumMm - glassMm;
}

/** The step that makes a spacing the corrector's own; undefined where the train has no corrector. */
export function tunedOperation(train: Train, tunedMm: number): Operation | undefined {
  const { id, corrector } = datumOf(train);
  return corrector && { op: 'set', at: id, path: ['corrector', 'tunedMm'], to: tunedMm };
}
