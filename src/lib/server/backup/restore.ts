import { readDrawer } from '@lodestone/core/drawer';
import { isRecord } from '@lodestone/core/train';
import type { RestoreReport } from '$lib/api/backup.ts';
import { error } from '@sveltejs/kit';
import pg from 'pg';
import { asOwner, readAs, type Queryable } from '../database.ts';
import { ensurePlaces } from '../places.ts';
import { Archive, BadBackup, type BackedRow } from './archive.ts';
import { TABLES, fileOf, type BackedTable } from './tables.ts';

/** Rows are stored in batches of at most so many, and letters. */
const BATCH_ROWS = 200;
const BATCH_LETTERS = 8_000_000;

/** What of a backup is not here yet. */
interface Fresh {
  trains: ReadonlySet<string>;
  parts: ReadonlySet<string>;
  /** Trains that are put together there, and can be so here: their copies are in no other. */
  together: ReadonlySet<string>;
}

const text = (row: BackedRow['row'], key: string): string => {
  const value = row[key];
  if (typeof value !== 'string') throw new BadBackup(`A row of the backup has no “${key}”.`);
  return value;
};

async function existing(
  owner: string,
  on: Queryable,
  what: 'train' | 'part',
  ids: readonly string[]
): Promise<Set<string>> {
  const key = what === 'train' ? 'id' : 'part_id';
  const { rows } = await on.query<{ id: string }>(
    `select ${key}::text as id from ${what} where owner = $1 and ${key}::text = any($2)`,
    [owner, ids]
  );
  return new Set(rows.map(({ id }) => id));
}

/** A part that the drawer could not read would take all others with it: each is looked at before it is let in. */
function checkPart({ row }: BackedRow): void {
  const { part_id: partId, element } = row;
  const reading = readDrawer({
    lodestone: 'drawer/1',
    parts: [{ ...(isRecord(element) ? element : {}), partId, id: undefined }].map(
      (part) => JSON.parse(JSON.stringify(part)) as unknown
    )
  });
  if (!reading.ok) {
    const [first] = reading.complaints;
    throw new BadBackup(
      `${fileOf({ name: 'part' })}: part ${String(partId)}: ${first?.place ?? ''} ${first?.message ?? ''}`
    );
  }
}

/** What stands in a backup, by ids: each row that is looked at is checked. */
interface Contents {
  trains: string[];
  parts: string[];
  /** Names of trains, as their newest state has them. */
  names: ReadonlyMap<string, string>;
  /** Copies of parts that each assembled train holds. */
  held: ReadonlyMap<string, readonly string[]>;
}

const copyOf = (part: string, copy: number): string => `${copy} ${part}`;

async function contentsOf(archive: Archive): Promise<Contents> {
  const names = new Map<string, string>();
  const heads = new Map<string, number>();
  const held = new Map<string, string[]>();
  const trains: string[] = [];
  const parts: string[] = [];
  for await (const { row } of archive.rows('train')) trains.push(text(row, 'id'));
  for await (const { row } of archive.rows('train_revision')) {
    const id = text(row, 'train_id');
    const { number, document } = row;
    if (typeof number !== 'number' || !isRecord(document)) {
      throw new BadBackup('A revision of the backup has no document.');
    }
    if (number < (heads.get(id) ?? 0)) continue;
    heads.set(id, number);
    names.set(id, typeof document.name === 'string' ? document.name : 'a train');
  }
  for await (const part of archive.rows('part')) {
    checkPart(part);
    parts.push(text(part.row, 'part_id'));
  }
  for await (const { row } of archive.rows('holding')) {
    const train = text(row, 'train_id');
    held.set(train, [...(held.get(train) ?? []), copyOf(text(row, 'part_id'), Number(row.copy))]);
  }
  return { trains, parts, names, held };
}

/** Assembled trains that can be so here as well: the copies they hold come along, or are here and in no other. */
async function togetherIn(
  owner: string,
  archive: Archive,
  { held }: Contents,
  fresh: Pick<Fresh, 'trains' | 'parts'>,
  on: Queryable
): Promise<{ together: Set<string>; apart: string[] }> {
  const { rows } = await on.query<{ part_id: string; copy: number }>(
    `select part_id, copy from part_copy copies
      where owner = $1
        and not exists (
          select from holding where owner = $1 and part_id = copies.part_id and copy = copies.copy
        )`,
    [owner]
  );
  const free = new Set(rows.map(({ part_id, copy }) => copyOf(part_id, copy)));
  const together = new Set<string>();
  const apart: string[] = [];
  for await (const { row } of archive.rows('assembly')) {
    const id = text(row, 'train_id');
    if (!fresh.trains.has(id)) continue;
    const canBe = (held.get(id) ?? []).every(
      (copy) => fresh.parts.has(copy.slice(copy.indexOf(' ') + 1)) || free.has(copy)
    );
    if (canBe) together.add(id);
    else apart.push(id);
  }
  return { together, apart };
}

/** Looks at all of a backup: whether it can be trusted, and what it would bring. Nothing is changed. */
async function lookAt(
  owner: string,
  archive: Archive,
  on: Queryable
): Promise<{ report: RestoreReport; fresh: Fresh }> {
  const contents = await contentsOf(archive);
  const trainsHere = await existing(owner, on, 'train', contents.trains);
  const partsHere = await existing(owner, on, 'part', contents.parts);
  const trains = new Set(contents.trains.filter((id) => !trainsHere.has(id)));
  const parts = new Set(contents.parts.filter((id) => !partsHere.has(id)));
  const { together, apart } = await togetherIn(owner, archive, contents, { trains, parts }, on);
  const records = new Set<string>();
  for await (const { row } of archive.rows('build_record')) {
    if (trains.has(text(row, 'train_id'))) records.add(text(row, 'id'));
  }
  let [frames, photos] = [0, 0];
  for await (const { row } of archive.rows('frame')) if (trains.has(text(row, 'train_id'))) frames++;
  for await (const { row } of archive.rows('record_photo')) if (records.has(text(row, 'record_id'))) photos++;
  for await (const { row } of archive.rows('part_photo')) if (parts.has(text(row, 'part_id'))) photos++;
  // What is left is read too: all of it has to be as the manifest has it.
  for (const name of ['revision_name', 'share_link', 'part_copy', 'measurement', 'frame_piece', 'scan', 'setting']) {
    for await (const row of archive.rows(name)) void row;
  }
  const nameOf = (id: string): string => contents.names.get(id) ?? id;
  return {
    fresh: { trains, parts, together },
    report: {
      madeAt: archive.manifest.madeAt,
      trains: { fresh: [...trains].map(nameOf), there: [...trainsHere].map(nameOf) },
      parts: { fresh: parts.size, there: partsHere.size },
      records: records.size,
      frames,
      photos,
      apart: apart.map(nameOf)
    }
  };
}

/** What a backup would bring into this installation. @throws BadBackup */
export const tryRestore = (owner: string, archive: Archive): Promise<RestoreReport> =>
  readAs(owner, async (on) => (await lookAt(owner, archive, on)).report);

/** Columns of a table that are stored as they are written. */
async function columnsOf({ name, leave = [] }: BackedTable, on: Queryable): Promise<string[]> {
  const { rows } = await on.query<{ name: string }>(
    `select attname as name from pg_attribute
      where attrelid = $1::regclass and attnum > 0 and not attisdropped and attgenerated = ''`,
    [name]
  );
  return rows.map((row) => row.name).filter((column) => column !== 'owner' && !leave.includes(column));
}

/** Stores rows that are let in. */
async function storeRows(
  owner: string,
  archive: Archive,
  table: BackedTable,
  isLetIn: (row: BackedRow['row']) => boolean,
  on: Queryable
): Promise<void> {
  const columns = await columnsOf(table, on);
  const placed = table.name === 'part';
  const insert = `insert into ${table.name} (owner, ${columns.join(', ')}${placed ? ', location_id' : ''})
    select $1, ${columns.map((column) => `r.${column}`).join(', ')}${placed ? ', (places.ids ->> places.path)::bigint' : ''}
      from jsonb_array_elements($2::jsonb) line
     cross join lateral jsonb_populate_record(null::${table.name}, line) r
     ${placed ? `cross join lateral (select $3::jsonb as ids, line ->> 'place' as path) places` : ''}
     ${table.of === 'owner' ? 'on conflict do nothing' : ''}`;
  let batch: BackedRow[] = [];
  let letters = 0;
  const flush = async (): Promise<void> => {
    if (batch.length === 0) return;
    const paths = new Set(batch.flatMap(({ row }) => (placed && typeof row.place === 'string' ? [row.place] : [])));
    const ids = placed ? [JSON.stringify(Object.fromEntries(await ensurePlaces(owner, paths, on)))] : [];
    await on.query(insert, [owner, `[${batch.map(({ line }) => line).join(',')}]`, ...ids]);
    batch = [];
    letters = 0;
  };
  for await (const each of archive.rows(table.name)) {
    if (!isLetIn(each.row)) continue;
    batch.push(each);
    letters += each.line.length;
    if (batch.length >= BATCH_ROWS || letters >= BATCH_LETTERS) await flush();
  }
  await flush();
}

/**
 * Brings in what a backup has and this installation has not: trains by their id, parts by their number, each with all
 * that belongs to it. What is here stays as it is. All of it is stored, or nothing.
 *
 * @throws BadBackup
 */
export async function restore(owner: string, archive: Archive): Promise<RestoreReport> {
  try {
    return await asOwner(
      owner,
      async (on) => {
        const { report, fresh } = await lookAt(owner, archive, on);
        const records = new Set<string>();
        const frames = new Set<string>();
        const isLetIn = (table: BackedTable, row: BackedRow['row']): boolean => {
          switch (table.name) {
            case 'setting':
            case 'scan':
              return true;
            case 'train':
              return fresh.trains.has(text(row, 'id'));
            case 'assembly':
            case 'holding':
              return fresh.together.has(text(row, 'train_id'));
            case 'record_photo':
              return records.has(text(row, 'record_id'));
            case 'frame_piece':
              return frames.has(text(row, 'frame_id'));
            default:
              return table.of === 'part'
                ? fresh.parts.has(text(row, 'part_id'))
                : fresh.trains.has(text(row, 'train_id'));
          }
        };
        for (const table of TABLES) {
          await storeRows(
            owner,
            archive,
            table,
            (row) => {
              const letIn = isLetIn(table, row);
              if (letIn && table.name === 'build_record') records.add(text(row, 'id'));
              if (letIn && table.name === 'frame') frames.add(text(row, 'id'));
              return letIn;
            },
            on
          );
        }
        if (fresh.parts.size > 0) {
          await on.query(
            `insert into drawer_state (owner, number) values ($1, 1)
             on conflict (owner) do update set number = drawer_state.number + 1`,
            [owner]
          );
        }
        return report;
      },
      'change'
    );
  } catch (error) {
    // Class 22 and 23: what a row says is impossible, or contradicts another (PostgreSQL documentation, Appendix A).
    if (error instanceof pg.DatabaseError && /^2[23]/.test(error.code ?? '')) {
      throw new BadBackup(`A row of the backup contradicts another: ${error.message}. Nothing was restored.`);
    }
    throw error;
  }
}

/**
 * Restores from an archive that lies in a file, or only says what that would bring.
 *
 * @throws 422 with what is wrong with the archive
 */
export async function restoreFrom(owner: string, path: string, isTry: boolean): Promise<RestoreReport> {
  try {
    const archive = await Archive.open(path);
    try {
      return await (isTry ? tryRestore : restore)(owner, archive);
    } finally {
      archive.close();
    }
  } catch (failure) {
    if (failure instanceof BadBackup) error(422, failure.message);
    throw failure;
  }
}
