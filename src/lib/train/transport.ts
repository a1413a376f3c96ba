import { readTrain, type Train } from '@lodestone/core';
import { Unreachable, ask, isRecord, messageOf, settled, type Answer } from '$lib/api/ask.ts';
import type { StoredTrain, TrainState } from '$lib/api/trains.ts';

/** One save as it is sent, and sent again when no reply came. */
export interface Save {
  saveId: string;
  basedOn: number;
  document: Train;
}

export type SaveReply =
  | { kind: 'stored'; train: StoredTrain }
  | { kind: 'stale'; head: StoredTrain }
  /** The server will not take it, now or later. */
  | { kind: 'refused'; message: string };

/** What the server hands over is checked too: another version of it may be running. */
function toStored(candidate: unknown): StoredTrain {
  if (isRecord(candidate) && typeof candidate.id === 'string' && isRecord(candidate.revision)) {
    const { id, state, revision } = candidate;
    const reading = readTrain(candidate.document);
    const { number, hash, savedAt } = revision;
    const known = state === 'active' || state === 'archived' || state === 'deleted';
    if (known && reading.ok && typeof number === 'number' && typeof hash === 'string' && typeof savedAt === 'string') {
      return { id, state, revision: { number, hash, savedAt }, document: reading.document };
    }
  }
  throw new Unreachable('The server answered something that is not a train.');
}

const storedTrain = (answer: Answer): StoredTrain => toStored(settled(answer));

export const fetchTrain = async (id: string): Promise<StoredTrain> =>
  storedTrain(await ask('GET', `/api/trains/${id}`));

/** Every train, in its newest revision. */
export async function listTrains(): Promise<StoredTrain[]> {
  const answer = settled(await ask('GET', '/api/trains'));
  return Array.isArray(answer) ? answer.map(toStored) : [];
}

export const createTrain = async (saveId: string, document: Train): Promise<StoredTrain> =>
  storedTrain(await ask('POST', '/api/trains', { saveId, document }));

export const changeState = async (id: string, state: TrainState): Promise<StoredTrain> =>
  storedTrain(await ask('PATCH', `/api/trains/${id}`, { state }));

/** Sends a save. @throws Unreachable when it is not known whether the save arrived */
export async function sendSave(id: string, save: Save): Promise<SaveReply> {
  const { status, answer } = await ask('POST', `/api/trains/${id}/revisions`, save);
  if (status >= 500) throw new Unreachable(messageOf(answer));
  if (status === 409 && isRecord(answer)) return { kind: 'stale', head: toStored(answer.head) };
  if (status >= 400) return { kind: 'refused', message: messageOf(answer) };
  return { kind: 'stored', train: toStored(answer) };
}
