import { complaintInWords, readTrain, upgrade, type Train } from '@lodestone/core/train';

/** What a stored document says now. */
export type StoredReading = { ok: true; document: Train } | { ok: false; unreadable: string; name: string };

/** Readings by hash of the stored document: a revision never changes, so that it need not be read twice. */
const read = new Map<string, StoredReading>();
const REMEMBERED = 300;

const nameIn = (json: unknown): string =>
  typeof json === 'object' && json !== null && 'name' in json && typeof json.name === 'string' && json.name !== ''
    ? json.name.slice(0, 200)
    : 'a train without a name';

function readAnew(json: unknown): StoredReading {
  const reading = readTrain(upgrade(json));
  if (reading.ok) return reading;
  // Another tag explains everything else that is not as it should be.
  const first = reading.complaints.find(({ pointer }) => pointer === '/lodestone') ?? reading.complaints[0];
  return { ok: false, name: nameIn(json), unreadable: first ? complaintInWords(first) : 'is not a train' };
}

/**
 * Reads a stored document as everything from outside is read: another version of the program may have written it.
 *
 * @param hash of the stored document
 */
export function readStored(json: unknown, hash: string): StoredReading {
  const before = read.get(hash);
  if (before) return before;
  const reading = readAnew(json);
  const [oldest] = read.keys();
  if (read.size >= REMEMBERED && oldest !== undefined) read.delete(oldest);
  read.set(hash, reading);
  return reading;
}
