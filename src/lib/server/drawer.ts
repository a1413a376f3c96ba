import { createHash, randomUUID } from 'node:crypto';
import { partToDocument, withReadingIds, type Part, type PartUse } from '@lodestone/core/drawer';
import type { StoredDrawer, StoredPart } from '$lib/api/drawer.ts';
import type { StoredTrain } from '$lib/api/trains.ts';
import { FOREIGN_KEY_VIOLATION, asOwner, hasCode, readAs, type Queryable } from './database.ts';
import { drawerNumber, followDrawer, nextDrawerNumber } from './following.ts';
import { selectParts, selectRetired } from './parts.ts';
import { ensurePlaces } from './places.ts';
import { shared } from './shared.ts';
import { readHead } from './revisions.ts';

/** A change to the drawer: all of it is stored, or nothing. `basedOn` null: the part must not be there yet. */
export interface DrawerChange {
  changeId: string;
  put: { part: Part; basedOn: number | null }[];
  remove: { partId: string; basedOn: number }[];
}

export type DrawerOutcome =
  | { kind: 'changed' | 'already-changed'; parts: StoredPart[]; trains: StoredTrain[]; number: number }
  | { kind: 'stale'; parts: StoredPart[]; missing: string[]; number: number }
  | { kind: 'held'; partIds: string[] }
  /** The change id was used for something else. */
  | { kind: 'other-change' };

/** Where parts are used: what assembled trains hold, and what the plans of the others name. */
export function listUses(owner: string, on?: Queryable): Promise<PartUse[]> {
  const list = async (queryable: Queryable): Promise<PartUse[]> => {
    const { rows } = await queryable.query<{
      part_id: string;
      train_id: string;
      train_name: string;
      copy: number | null;
      assembled: boolean;
    }>(USES, [owner]);
    return rows.map(({ part_id, train_id, train_name, copy, assembled }) => ({
      partId: part_id,
      trainId: train_id,
      trainName: train_name,
      copy: copy ?? undefined,
      assembled
    }));
  };
  return on ? list(on) : readAs(owner, list);
}

/** Newest revisions only, each by one step down the index: it does not matter how many there were before. */
export const USES = `
  with head as (
    select train.id, revision.document
      from train
      join lateral (
        select document from train_revision
         where owner = train.owner and train_id = train.id
         order by number desc
         limit 1
      ) revision on true
     where train.owner = $1 and train.state <> 'deleted'
  )
  select holding.part_id, holding.train_id, head.document ->> 'name' as train_name, holding.copy, true as assembled
    from holding join head on head.id = holding.train_id
   where holding.owner = $1
  union all
  select element ->> 'partId', head.id, head.document ->> 'name', (element ->> 'copy')::integer, false
    from head cross join lateral jsonb_array_elements(head.document -> 'elements') element
   where element ? 'partId'
     and not exists (select from assembly where assembly.owner = $1 and assembly.train_id = head.id)
   order by part_id, train_name`;

/** Everything of the drawer, and the number of the state it is in. */
export const readDrawerOf = (owner: string): Promise<StoredDrawer> => shared('drawer', owner, () => drawerOf(owner));

function drawerOf(owner: string): Promise<StoredDrawer> {
  return readAs(owner, async (on) => {
    // The number first: what changes while the rest is read is told again, not missed.
    const number = await drawerNumber(owner, on);
    return {
      number,
      parts: await selectParts(owner, {}, on),
      uses: await listUses(owner, on),
      retired: await selectRetired(owner, on)
    };
  });
}

/** Numbers of parts whose stored version is not the one a change was made from, and of those that were deleted once. */
async function comparedWithStored(owner: string, { put, remove }: DrawerChange, on: Queryable) {
  const based = new Map<string, number | null>([
    ...put.map(({ part, basedOn }) => [part.partId, basedOn] as const),
    ...remove.map(({ partId, basedOn }) => [partId, basedOn] as const)
  ]);
  const { rows } = await on.query<{ part_id: string; version: number; deleted: boolean }>(
    `select part_id, version, deleted_at is not null as deleted
       from part
      where owner = $1 and part_id = any ($2)`,
    [owner, [...based.keys()]]
  );
  const there = new Map(rows.map((row) => [row.part_id, row]));
  const stale = [...based].flatMap(([partId, basedOn]) => {
    const row = there.get(partId);
    const version = row && !row.deleted ? row.version : null;
    return version === basedOn ? [] : [partId];
  });
  return { stale, revived: new Set(rows.filter(({ deleted }) => deleted).map(({ part_id }) => part_id)) };
}

async function storeParts(owner: string, given: readonly Part[], number: number, on: Queryable): Promise<void> {
  const parts = given.map((part) => withReadingIds(part, randomUUID)).sort((a, b) => (a.partId < b.partId ? -1 : 1));
  const places = await ensurePlaces(owner, new Set(parts.map(({ location }) => location)), on);
  const rows = parts.map(({ partId, element: { id: _id, ...element }, quantity, owned, price, state, location }) => ({
    part_id: partId,
    quantity,
    owned,
    price: price ?? null,
    state,
    location_id: places.get(location) ?? null,
    element
  }));
  // A new part with the number of a deleted one is not that part, unless it is the same again: its photo goes.
  await on.query(
    `delete from part_photo
      using part, jsonb_to_recordset($2::jsonb) as made (part_id text, element jsonb)
      where part.owner = $1 and part.part_id = made.part_id and part.deleted_at is not null
        and part.element <> made.element
        and part_photo.owner = part.owner and part_photo.part_id = part.part_id`,
    [owner, JSON.stringify(rows)]
  );
  await on.query(
    `insert into part (owner, part_id, quantity, owned, price, state, location_id, element, changed_number)
     select $1, part_id, quantity, owned, price, state, location_id, element, $3
       from jsonb_to_recordset($2::jsonb) as made (
              part_id text, quantity integer, owned boolean, price double precision, state text, location_id bigint,
              element jsonb)
     on conflict (owner, part_id) do update
        set quantity = excluded.quantity, owned = excluded.owned, price = excluded.price, state = excluded.state,
            location_id = excluded.location_id, element = excluded.element,
            version = part.version + 1, deleted_at = null, changed_at = now(), changed_number = $3`,
    [owner, JSON.stringify(rows), number]
  );
  // By what was given, not by joining the tables: freshly filled ones are not yet known to the planner.
  const copies = [owner, JSON.stringify(rows.map(({ part_id, quantity }) => ({ part_id, quantity })))];
  await on.query(
    `insert into part_copy (owner, part_id, copy)
     select $1, part_id, copy
       from jsonb_to_recordset($2::jsonb) as made (part_id text, quantity integer)
      cross join lateral generate_series(1, quantity) copy
     on conflict do nothing`,
    copies
  );
  await on.query(
    `delete from part_copy
      using jsonb_to_recordset($2::jsonb) as made (part_id text, quantity integer)
      where part_copy.owner = $1 and part_copy.part_id = made.part_id and part_copy.copy > made.quantity`,
    copies
  );
  await storeReadings(owner, parts, on);
}

/** Readings by their ids: new ones are added, struck out ones go, the others stay as they are. */
async function storeReadings(owner: string, parts: readonly Part[], on: Queryable): Promise<void> {
  const series = parts.flatMap(({ partId, measurements }) =>
    measurements.map(({ id, lengthMm, zeroMm, instrument, maxErrorMm, date, note }, position) => ({
      part_id: partId,
      id,
      position,
      length_mm: lengthMm,
      zero_mm: zeroMm ?? null,
      instrument: instrument ?? null,
      max_error_mm: maxErrorMm ?? null,
      measured_on: date ?? null,
      note: note ?? null
    }))
  );
  const made = JSON.stringify(series);
  await on.query(
    `delete from measurement
      where owner = $1 and part_id = any ($2)
        and (part_id, id) not in (
          select part_id, id from jsonb_to_recordset($3::jsonb) as made (part_id text, id text))`,
    [owner, parts.map(({ partId }) => partId), made]
  );
  if (series.length === 0) return;
  await on.query(
    `insert into measurement
            (owner, part_id, id, position, length_mm, zero_mm, instrument, max_error_mm, measured_on, note)
     select $1, part_id, id, position, length_mm, zero_mm, instrument, max_error_mm, measured_on, note
       from jsonb_to_recordset($2::jsonb) as made (
              part_id text, id text, position integer, length_mm double precision, zero_mm double precision,
              instrument text, max_error_mm double precision, measured_on date, note text)
     on conflict (owner, part_id, id) do update
        set position = excluded.position, length_mm = excluded.length_mm, zero_mm = excluded.zero_mm,
            instrument = excluded.instrument, max_error_mm = excluded.max_error_mm,
            measured_on = excluded.measured_on, note = excluded.note`,
    [owner, made]
  );
}

async function dropParts(owner: string, partIds: readonly string[], number: number, on: Queryable): Promise<void> {
  // What an assembled train holds keeps its copy: the foreign key of the holding refuses.
  await on.query('delete from part_copy where owner = $1 and part_id = any ($2)', [owner, partIds]);
  await on.query(
    `update part set deleted_at = now(), changed_at = now(), version = version + 1, changed_number = $3
      where owner = $1 and part_id = any ($2)`,
    [owner, partIds, number]
  );
}

/**
 * Writes new heads for the trains being planned that use a changed part. Assembled trains are records of what was
 * built and stay as they are.
 */
async function refreshTrains(owner: string, parts: readonly Part[], on: Queryable): Promise<StoredTrain[]> {
  // Locked first and read after: what another save stored while the lock was waited for is seen.
  const { rows: locked } = await on.query<{ id: string }>(
    `select train.id
       from train
      where train.owner = $1 and train.state <> 'deleted'
        and not exists (select from assembly where assembly.owner = train.owner and assembly.train_id = train.id)
      order by train.id
        for update`,
    [owner]
  );
  const { rows } = await on.query<{ id: string }>(
    `select train.id
       from train
       join lateral (
         select document from train_revision
          where owner = train.owner and train_id = train.id
          order by number desc
          limit 1
       ) head on true
      where train.owner = $1 and train.id = any ($2)
        and exists (
          select from jsonb_array_elements(head.document -> 'elements') element
           where element ->> 'partId' = any ($3))
      order by train.id`,
    [owner, locked.map(({ id }) => id), parts.map(({ partId }) => partId)]
  );
  const heads: StoredTrain[] = [];
  for (const { id } of rows) heads.push(...(await readHead(owner, id, on)));
  return followDrawer(owner, heads, { parts }, on);
}

/** Which of these parts an assembled train holds. */
async function heldOf(owner: string, partIds: readonly string[]): Promise<string[]> {
  const { rows } = await readAs(owner, (on) =>
    on.query<{ part_id: string }>(
      'select distinct part_id from holding where owner = $1 and part_id = any ($2) order by part_id',
      [owner, partIds]
    )
  );
  return rows.map(({ part_id }) => part_id);
}

/** What a change says, whatever becomes of it. */
const digestOf = ({ put, remove }: DrawerChange): Buffer =>
  createHash('sha256')
    .update(JSON.stringify([put.map(({ part, basedOn }) => [partToDocument(part), basedOn]), remove]))
    .digest();

/**
 * Carries out a change of the drawer in one transaction, trains being planned included. The same change id again
 * changes nothing.
 */
export async function changeDrawer(owner: string, change: DrawerChange): Promise<DrawerOutcome> {
  const partIds = change.put.map(({ part }) => part.partId);
  const removed = change.remove.map(({ partId }) => partId);
  const digest = digestOf(change);
  const carryOut = async (client: Queryable): Promise<DrawerOutcome> => {
    const { rows: earlier } = await client.query<{ digest: Buffer | null }>(
      'select digest from drawer_change where owner = $1 and id = $2',
      [owner, change.changeId]
    );
    const [before] = earlier;
    if (before) {
      if (before.digest && !before.digest.equals(digest)) return { kind: 'other-change' };
      const [parts, number] = [await selectParts(owner, { partIds }, client), await drawerNumber(owner, client)];
      return { kind: 'already-changed', parts, trains: [], number };
    }
    const { stale, revived } = await comparedWithStored(owner, change, client);
    if (stale.length > 0) {
      // The change id is not kept: the change may be made again from what is there now.
      const parts = await selectParts(owner, { partIds: stale }, client);
      const there = new Set(parts.map(({ document }) => document.partId));
      const number = await drawerNumber(owner, client);
      return { kind: 'stale', parts, missing: stale.filter((partId) => !there.has(partId)), number };
    }
    await client.query('insert into drawer_change (owner, id, digest) values ($1, $2, $3)', [
      owner,
      change.changeId,
      digest
    ]);
    const number = await nextDrawerNumber(owner, client);
    if (removed.length > 0) await dropParts(owner, removed, number, client);
    if (change.put.length > 0) {
      const parts = change.put.map(({ part }) => part);
      await storeParts(owner, parts, number, client);
    }
    // A part that never was before is named by no train that took it from here.
    const followed = change.put
      .filter(({ part, basedOn }) => basedOn !== null || revived.has(part.partId))
      .map(({ part }) => part);
    const trains = followed.length > 0 ? await refreshTrains(owner, followed, client) : [];
    return { kind: 'changed', parts: await selectParts(owner, { partIds }, client), trains, number };
  };
  try {
    return await asOwner(owner, carryOut, 'change');
  } catch (error) {
    if (!hasCode(error, FOREIGN_KEY_VIOLATION)) throw error;
    return { kind: 'held', partIds: await heldOf(owner, [...removed, ...partIds]) };
  }
}

/** How long a change may be sent again under its id, days: longer than any laptop sleeps with unsent work. */
const CHANGES_KEPT_DAYS = 400;

/** Forgets ids of changes that nobody will send again. */
export async function forgetOldChanges(owner: string): Promise<void> {
  await asOwner(owner, (on) =>
    on.query(`delete from drawer_change where owner = $1 and at < now() - make_interval(days => $2)`, [
      owner,
      CHANGES_KEPT_DAYS
    ])
  );
}
