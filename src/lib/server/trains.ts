import type { Train } from '@lodestone/core';
import type { StoredTrain, TrainState } from '$lib/api/trains.ts';
import type { PoolClient } from 'pg';
import { UNIQUE_VIOLATION, database, hasCode, transaction, type Queryable } from './database.ts';

/** Everybody who uses this server, until there is more than one person. */
export const LOCAL_OWNER = 'local';

interface Row {
  id: string;
  state: TrainState;
  number: number;
  hash: Buffer;
  created_at: Date;
  document: Train;
}

const toStored = ({ id, state, number, hash, created_at, document }: Row): StoredTrain => ({
  id,
  state,
  revision: { number, hash: hash.toString('hex'), savedAt: created_at.toISOString() },
  document
});

/** Every train in its newest revision, the last changed first. */
export async function listTrains(owner: string): Promise<StoredTrain[]> {
  const { rows } = await database().query<Row>(
    `select train.id, train.state, head.number, head.hash, head.created_at, head.document
       from train
       join lateral (
         select number, hash, created_at, document
           from train_revision
          where owner = train.owner and train_id = train.id
          order by number desc
          limit 1
       ) head on true
      where train.owner = $1
      order by head.created_at desc, train.id`,
    [owner]
  );
  return rows.map(toStored);
}

export async function hasTrains(owner: string): Promise<boolean> {
  const { rowCount } = await database().query('select from train where owner = $1 limit 1', [owner]);
  return rowCount !== 0;
}

/** One revision of a train, the newest unless a number is given; undefined when there is none. */
export async function readRevision(
  owner: string,
  id: string,
  number?: number,
  on: Queryable = database()
): Promise<StoredTrain | undefined> {
  const { rows } = await on.query<Row>(
    `select train.id, train.state, revision.number, revision.hash, revision.created_at, revision.document
       from train
       join train_revision revision on revision.owner = train.owner and revision.train_id = train.id
      where train.owner = $1 and train.id = $2 and ($3::integer is null or revision.number = $3)
      order by revision.number desc
      limit 1`,
    [owner, id, number ?? null]
  );
  return rows[0] && toStored(rows[0]);
}

async function findSave(owner: string, saveId: string, on: Queryable): Promise<StoredTrain | undefined> {
  const { rows } = await on.query<Row>(
    `select train.id, train.state, revision.number, revision.hash, revision.created_at, revision.document
       from train_revision revision
       join train on train.owner = revision.owner and train.id = revision.train_id
      where revision.owner = $1 and revision.save_id = $2`,
    [owner, saveId]
  );
  return rows[0] && toStored(rows[0]);
}

/** Stores one more revision of a train whose row the caller has locked. */
export async function insertRevision(
  owner: string,
  id: string,
  number: number,
  saveId: string,
  document: Train,
  on: Queryable
): Promise<void> {
  await on.query(
    `insert into train_revision (owner, train_id, number, save_id, document)
     values ($1, $2, $3, $4, $5)`,
    [owner, id, number, saveId, JSON.stringify(document)]
  );
}

export type SaveOutcome =
  | { kind: 'stored' | 'already-stored'; train: StoredTrain }
  | { kind: 'stale'; head: StoredTrain }
  | { kind: 'missing' | 'deleted' | 'other-train' };

/**
 * Two requests with one save id may arrive together: the one that loses the race finds what the other stored.
 */
async function onceBySaveId(
  owner: string,
  saveId: string,
  save: (client: PoolClient) => Promise<SaveOutcome>
): Promise<SaveOutcome> {
  try {
    return await transaction(save);
  } catch (error) {
    if (!hasCode(error, UNIQUE_VIOLATION)) throw error;
    const earlier = await findSave(owner, saveId, database());
    if (!earlier) throw error;
    return { kind: 'already-stored', train: earlier };
  }
}

/** Stores a new train with its first revision. The same save id again gives the train it made. */
export function createTrain(owner: string, saveId: string, document: Train): Promise<SaveOutcome> {
  return onceBySaveId(owner, saveId, async (client) => {
    const earlier = await findSave(owner, saveId, client);
    if (earlier) return { kind: 'already-stored', train: earlier };
    const { rows } = await client.query<{ id: string }>('insert into train (owner) values ($1) returning id', [owner]);
    const id = rows[0]!.id;
    await insertRevision(owner, id, 1, saveId, document, client);
    return { kind: 'stored', train: (await readRevision(owner, id, undefined, client))! };
  });
}

/**
 * Stores the next revision of a train.
 *
 * @param basedOn number of the revision the document was made from; any but the newest is stale
 */
export async function saveRevision(
  owner: string,
  id: string,
  save: { saveId: string; basedOn: number; document: Train }
): Promise<SaveOutcome> {
  const outcome = await onceBySaveId(owner, save.saveId, async (client): Promise<SaveOutcome> => {
    // One save of a train at a time; the foreign key of the numbers is what guards the rest.
    const locked = await client.query<{ state: TrainState }>(
      'select state from train where owner = $1 and id = $2 for update',
      [owner, id]
    );
    if (!locked.rows[0]) return { kind: 'missing' };
    // Only now: the same save may have been stored while this one waited for the lock.
    const earlier = await findSave(owner, save.saveId, client);
    if (earlier) return { kind: 'already-stored', train: earlier };
    if (locked.rows[0].state === 'deleted') return { kind: 'deleted' };
    const head = (await readRevision(owner, id, undefined, client))!;
    if (head.revision.number !== save.basedOn) return { kind: 'stale', head };
    await insertRevision(owner, id, save.basedOn + 1, save.saveId, save.document, client);
    return { kind: 'stored', train: (await readRevision(owner, id, undefined, client))! };
  });
  return outcome.kind === 'already-stored' && outcome.train.id !== id ? { kind: 'other-train' } : outcome;
}

export type StateOutcome = { kind: 'changed'; train: StoredTrain } | { kind: 'missing' | 'assembled' };

/** Archives, deletes or brings back a train. Revisions are kept in any case; an assembled train is not deleted. */
export async function changeState(owner: string, id: string, state: TrainState): Promise<StateOutcome> {
  await database().query(
    `update train set state = $3, state_changed_at = now()
      where owner = $1 and id = $2 and state <> $3
        and ($3 <> 'deleted' or not exists (
          select from assembly where assembly.owner = train.owner and assembly.train_id = train.id))`,
    [owner, id, state]
  );
  const train = await readRevision(owner, id);
  if (!train) return { kind: 'missing' };
  return train.state === state ? { kind: 'changed', train } : { kind: 'assembled' };
}
