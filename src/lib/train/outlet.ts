import { apply, readTrain, upgrade } from '@lodestone/core/train';
import { isRecord } from '$lib/api/ask.ts';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Outlet } from '$lib/sync/outbox.ts';
import { toState, trainRules, type TrainChange, type TrainState } from './rules.ts';
import type { Save, SaveReply } from './transport.ts';

/** A revision carries all that waits: more than this only after a long time away. */
const MOST_CHANGES = 1000;

/** A train's way to the server: one revision a request. */
export const trainOutlet = (
  send: (save: Save) => Promise<SaveReply>
): Outlet<TrainState, TrainChange, Save, StoredTrain, StoredTrain> => ({
  rules: trainRules,
  most: MOST_CHANGES,

  request(entries, base) {
    const known = entries.flatMap(({ change: { drawer } }) => drawer ?? []);
    return {
      saveId: crypto.randomUUID(),
      basedOn: base.revision,
      document: entries.reduce((document, { change }) => apply(document, change.operation), base.document),
      ...(known.length > 0 ? { drawer: Math.min(...known) } : {})
    };
  },

  send,
  afterStored: toState,
  afterStale: toState,
  isNewer: (state, than) => state.revision > than.revision,
  keepBase: (base) => base,

  restoreBase(kept) {
    if (!isRecord(kept) || typeof kept.revision !== 'number' || typeof kept.savedAt !== 'string') return undefined;
    const reading = readTrain(upgrade(kept.document));
    return reading.ok ? { revision: kept.revision, savedAt: kept.savedAt, document: reading.document } : undefined;
  }
});
