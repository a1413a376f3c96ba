import type { Train } from '@lodestone/core/train';
import type { StoredTrain, TrainState, UnreadableTrain } from '$lib/api/trains.ts';
import { readAs, type Queryable } from './database.ts';
import { readStored } from './stored.ts';

export interface Row {
  id: string;
  state: TrainState;
  number: number;
  hash: string;
  created_at: Date;
  document: unknown;
}

/** Columns of a {@link Row}; `train` and `revision` are what they are taken from. */
export const COLUMNS = `train.id, train.state, revision.number, encode(revision.hash, 'hex') as hash,
                 revision.created_at, revision.document`;

export function toListed({ id, state, number, hash, created_at, document: json }: Row): StoredTrain | UnreadableTrain {
  const reading = readStored(json, hash);
  const revision = { number, hash, savedAt: created_at.toISOString() };
  return reading.ok
    ? { id, state, revision, document: reading.document }
    : { id, state, revision, name: reading.name, unreadable: reading.unreadable };
}

/** A stored train that this version of the program cannot read, where it would have to. */
export class Unreadable extends Error {
  override name = 'Unreadable';
}

function toStored(row: Row): StoredTrain {
  const listed = toListed(row);
  if ('document' in listed) return listed;
  throw new Unreadable(`${listed.name} cannot be read by this version of Lodestone: ${listed.unreadable}`);
}

export async function selectRevision(owner: string, id: string, number: number | undefined, on: Queryable) {
  const { rows } = await on.query<Row>(
    `select ${COLUMNS}
       from train
       join train_revision revision on revision.owner = train.owner and revision.train_id = train.id
      where train.owner = $1 and train.id = $2 and ($3::integer is null or revision.number = $3)
      order by revision.number desc
      limit 1`,
    [owner, id, number ?? null]
  );
  return rows[0];
}

/**
 * One revision of a train, the newest unless a number is given; undefined when there is none.
 *
 * @throws Unreadable
 */
export async function readRevision(
  owner: string,
  id: string,
  number?: number,
  on?: Queryable
): Promise<StoredTrain | undefined> {
  const read = (queryable: Queryable) => selectRevision(owner, id, number, queryable);
  const row = await (on ? read(on) : readAs(owner, read));
  return row && toStored(row);
}

/** The newest revision, where it can be read: what cannot be read cannot follow a change either. */
export async function readHead(owner: string, id: string, on: Queryable): Promise<StoredTrain[]> {
  const row = await selectRevision(owner, id, undefined, on);
  const listed = row && toListed(row);
  return listed && 'document' in listed ? [listed] : [];
}

export async function findSave(owner: string, saveId: string, on: Queryable): Promise<StoredTrain | undefined> {
  const { rows } = await on.query<Row>(
    `select ${COLUMNS}
       from train_revision revision
       join train on train.owner = revision.owner and train.id = revision.train_id
      where revision.owner = $1 and revision.save_id = $2`,
    [owner, saveId]
  );
  return rows[0] && toStored(rows[0]);
}

export interface NewRevision {
  number: number;
  saveId: string;
  document: Train;
  /** What it was made on, as its owner calls that; undefined where the server makes it. */
  device?: string | undefined;
}

/** Stores one more revision of a train whose row the caller has locked. @returns when, and its hash */
export async function insertRevision(
  owner: string,
  id: string,
  { number, saveId, document, device }: NewRevision,
  on: Queryable
): Promise<StoredTrain['revision']> {
  const { rows } = await on.query<{ hash: string; created_at: Date }>(
    `insert into train_revision (owner, train_id, number, save_id, document, device)
     values ($1, $2, $3, $4, $5, $6)
     returning encode(hash, 'hex') as hash, created_at`,
    [owner, id, number, saveId, JSON.stringify(document), device ?? null]
  );
  const { hash, created_at } = rows[0]!;
  return { number, hash, savedAt: created_at.toISOString() };
}
