import { readTrain, sameJson, type Train } from '@lodestone/core';
import {
  locationSteps,
  readPart,
  refreshedPart,
  type Measurement,
  type Part,
  type PartUse
} from '@lodestone/core/drawer';
import type { StoredDrawer, StoredPart } from '$lib/api/drawer.ts';
import type { StoredTrain } from '$lib/api/trains.ts';
import { randomUUID } from 'node:crypto';
import type { PoolClient } from 'pg';
import { FOREIGN_KEY_VIOLATION, database, hasCode, transaction, type Queryable } from './database.ts';
import { insertRevision, readRevision } from './trains.ts';

/** A change to the drawer: all of it is stored, or nothing. `basedOn` null: the part must not be there yet. */
export interface DrawerChange {
  changeId: string;
  put: { part: Part; basedOn: number | null }[];
  remove: { partId: string; basedOn: number | null }[];
}

export type DrawerOutcome =
  | { kind: 'changed' | 'already-changed'; parts: StoredPart[]; trains: StoredTrain[] }
  | { kind: 'stale'; parts: StoredPart[]; missing: string[] }
  | { kind: 'held'; partIds: string[] };

interface PartRow {
  part_id: string;
  element: Record<string, unknown>;
  quantity: number;
  owned: boolean;
  price: number | null;
  state: string;
  location: string | null;
  measurements: Measurement[] | null;
  version: number;
  photo: string | null;
  changed_at: Date;
}

/** Rows of parts as documents, deleted ones left out unless asked for by number. */
const SELECT_PARTS = `
  with recursive place (id, path) as (
    select id, name from location where owner = $1 and parent_id is null
    union all
    select location.id, place.path || ' / ' || location.name
      from location join place on location.parent_id = place.id
     where location.owner = $1
  )
  select part.part_id, part.element, part.quantity, part.owned, part.price, part.state, part.version, part.changed_at,
         place.path as location,
         encode(part_photo.hash, 'hex') as photo,
         series.measurements
    from part
    left join place on place.id = part.location_id
    left join part_photo on part_photo.owner = part.owner and part_photo.part_id = part.part_id
    left join (
      select part_id,
             jsonb_agg(jsonb_strip_nulls(jsonb_build_object(
               'lengthMm', length_mm, 'zeroMm', zero_mm, 'instrument', instrument, 'maxErrorMm', max_error_mm,
               'date', to_char(measured_on, 'YYYY-MM-DD'), 'note', note)) order by position) as measurements
        from measurement
       where owner = $1
       group by part_id
    ) series on series.part_id = part.part_id
   where part.owner = $1 and part.deleted_at is null`;

function toStored(row: PartRow): StoredPart {
  const { part_id, element, quantity, owned, price, state, location, measurements, version, photo, changed_at } = row;
  return {
    document: {
      partId: part_id,
      ...element,
      ...(quantity === 1 ? {} : { quantity }),
      ...(owned ? {} : { owned }),
      ...(price === null ? {} : { price }),
      ...(location === null ? {} : { location }),
      ...(state === 'spare' ? {} : { state }),
      ...(measurements === null ? {} : { measurements })
    },
    version,
    photo,
    changedAt: changed_at.toISOString()
  };
}

async function selectParts(owner: string, partIds: string[] | undefined, on: Queryable): Promise<StoredPart[]> {
  const { rows } = await (partIds
    ? on.query<PartRow>(`${SELECT_PARTS} and part.part_id = any ($2)`, [owner, partIds])
    : on.query<PartRow>(`${SELECT_PARTS} order by part.part_id`, [owner]));
  return rows.map(toStored);
}

export async function hasParts(owner: string): Promise<boolean> {
  const { rowCount } = await database().query('select from part where owner = $1 limit 1', [owner]);
  return rowCount !== 0;
}

/** Where parts are used: what assembled trains hold, and what the plans of the others name. */
export async function listUses(owner: string, on: Queryable = database()): Promise<PartUse[]> {
  const { rows } = await on.query<{
    part_id: string;
    train_id: string;
    train_name: string;
    copy: number | null;
    assembled: boolean;
  }>(
    `with head as (
       select distinct on (train.id) train.id, revision.document
         from train
         join train_revision revision on revision.owner = train.owner and revision.train_id = train.id
        where train.owner = $1 and train.state <> 'deleted'
        order by train.id, revision.number desc
     )
     select holding.part_id, holding.train_id, head.document ->> 'name' as train_name, holding.copy, true as assembled
       from holding join head on head.id = holding.train_id
      where holding.owner = $1
     union all
     select element ->> 'partId', head.id, head.document ->> 'name', (element ->> 'copy')::integer, false
       from head cross join lateral jsonb_array_elements(head.document -> 'elements') element
      where element ? 'partId'
        and not exists (select from assembly where assembly.owner = $1 and assembly.train_id = head.id)
      order by part_id, train_name`,
    [owner]
  );
  return rows.map(({ part_id, train_id, train_name, copy, assembled }) => ({
    partId: part_id,
    trainId: train_id,
    trainName: train_name,
    copy: copy ?? undefined,
    assembled
  }));
}

export async function readDrawerOf(owner: string): Promise<StoredDrawer> {
  const [parts, uses] = await Promise.all([selectParts(owner, undefined, database()), listUses(owner)]);
  return { parts, uses };
}

export async function readParts(owner: string, partIds: string[], on: Queryable = database()): Promise<StoredPart[]> {
  return selectParts(owner, partIds, on);
}

/** Ids of places, made where they are missing, by path. */
async function ensureLocations(owner: string, paths: ReadonlySet<string>, on: Queryable): Promise<Map<string, number>> {
  const ids = new Map<string, number>();
  for (const path of paths) {
    let parent: number | null = null;
    let walked = '';
    for (const name of locationSteps(path)) {
      walked = walked === '' ? name : `${walked} / ${name}`;
      let id = ids.get(walked);
      if (id === undefined) {
        await on.query(
          `insert into location (owner, parent_id, name) values ($1, $2, $3)
           on conflict (owner, parent_id, name) do nothing`,
          [owner, parent, name]
        );
        const { rows }: { rows: { id: string }[] } = await on.query(
          'select id from location where owner = $1 and parent_id is not distinct from $2 and name = $3',
          [owner, parent, name]
        );
        id = Number(rows[0]!.id);
        ids.set(walked, id);
      }
      parent = id;
    }
  }
  return ids;
}

/** Numbers of parts whose stored version is not the one a change was made from. */
async function staleParts(owner: string, { put, remove }: DrawerChange, on: Queryable): Promise<string[]> {
  const based = new Map<string, number | null>([
    ...put.map(({ part, basedOn }) => [part.partId, basedOn] as const),
    ...remove.map(({ partId, basedOn }) => [partId, basedOn] as const)
  ]);
  const { rows } = await on.query<{ part_id: string; version: number; deleted: boolean }>(
    `select part_id, version, deleted_at is not null as deleted
       from part
      where owner = $1 and part_id = any ($2)
      order by part_id
        for update`,
    [owner, [...based.keys()]]
  );
  const there = new Map(rows.map((row) => [row.part_id, row]));
  return [...based]
    .filter(([partId, basedOn]) => {
      const row = there.get(partId);
      const version = row && !row.deleted ? row.version : null;
      return version !== basedOn;
    })
    .map(([partId]) => partId);
}

async function storeParts(owner: string, parts: readonly Part[], on: Queryable): Promise<void> {
  const places = await ensureLocations(owner, new Set(parts.map(({ location }) => location)), on);
  const rows = parts.map((part) => {
    const { partId, element, quantity, owned, price, state, location } = part;
    const { id: _id, ...own } = element;
    return {
      part_id: partId,
      kind: element.kind,
      name: element.name,
      length_mm: element.lengthMm,
      quantity,
      owned,
      price: price ?? null,
      state,
      location_id: places.get(location) ?? null,
      element: own
    };
  });
  const partIds = parts.map(({ partId }) => partId);
  await on.query(
    `insert into part (owner, part_id, kind, name, length_mm, quantity, owned, price, state, location_id, element)
     select $1, part_id, kind, name, length_mm, quantity, owned, price, state, location_id, element
       from jsonb_to_recordset($2::jsonb) as made (
              part_id text, kind text, name text, length_mm double precision, quantity integer, owned boolean,
              price double precision, state text, location_id bigint, element jsonb)
     on conflict (owner, part_id) do update
        set kind = excluded.kind, name = excluded.name, length_mm = excluded.length_mm, quantity = excluded.quantity,
            owned = excluded.owned, price = excluded.price, state = excluded.state,
            location_id = excluded.location_id, element = excluded.element,
            version = part.version + 1, deleted_at = null, changed_at = now()`,
    [owner, JSON.stringify(rows)]
  );
  await on.query(
    `insert into part_copy (owner, part_id, copy)
     select owner, part_id, copy
       from part cross join lateral generate_series(1, quantity) copy
      where owner = $1 and part_id = any ($2)
     on conflict do nothing`,
    [owner, partIds]
  );
  await on.query(
    `delete from part_copy using part
      where part.owner = $1 and part.part_id = any ($2)
        and part_copy.owner = part.owner and part_copy.part_id = part.part_id and part_copy.copy > part.quantity`,
    [owner, partIds]
  );
  await on.query('delete from measurement where owner = $1 and part_id = any ($2)', [owner, partIds]);
  const series = parts.flatMap(({ partId, measurements }) =>
    measurements.map(({ lengthMm, zeroMm, instrument, maxErrorMm, date, note }, position) => ({
      part_id: partId,
      position,
      length_mm: lengthMm,
      zero_mm: zeroMm ?? null,
      instrument: instrument ?? null,
      max_error_mm: maxErrorMm ?? null,
      measured_on: date ?? null,
      note: note ?? null
    }))
  );
  if (series.length === 0) return;
  await on.query(
    `insert into measurement
            (owner, part_id, position, length_mm, zero_mm, instrument, max_error_mm, measured_on, note)
     select $1, part_id, position, length_mm, zero_mm, instrument, max_error_mm, measured_on, note
       from jsonb_to_recordset($2::jsonb) as made (
              part_id text, position integer, length_mm double precision, zero_mm double precision, instrument text,
              max_error_mm double precision, measured_on date, note text)`,
    [owner, JSON.stringify(series)]
  );
}

async function dropParts(owner: string, partIds: readonly string[], on: Queryable): Promise<void> {
  // What an assembled train holds keeps its copy: the foreign key of the holding refuses.
  await on.query('delete from part_copy where owner = $1 and part_id = any ($2)', [owner, partIds]);
  await on.query(
    `update part set deleted_at = now(), changed_at = now(), version = version + 1
      where owner = $1 and part_id = any ($2)`,
    [owner, partIds]
  );
}

/**
 * Writes new heads for the trains being planned that use a changed part. Assembled trains are records of what was
 * built and stay as they are; so does a train that the change would make invalid.
 */
async function refreshTrains(owner: string, parts: readonly Part[], on: PoolClient): Promise<StoredTrain[]> {
  const byId = new Map(parts.map((part) => [part.partId, part]));
  const { rows } = await on.query<{ id: string }>(
    `select train.id
       from train
      where train.owner = $1 and train.state <> 'deleted'
        and not exists (select from assembly where assembly.owner = train.owner and assembly.train_id = train.id)
        and exists (
          select from (
            select document from train_revision
             where owner = train.owner and train_id = train.id
             order by number desc limit 1
          ) head, jsonb_array_elements(head.document -> 'elements') element
           where element ->> 'partId' = any ($2))
      order by train.id
        for update`,
    [owner, [...byId.keys()]]
  );
  const refreshed: StoredTrain[] = [];
  for (const { id } of rows) {
    const head = (await readRevision(owner, id, undefined, on))!;
    const document: Train = {
      ...head.document,
      elements: head.document.elements.map((element) => {
        const part = 'partId' in element && element.partId !== undefined ? byId.get(element.partId) : undefined;
        return part ? refreshedPart(element, part) : element;
      })
    };
    const reading = readTrain(document);
    if (!reading.ok || sameJson(reading.document, head.document)) continue;
    await insertRevision(owner, id, head.revision.number + 1, randomUUID(), reading.document, on);
    refreshed.push((await readRevision(owner, id, undefined, on))!);
  }
  return refreshed;
}

/** Parts of a train's plan that another assembled train holds, or that are needed more often than they exist. */
export async function heldElsewhere(
  owner: string,
  partIds: readonly string[],
  on: Queryable = database()
): Promise<string[]> {
  const { rows } = await on.query<{ part_id: string }>(
    'select distinct part_id from holding where owner = $1 and part_id = any ($2)',
    [owner, partIds]
  );
  return rows.map(({ part_id }) => part_id);
}

/**
 * Carries out a change of the drawer in one transaction, trains being planned included. The same change id again
 * changes nothing.
 */
export async function changeDrawer(owner: string, change: DrawerChange): Promise<DrawerOutcome> {
  const partIds = change.put.map(({ part }) => part.partId);
  const removed = change.remove.map(({ partId }) => partId);
  try {
    return await transaction(async (client): Promise<DrawerOutcome> => {
      const { rowCount } = await client.query(
        'insert into drawer_change (id, owner) values ($1, $2) on conflict (id) do nothing',
        [change.changeId, owner]
      );
      if (rowCount === 0) {
        return { kind: 'already-changed', parts: await selectParts(owner, partIds, client), trains: [] };
      }
      const stale = await staleParts(owner, change, client);
      if (stale.length > 0) {
        const parts = await selectParts(owner, stale, client);
        const there = new Set(parts.map(({ document }) => document.partId));
        // Thrown, so that the change id is not kept: the change may be made again from what is there now.
        throw new StaleChange(
          parts,
          stale.filter((partId) => !there.has(partId))
        );
      }
      if (removed.length > 0) await dropParts(owner, removed, client);
      if (change.put.length > 0) {
        await storeParts(
          owner,
          change.put.map(({ part }) => part),
          client
        );
      }
      const trains = await refreshTrains(
        owner,
        change.put.filter(({ basedOn }) => basedOn !== null).map(({ part }) => part),
        client
      );
      return { kind: 'changed', parts: await selectParts(owner, partIds, client), trains };
    });
  } catch (error) {
    if (error instanceof StaleChange) return { kind: 'stale', parts: error.parts, missing: error.missing };
    if (!hasCode(error, FOREIGN_KEY_VIOLATION)) throw error;
    return { kind: 'held', partIds: await heldElsewhere(owner, [...removed, ...partIds]) };
  }
}

class StaleChange extends Error {
  constructor(
    readonly parts: StoredPart[],
    readonly missing: string[]
  ) {
    super('stale');
  }
}

/** A stored part as core knows it. */
export function toPart({ document }: StoredPart): Part {
  const reading = readPart(document);
  if (!reading.ok) throw new Error(`The stored part ${String(document.partId)} is not a part`);
  return reading.document;
}

/** The whole drawer as core knows it. */
export const listParts = async (owner: string): Promise<Part[]> =>
  (await selectParts(owner, undefined, database())).map(toPart);
