import { sameJson, type Train } from '@lodestone/core/train';
import type { ListedTrain, StoredTrain, TrainState } from '$lib/api/trains.ts';
import { UNIQUE_VIOLATION, asOwner, hasCode, readAs, type Queryable } from './database.ts';
import { drawerNumber, followDrawer, nextDrawerNumber } from './following.ts';
import {
  findSave,
  insertRevision,
  readHead,
  readRevision,
  selectRevision,
  toListed,
  type NewRevision,
  type Row
} from './revisions.ts';
import { shared } from './shared.ts';

interface ListedRow extends Row {
  name: string | null;
  state_changed_at: Date;
  records: number;
  frames: number;
}

function toListedOrDeleted(row: ListedRow): ListedTrain {
  const { id, number, hash, created_at, name, state, state_changed_at, records, frames } = row;
  if (state !== 'deleted') return toListed(row);
  return {
    id,
    state,
    revision: { number, hash, savedAt: created_at.toISOString() },
    name: name ?? 'a train without a name',
    deletedAt: state_changed_at.toISOString(),
    records,
    frames
  };
}

/**
 * Every train in its newest revision, the last changed first; those that cannot be read are listed as such, those that
 * were deleted without their documents.
 */
export const listTrains = (owner: string): Promise<ListedTrain[]> =>
  shared('trains', owner, () =>
    readAs(owner, async (on) => {
      const { rows } = await on.query<ListedRow>(
        `select train.id, train.state, revision.number, encode(revision.hash, 'hex') as hash, revision.created_at,
                case when train.state <> 'deleted' then revision.document end as document,
                train.state_changed_at, gone.*
           from train
           join lateral (
             select number, hash, created_at, document
               from train_revision
              where owner = train.owner and train_id = train.id
              order by number desc
              limit 1
           ) revision on true
           left join lateral (
             select revision.document ->> 'name' as name,
                    (select count(*)::int from build_record
                      where build_record.owner = train.owner and build_record.train_id = train.id) as records,
                    (select count(*)::int from frame
                      where frame.owner = train.owner and frame.train_id = train.id) as frames
              where train.state = 'deleted'
           ) gone on true
          where train.owner = $1
          order by revision.created_at desc, train.id`,
        [owner]
      );
      return rows.map(toListedOrDeleted);
    })
  );

export async function hasTrains(owner: string, on: Queryable): Promise<boolean> {
  const { rowCount } = await on.query('select from train where owner = $1 limit 1', [owner]);
  return rowCount !== 0;
}

export type SaveOutcome =
  | { kind: 'stored' | 'already-stored'; train: StoredTrain }
  | { kind: 'stale'; head: StoredTrain }
  /** `other-save`: the save id was used for something else. */
  | { kind: 'missing' | 'deleted' | 'other-save' };

/** What a save id stored before, if it was this very save. */
const settledAs = (earlier: StoredTrain, document: Train, id = earlier.id): SaveOutcome =>
  earlier.id === id && sameJson(earlier.document, document)
    ? { kind: 'already-stored', train: earlier }
    : { kind: 'other-save' };

/**
 * Two requests with one save id may arrive together: the one that loses the race finds what the other stored.
 */
async function onceBySaveId(
  owner: string,
  saveId: string,
  document: Train,
  save: () => Promise<SaveOutcome>
): Promise<SaveOutcome> {
  try {
    return await save();
  } catch (error) {
    if (!hasCode(error, UNIQUE_VIOLATION)) throw error;
    const earlier = await readAs(owner, (on) => findSave(owner, saveId, on));
    if (!earlier) throw error;
    return settledAs(earlier, document);
  }
}

/** A new train with its first revision, in the caller's transaction. */
export async function insertTrain(
  owner: string,
  first: Omit<NewRevision, 'number'>,
  on: Queryable
): Promise<StoredTrain> {
  const { rows } = await on.query<{ id: string }>('insert into train (owner) values ($1) returning id', [owner]);
  const { id } = rows[0]!;
  const revision = await insertRevision(owner, id, { ...first, number: 1 }, on);
  return { id, state: 'active', revision, document: first.document };
}

/** Stores a new train with its first revision. The same save id again gives the train it made. */
export function createTrain(owner: string, saveId: string, document: Train, device?: string): Promise<SaveOutcome> {
  return onceBySaveId(owner, saveId, document, () =>
    asOwner(owner, async (client): Promise<SaveOutcome> => {
      const earlier = await findSave(owner, saveId, client);
      if (earlier) return settledAs(earlier, document);
      return { kind: 'stored', train: await insertTrain(owner, { saveId, document, device }, client) };
    })
  );
}

export interface Save {
  saveId: string;
  /** Number of the revision the document was made from; any but the newest is stale. */
  basedOn: number;
  document: Train;
  /** Number of the drawer's state that parts were taken from: what has changed there since is caught up with. */
  drawer?: number | undefined;
  /** What it was made on, as its owner calls that. */
  device?: string | undefined;
}

/** Stores the next revision of a train. */
export function saveRevision(owner: string, id: string, save: Save): Promise<SaveOutcome> {
  const { saveId, basedOn, document, drawer, device } = save;
  return onceBySaveId(owner, saveId, document, () =>
    asOwner(
      owner,
      async (client): Promise<SaveOutcome> => {
        const [locked, heads] = await Promise.all([
          // One save of a train at a time; the foreign key of the numbers is what guards the rest.
          client.query<{ state: TrainState }>('select state from train where owner = $1 and id = $2 for update', [
            owner,
            id
          ]),
          // Looked at after that: the same save may have been stored while this one waited for the lock.
          client.query<{ head: number; saved: boolean }>(
            `select max(number) as head,
                    exists (select from train_revision where owner = $1 and save_id = $3) as saved
               from train_revision
              where owner = $1 and train_id = $2`,
            [owner, id, saveId]
          )
        ]);
        const [row] = locked.rows;
        if (!row) return { kind: 'missing' };
        const { head, saved } = heads.rows[0]!;
        if (saved) return settledAs((await findSave(owner, saveId, client))!, document, id);
        if (row.state === 'deleted') return { kind: 'deleted' };
        if (head !== basedOn) return { kind: 'stale', head: (await readRevision(owner, id, undefined, client))! };
        const next = { number: basedOn + 1, saveId, document, device };
        const revision = await insertRevision(owner, id, next, client);
        const train: StoredTrain = { id, state: row.state, revision, document };
        if (drawer === undefined) return { kind: 'stored', train };
        const [followed] = await followDrawer(owner, [train], { since: drawer }, client);
        return { kind: 'stored', train: followed ?? train };
      },
      'keep'
    )
  );
}

export type StateOutcome = { kind: 'changed'; train: ListedTrain } | { kind: 'missing' | 'assembled' };

/**
 * Archives, deletes or brings back a train. Revisions are kept in any case; an assembled train is not deleted, and one
 * that is brought back catches up with what was measured while it was away.
 */
export function changeState(owner: string, id: string, state: TrainState): Promise<StateOutcome> {
  return asOwner(
    owner,
    async (client): Promise<StateOutcome> => {
      // Locked before anything is looked at: what was read before the wait for the lock may be out of date.
      const locked = await client.query<{ state: TrainState; drawer_number: string }>(
        'select state, drawer_number from train where owner = $1 and id = $2 for update',
        [owner, id]
      );
      const [row] = locked.rows;
      if (!row) return { kind: 'missing' };
      if (row.state !== state) {
        const assembled = await client.query('select from assembly where owner = $1 and train_id = $2', [owner, id]);
        if (state === 'deleted' && assembled.rowCount !== 0) return { kind: 'assembled' };
        await client.query(
          `update train set state = $3, state_changed_at = now(), drawer_number = $4
            where owner = $1 and id = $2`,
          [owner, id, state, await drawerNumber(owner, client)]
        );
        // What a deleted train plans with is no use of a part any more, and the other way round.
        if ((state === 'deleted') !== (row.state === 'deleted')) await nextDrawerNumber(owner, client);
        if (row.state === 'deleted' && assembled.rowCount === 0) {
          const back = await readHead(owner, id, client);
          await followDrawer(owner, back, { since: Number(row.drawer_number) }, client);
        }
      }
      return { kind: 'changed', train: toListed((await selectRevision(owner, id, undefined, client))!) };
    },
    'change'
  );
}

/**
 * Removes a deleted train for good, with all that hangs on it.
 *
 * @returns what became of it; `kept`: it was not deleted before
 */
export function purgeTrain(owner: string, id: string): Promise<'removed' | 'kept' | 'missing'> {
  return asOwner(owner, async (on) => {
    const { rows } = await on.query<{ removed: boolean }>('select purge_train($1, $2) as removed', [owner, id]);
    if (rows[0]?.removed) return 'removed';
    const { rowCount } = await on.query('select from train where owner = $1 and id = $2', [owner, id]);
    return rowCount === 0 ? 'missing' : 'kept';
  });
}
