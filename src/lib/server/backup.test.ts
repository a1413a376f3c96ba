// Everything into an archive and back: the same bytes, nothing of what is here touched, and nothing bad let in.
import { randomUUID } from 'node:crypto';
import { createWriteStream, readFileSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, rm, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NO_FAULTS } from '@lodestone/core/experiment';
import pg from 'pg';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { openPromise, type Entry } from 'yauzl';
import { ZipFile } from 'yazl';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import drawerFile from '../../../demo/drawer.json';
import { readDrawer } from '@lodestone/core/drawer';
import { assembleTrain, readAssembly } from './assembly.ts';
import { Archive, BadBackup } from './backup/archive.ts';
import { backUpWhereDue, keepBackup, keptBackups, pathOfKept, setSchedule } from './backup/kept.ts';
import { restore, restoreFrom, tryRestore } from './backup/restore.ts';
import { NOT_BACKED, TABLES } from './backup/tables.ts';
import { writeBackup } from './backup/write.ts';
import { asOwner, closeDatabase } from './database.ts';
import { changeDrawer, readDrawerOf } from './drawer.ts';
import { storeFrame } from './frames.ts';
import { nameRevision } from './history.ts';
import { endStreams } from './live.ts';
import { withPath } from './scratch.ts';
import { keepScan } from './scans.ts';
import { makeLink } from './share.ts';
import { adminUrl, asFile, frameOf, heron, ownerUrl, summaryOf } from './testing.ts';
import { createTrain, listTrains, saveRevision } from './trains.ts';

const owner = `backup ${randomUUID()}`;
let id: string;

beforeAll(async () => {
  await migrate(ownerUrl);
});
afterAll(async () => {
  await endStreams();
  await closeDatabase();
});

/** Texts of an archive by name. */
async function textsOf(path: string): Promise<Map<string, string>> {
  const zip = await openPromise(path, { lazyEntries: true, autoClose: false });
  const entries: Entry[] = [];
  await new Promise<void>((done) => {
    zip.on('entry', (entry: Entry) => {
      entries.push(entry);
      zip.readEntry();
    });
    zip.once('end', done);
    zip.readEntry();
  });
  const texts = new Map<string, string>();
  for (const entry of entries) {
    const pieces: Buffer[] = [];
    for await (const piece of await zip.openReadStreamPromise(entry)) pieces.push(piece as Buffer);
    texts.set(entry.fileName, Buffer.concat(pieces).toString('utf8'));
  }
  zip.close();
  return texts;
}

async function zipped(path: string, texts: ReadonlyMap<string, string>): Promise<void> {
  const zip = new ZipFile();
  for (const [name, text] of texts) zip.addBuffer(Buffer.from(text), name);
  zip.end();
  await new Promise<void>((done) => zip.outputStream.pipe(createWriteStream(path)).once('close', done));
}

async function withArchive<T>(path: string, work: (archive: Archive) => Promise<T>): Promise<T> {
  const archive = await Archive.open(path);
  try {
    return await work(archive);
  } finally {
    archive.close();
  }
}

/** Another installation: an owner who has nothing yet. */
const elsewhere = (): string => `elsewhere-${randomUUID()}`;

/** Thirty parts of the demo's drawer. */
async function own(by: string): Promise<void> {
  const reading = readDrawer(drawerFile);
  if (!reading.ok) throw new Error('the demo must be a drawer');
  await changeDrawer(by, {
    changeId: randomUUID(),
    put: reading.document.slice(0, 30).map((part) => ({ part, basedOn: null })),
    remove: []
  });
}

async function fill(): Promise<void> {
  const made = await createTrain(owner, randomUUID(), heron);
  if (made.kind !== 'stored') throw new Error(made.kind);
  ({ id } = made.train);
  for (let number = 1; number < 4; number++) {
    await saveRevision(owner, id, {
      saveId: randomUUID(),
      basedOn: number,
      document: { ...heron, note: `state ${number}, 17.20 ″ — ünïcode` }
    });
  }
  await nameRevision(owner, id, 2, 'Before');
  await makeLink(owner, id, undefined);
  await own(owner);
  await asFile(Buffer.from('%PDF-1.4 a drawing'), (file) => keepScan(owner, file));
  const frame = await frameOf(heron, NO_FAULTS, 1, 8);
  await asFile(frame, async (file) => storeFrame(owner, id, 'Frame', file, await summaryOf(frame)));
  await assembleTrain(owner, id, 4, { id: randomUUID(), note: 'As built' });
}

describe('a backup', () => {
  it('brings into an empty installation what was there: its backup is the same, byte for byte', async () => {
    await fill();
    await withPath(async (path) => {
      await writeBackup(owner, path, true);
      const other = elsewhere();
      // An installation has its own ids: what is brought in must not meet what is here.
      await purge(owner);
      const report = await withArchive(path, (archive) => restore(other, archive));
      expect(report).toMatchObject({
        trains: { fresh: ['Heron'], there: [] },
        parts: { fresh: 30, there: 0 },
        records: 1,
        frames: 1,
        apart: []
      });
      await withPath(async (again) => {
        await writeBackup(other, again, true);
        const [was, is] = [await textsOf(path), await textsOf(again)];
        expect([...is.keys()]).toEqual([...was.keys()]);
        for (const [name, text] of was) if (name !== 'manifest.json') expect(is.get(name), name).toBe(text);
      });
      // Once more: everything is here, and nothing is touched.
      const twice = await withArchive(path, (archive) => restore(other, archive));
      expect(twice).toMatchObject({ trains: { fresh: [], there: ['Heron'] }, parts: { fresh: 0, there: 30 } });
      expect((await listTrains(other)).length).toBe(1);
      expect((await readDrawerOf(other)).parts.length).toBe(30);
      await purge(other);

      // Where the same copies are in another train, this one comes taken apart, and that one stays as it is.
      const busy = elsewhere();
      await own(busy);
      const mine = await createTrain(busy, randomUUID(), { ...heron, name: 'Mine' });
      if (mine.kind !== 'stored') throw new Error(mine.kind);
      expect((await assembleTrain(busy, mine.train.id, 1, undefined)).kind).toBe('assembled');
      const met = await withArchive(path, (archive) => restore(busy, archive));
      expect(met).toMatchObject({ apart: ['Heron'], parts: { fresh: 0, there: 30 } });
      expect(await readAssembly(busy, mine.train.id)).toBeDefined();
      expect(await readAssembly(busy, id)).toBeUndefined();
    });
  });

  it('is tried without changing anything, and leaves what is here as it is', async () => {
    const mine = elsewhere();
    await restoreInto(mine, {});
    await withPath(async (path) => {
      await writeBackup(mine, path, false);
      const other = elsewhere();
      const tried = await withArchive(path, (archive) => tryRestore(other, archive));
      expect(tried.trains.fresh).toEqual(['Heron']);
      expect(await listTrains(other)).toEqual([]);
      expect((await textsOf(path)).has('data/frame_piece.ndjson')).toBe(false);
    });
  });
});

describe('backups that are made by themselves', () => {
  let folder: string;
  beforeEach(async () => {
    folder = await mkdtemp(join(tmpdir(), 'lodestone-backups-'));
    process.env.LODESTONE_BACKUPS = folder;
  });
  afterEach(async () => {
    delete process.env.LODESTONE_BACKUPS;
    await rm(folder, { recursive: true, force: true });
  });
  const at = (day: number): Date => new Date(Date.UTC(2026, 10, day, 3, 4, 5));
  /** As if the last one had been begun so long ago. */
  const daysLater = (by: string, days: number) =>
    asOwner(by, (on) =>
      on.query('update setting set backup_at = backup_at - make_interval(days => $2) where owner = $1', [by, days])
    );

  it('the newest are kept, can be read, and what somebody put beside them stays', async () => {
    const by = elsewhere();
    await restoreInto(by, {});
    const { folder: own } = await keptBackups(by);
    const folder = own!;
    await writeFile(join(folder, 'from-the-old-server.zip'), 'whatever');
    // What two servers were killed over: one long ago, one just now.
    const [old, fresh] = ['.lodestone-1.zip.half', '.lodestone-2.zip.half'].map((name) => join(folder, name));
    for (const half of [old!, fresh!]) await writeFile(half, 'half');
    await utimes(old!, 0, 0);
    for (const day of [1, 2, 3, 4]) await keepBackup(by, folder, 2, at(day));
    const { list } = await keptBackups(by);
    const made = list.filter(({ isOwn }) => isOwn);
    expect(made.map(({ madeAt }) => madeAt)).toEqual(['2026-11-04T03:04:05Z', '2026-11-03T03:04:05Z']);
    expect(list.map(({ name }) => name)).toContain('from-the-old-server.zip');
    expect((await readdir(folder)).filter((name) => name.startsWith('.'))).toEqual(['.lodestone-2.zip.half']);
    const path = (await pathOfKept(by, made[0]!.name))!;
    expect((await restoreFrom(elsewhere(), path, true)).trains.fresh).toEqual(['Heron']);
    for (const name of ['../../etc/passwd', 'none.zip', '']) expect(await pathOfKept(by, name)).toBeUndefined();
    // Another owner sees none of them.
    const other = elsewhere();
    expect((await keptBackups(other)).list).toEqual([]);
    expect(await pathOfKept(other, made[0]!.name)).toBeUndefined();
    await expect(restoreFrom(by, join(folder, 'from-the-old-server.zip'), true)).rejects.toMatchObject({ status: 422 });
  });

  it('one is made when it is due, by one server of two, and not again before the next is', async () => {
    const by = elsewhere();
    expect(await backUpWhereDue(by)).toBeUndefined();
    await setSchedule(by, { days: 7, keep: 3 });
    const made = await Promise.all([backUpWhereDue(by), backUpWhereDue(by)]);
    expect(made.filter(Boolean)).toHaveLength(1);
    expect(await backUpWhereDue(by)).toBeUndefined();
    await daysLater(by, 6);
    expect(await backUpWhereDue(by)).toBeUndefined();
    await daysLater(by, 1);
    expect(await backUpWhereDue(by)).toBeDefined();
    await setSchedule(by, { days: null, keep: 3 });
    await daysLater(by, 100);
    expect(await backUpWhereDue(by)).toBeUndefined();
    expect((await keptBackups(by)).list.length).toBeGreaterThan(0);
  });

  it('one that fails says why, leaves no half, and is tried again in an hour', async () => {
    const by = elsewhere();
    await setSchedule(by, { days: 1, keep: 3 });
    await rm(folder, { recursive: true });
    await expect(backUpWhereDue(by)).rejects.toThrow();
    expect((await keptBackups(by)).failure).toMatch(/cannot be read/);
    await mkdir(folder);
    expect((await keptBackups(by)).failure).toMatch(/ENOENT/);
    expect(await backUpWhereDue(by)).toBeUndefined();
    await asOwner(by, (on) =>
      on.query("update setting set backup_at = backup_at - interval '61 minutes' where owner = $1", [by])
    );
    expect(await backUpWhereDue(by)).toBeDefined();
    expect(await keptBackups(by)).toMatchObject({ failure: null, schedule: { days: 1, keep: 3 } });
  });
});

/** Takes everything of an owner away, as whoever owns the tables. */
async function purge(of: string): Promise<void> {
  const client = new pg.Client({ connectionString: adminUrl });
  await client.connect();
  await client.query('begin');
  await client.query(`select set_config('lodestone.purges', 'yes', true)`);
  for (const table of [
    'holding',
    'assembly',
    'record_photo',
    'build_record',
    'frame_piece',
    'frame',
    'share_link',
    'revision_name',
    'train_revision',
    'train',
    'part_photo',
    'scan',
    'measurement',
    'part_copy',
    'part'
  ]) {
    await client.query(`delete from ${table} where owner = $1`, [of]);
  }
  await client.query('commit');
  await client.end();
}

/** A small backup, made by hand. */
async function restoreInto(into: string, changes: Record<string, (text: string) => string>): Promise<void> {
  await withPath(async (path) => {
    await zipped(path, await smallBackup(changes));
    await withArchive(path, (archive) => restore(into, archive));
  });
}

async function smallBackup(changes: Record<string, (text: string) => string>): Promise<Map<string, string>> {
  const source = `small ${randomUUID()}`;
  await createTrain(source, randomUUID(), heron);
  const texts = await withPath(async (path) => {
    await writeBackup(source, path, false);
    return textsOf(path);
  });
  await purge(source);
  for (const [name, change] of Object.entries(changes)) texts.set(name, change(texts.get(name) ?? ''));
  return texts;
}

it('every table with an owner is in a backup, or stays out for a reason', async () => {
  const client = new pg.Client({ connectionString: adminUrl });
  await client.connect();
  const { rows } = await client.query<{ name: string }>(
    `select table_name as name from information_schema.columns
      where column_name = 'owner' and table_schema = current_schema() order by table_name`
  );
  await client.end();
  const known = [...TABLES.map(({ name }) => name), ...Object.keys(NOT_BACKED)].sort();
  expect(rows.map(({ name }) => name)).toEqual(known);
});

describe('what is no backup, or a bad one', () => {
  const refused = async (texts: Map<string, string>): Promise<unknown> =>
    withPath(async (path) => {
      await zipped(path, texts);
      return withArchive(path, (archive) => restore(elsewhere(), archive)).catch((error: unknown) => error);
    });

  it.each([
    ['no archive', Buffer.from('no archive at all')],
    ['nothing', Buffer.alloc(0)],
    ['half of one', readFileSync(new URL('../../../package.json', import.meta.url)).subarray(0, 100)]
  ])('%s is refused', async (_what, bytes) => {
    await withPath(async (path) => {
      await writeFile(path, bytes);
      await expect(Archive.open(path)).rejects.toThrow(BadBackup);
    });
  });

  it.each([
    [
      'a changed row',
      { 'data/train_revision.ndjson': (text: string) => text.replace('"Heron"', '"Herom"') },
      /not as its manifest/
    ],
    ['a row that is none', { 'data/train.ndjson': () => 'nonsense\n' }, /damaged at line 1/],
    ['a newer version', { 'manifest.json': (text: string) => text.replace('backup/1', 'backup/9') }, /newer version/],
    ['another tag', { 'manifest.json': (text: string) => text.replace('backup/1', 'train/1') }, /not that of a backup/],
    ['no manifest', { 'manifest.json': () => '' }, /not valid JSON/],
    ['a file from elsewhere', { 'data/pg_authid.ndjson': () => '{}\n' }, /no file of a backup/]
  ])('%s is refused by name, and nothing is stored', async (_what, changes, why) => {
    const error = await refused(await smallBackup(changes as Record<string, (text: string) => string>));
    expect(error).toBeInstanceOf(BadBackup);
    expect(String(error)).toMatch(why);
  });

  it('a path that leads elsewhere is refused before anything is read', async () => {
    const texts = await smallBackup({});
    await withPath(async (path) => {
      const zip = new ZipFile();
      for (const [name, text] of texts) zip.addBuffer(Buffer.from(text), name);
      zip.addBuffer(Buffer.from('x'), 'aa/aa/etc/passwd');
      zip.end();
      await new Promise<void>((done) => zip.outputStream.pipe(createWriteStream(path)).once('close', done));
      const bytes = readFileSync(path);
      await writeFile(path, Buffer.from(bytes.toString('latin1').replaceAll('aa/aa/etc', '../../etc'), 'latin1'));
      await expect(Archive.open(path)).rejects.toThrow(BadBackup);
    });
  });

  it('a bomb is refused by its sizes', async () => {
    const texts = await smallBackup({ 'data/frame.ndjson': () => `${'0'.repeat(50_000_000)}\n` });
    await withPath(async (path) => {
      await zipped(path, texts);
      await expect(Archive.open(path)).rejects.toThrow(/unpack to more/);
    });
  });
});
