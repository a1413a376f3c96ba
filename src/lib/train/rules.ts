import {
  HOST,
  OperationError,
  TRAIN,
  apply,
  complaintInWords,
  placeInWords,
  readTrain,
  rebaseOnto,
  sameJson,
  valueInWords,
  type Clash,
  type Operation,
  type Train
} from '@lodestone/core/train';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Rules } from '$lib/sync/rules.ts';

/** A train as it is kept: a document, and the stored revision it goes back to. */
export interface TrainState {
  revision: number;
  /** ISO 8601. */
  savedAt: string;
  document: Train;
}

/** A change of a train. */
export interface TrainChange {
  operation: Operation;
  /** Number of the drawer's state that was known when it was made: parts it brings in are as they were then. */
  drawer?: number | undefined;
}

export const toState = ({ revision, document }: StoredTrain): TrainState => ({
  revision: revision.number,
  savedAt: revision.savedAt,
  document
});

/**
 * The document an operation makes.
 *
 * @throws OperationError with a sentence for a person, where it makes none
 */
export function changedTrain(document: Train, operation: Operation): Train {
  const reading = readTrain(apply(document, operation));
  if (reading.ok) return reading.document;
  const [first] = reading.complaints;
  throw new OperationError(first ? complaintInWords(first) : 'That is not a valid train.');
}

/** `element 3 “Guider”, length: 17.6 elsewhere, 17.8 here`. */
export function clashInWords(base: Train, { at, key, theirs, ours }: Clash): string {
  const keys = key?.split('.') ?? [];
  const index = base.elements.findIndex(({ id }) => id === at);
  const steps = at === TRAIN ? keys : at === HOST ? [HOST, ...keys] : ['elements', String(index), ...keys];
  const place = index < 0 && at !== TRAIN && at !== HOST ? at : placeInWords(base, `/${steps.join('/')}`);
  const [there, here] = [valueInWords(theirs), valueInWords(ours)];
  const both = key !== undefined && there !== undefined && here !== undefined;
  return `${place}: ${both ? `${there} elsewhere, ${here} here` : 'changed elsewhere too'}`;
}

export const trainRules: Rules<TrainState, TrainChange> = {
  apply: (state, { operation }) => ({ ...state, document: changedTrain(state.document, operation) }),

  rebaseOnto(base, theirs, holds) {
    const rebase = rebaseOnto(base.document, theirs.document, holds);
    return (change) => {
      const rebased = rebase(change.operation);
      if (rebased.kind === 'goes') return { kind: 'goes', change: { ...change, operation: rebased.operation } };
      if (rebased.kind === 'done') return rebased;
      return { kind: 'clash', reason: clashInWords(base.document, rebased.clash), clashing: change };
    };
  },

  joined(earlier, later) {
    const [a, b] = [earlier.operation, later.operation];
    const same = a.op === 'set' && b.op === 'set' && a.at === b.at && a.path.join('/') === b.path.join('/');
    return same ? later : undefined;
  },

  changesNothing(state, { operation }) {
    try {
      return sameJson(apply(state.document, operation), state.document);
    } catch {
      return false;
    }
  }
};
