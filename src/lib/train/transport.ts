import { readTrain, type Train } from '@lodestone/core/train';
import { Unreachable, ask, isRecord, sent, settled, type Answer, type Reply } from '$lib/api/ask.ts';
import { deviceName } from '$lib/ui/device.ts';
import type { ListedTrain, StoredTrain, TrainState } from '$lib/api/trains.ts';

/** One save as it is sent, and sent again when no reply came. */
export interface Save {
  saveId: string;
  basedOn: number;
  document: Train;
  /** Number of the drawer's state that parts were taken from. */
  drawer?: number;
}

export type SaveReply = Reply<StoredTrain, StoredTrain>;

const isState = (candidate: unknown): candidate is TrainState =>
  candidate === 'active' || candidate === 'archived' || candidate === 'deleted';

/** What the server hands over is checked too: another version of it may be running. */
function toListed(candidate: unknown): ListedTrain {
  if (isRecord(candidate) && typeof candidate.id === 'string' && isRecord(candidate.revision)) {
    const { id, state, revision, name, unreadable } = candidate;
    const { number, hash, savedAt } = revision;
    if (!isState(state)) throw new Unreachable(`The server answered a train in no known state.`);
    if (typeof number === 'number' && typeof hash === 'string' && typeof savedAt === 'string') {
      const common = { id, state, revision: { number, hash, savedAt } };
      if (typeof name === 'string' && typeof unreadable === 'string') return { ...common, name, unreadable };
      const { deletedAt, records, frames } = candidate;
      if (
        state === 'deleted' &&
        typeof name === 'string' &&
        typeof deletedAt === 'string' &&
        typeof records === 'number' &&
        typeof frames === 'number'
      ) {
        return { ...common, state, name, deletedAt, records, frames };
      }
      const reading = readTrain(candidate.document);
      if (reading.ok) return { ...common, document: reading.document };
    }
  }
  throw new Unreachable('The server answered something that is not a train.');
}

function toStored(candidate: unknown): StoredTrain {
  const listed = toListed(candidate);
  if ('document' in listed) return listed;
  throw new Unreachable(
    'unreadable' in listed ? `${listed.name} cannot be read: ${listed.unreadable}` : `${listed.name} was deleted.`
  );
}

const storedTrain = (answer: Answer): StoredTrain => toStored(settled(answer));

export const fetchTrain = async (id: string): Promise<StoredTrain> =>
  storedTrain(await ask('GET', `/api/trains/${id}`));

/** One revision of a train, as it was kept. */
export const fetchRevision = async (id: string, number: number): Promise<StoredTrain> =>
  storedTrain(await ask('GET', `/api/trains/${id}/revisions/${number}`));

/** Every train that can be read, in its newest revision. */
export async function listTrains(): Promise<StoredTrain[]> {
  const answer = settled(await ask('GET', '/api/trains'));
  const listed = Array.isArray(answer) ? answer.map(toListed) : [];
  return listed.filter((train): train is StoredTrain => 'document' in train);
}

export const createTrain = async (saveId: string, document: Train): Promise<StoredTrain> =>
  storedTrain(await ask('POST', '/api/trains', { saveId, document, device: deviceName() }));

export const changeState = async (id: string, state: TrainState): Promise<ListedTrain> =>
  toListed(settled(await ask('PATCH', `/api/trains/${id}`, { state })));

/** Removes a deleted train for good. */
export async function purgeTrain(id: string): Promise<void> {
  settled(await ask('DELETE', `/api/trains/${id}`));
}

/** Sends a save and says what became of it. */
export const sendSave = (id: string, save: Save): Promise<SaveReply> =>
  sent(ask('POST', `/api/trains/${id}/revisions`, { ...save, device: deviceName() }), toStored, ({ head }) =>
    head === undefined ? undefined : toStored(head)
  );
