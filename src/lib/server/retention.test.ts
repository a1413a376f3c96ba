// What is let go, and what only when somebody says so: pixels without room, stars of old frames, deleted trains.
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { NO_FAULTS } from '@lodestone/core/experiment';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { MOST_WITH_PIXELS } from '../api/frames.ts';
import { assembleTrain, takeApart } from './assembly.ts';
import type { FrameSummary } from '@lodestone/core/frame';
import { closeDatabase, database } from './database.ts';
import { framePixels, listFrames, storeFrame } from './frames.ts';
import { endStreams } from './live.ts';
import { STARS_WITHOUT_PIXELS, roomOf, setFrameLimit, tidy } from './retention.ts';
import { readRevision } from './revisions.ts';
import { asAdmin, asFile, frameOf, heron, owner, ownerUrl, summaryOf } from './testing.ts';
import { changeState, createTrain, listTrains, purgeTrain, saveRevision } from './trains.ts';

beforeAll(() => migrate(ownerUrl));
afterAll(async () => {
  await endStreams();
  await closeDatabase();
});

const fixture = readFileSync(new URL('../../../core/tests/fits/u16.fits.gz', import.meta.url));
/** The same frame with other bytes behind its last block. */
const another = (number: number): Buffer => Buffer.concat([fixture, Buffer.alloc(number)]);

const kept = (by: string, train: string, name: string, bytes: Uint8Array, summary: FrameSummary) =>
  asFile(bytes, (file) => storeFrame(by, train, name, file, summary));

async function made(by: string): Promise<string> {
  const outcome = await createTrain(by, randomUUID(), heron);
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train.id;
}

/** Counts what a table still has of an owner, or of one train; it looks as the administrator. */
async function rowsOf(table: string, by: string): Promise<number> {
  return (await asAdmin(`select from ${table} where owner = $1`, [by])).rowCount ?? 0;
}

/** A train with three revisions, a record, a frame, and a focuser that was used. */
async function lived(by: string): Promise<string> {
  const id = await made(by);
  for (const basedOn of [1, 2]) {
    await saveRevision(by, id, { saveId: randomUUID(), basedOn, document: { ...heron, name: `Heron ${basedOn}` } });
  }
  await kept(by, id, 'one', fixture, await summaryOf(fixture));
  const assembled = await assembleTrain(by, id, 3, { id: randomUUID(), note: 'first light' });
  expect(assembled.kind).toBe('assembled');
  await takeApart(by, id);
  return id;
}

const TABLES = ['train', 'train_revision', 'build_record', 'frame', 'frame_piece'];

describe('a deleted train', () => {
  it('is listed without its document, with what hangs on it; brought back it has everything', async () => {
    const by = owner();
    const id = await lived(by);
    await made(by);
    await changeState(by, id, 'deleted');
    const listed = await listTrains(by);
    const gone = listed.find((train) => train.id === id)!;
    expect(gone).toMatchObject({ state: 'deleted', name: 'Heron 2', records: 1, frames: 1, revision: { number: 3 } });
    expect(gone).not.toHaveProperty('document');
    expect(JSON.stringify(gone).length).toBeLessThan(400);
    await changeState(by, id, 'active');
    expect((await listTrains(by)).every((train) => 'document' in train)).toBe(true);
    expect((await listFrames(by, id))[0]?.hasPixels).toBe(true);
  });

  it('goes for good with all that hangs on it, once it was deleted, and only for its owner', async () => {
    const by = owner();
    const [id, other] = [await lived(by), await lived(by)];
    expect(await purgeTrain(by, id)).toBe('kept');
    await changeState(by, id, 'deleted');
    expect(await purgeTrain(owner(), id)).toBe('missing');
    const before = await Promise.all(TABLES.map((table) => rowsOf(table, by)));
    expect(await purgeTrain(by, id)).toBe('removed');
    const after = await Promise.all(TABLES.map((table) => rowsOf(table, by)));
    expect(after).toEqual(before.map((rows) => rows / 2));
    expect(await readRevision(by, id)).toBeUndefined();
    expect((await readRevision(by, other))?.revision.number).toBe(3);
    expect(await purgeTrain(by, id)).toBe('missing');
  });

  it('goes by no other way: not by hand, not for another owner, not by a setting alone', async () => {
    const by = owner();
    const id = await lived(by);
    await changeState(by, id, 'deleted');
    const asApplication = async (sql: string) => {
      const client = await database().connect();
      try {
        await client.query('begin');
        await client.query(`select set_config('lodestone.owner', $1, true)`, [owner()]);
        await client.query(`select set_config('lodestone.purges', 'yes', true)`);
        return await client.query(sql);
      } finally {
        await client.query('rollback');
        client.release();
      }
    };
    await expect(asApplication(`delete from train_revision where owner = '${by}'`)).rejects.toThrow('permission');
    await expect(asApplication(`select purge_train('${by}', '${id}')`)).rejects.toThrow('for its owner only');
    await expect(asAdmin(`delete from train_revision where owner = $1`, [by])).rejects.toThrow('never changed');
    await expect(asAdmin(`delete from build_record where owner = $1`, [by])).rejects.toThrow('never changed');
    expect(await rowsOf('train_revision', by)).toBe(3);
  });

  it('keeps its frames’ pixels for a day, in case it is brought back', async () => {
    const by = owner();
    const id = await lived(by);
    await changeState(by, id, 'deleted');
    await tidy(by);
    expect(await rowsOf('frame_piece', by)).toBe(1);
    await asAdmin(`update train set state_changed_at = now() - interval '25 hours' where owner = $1`, [by]);
    await tidy(by);
    expect(await rowsOf('frame_piece', by)).toBe(0);
    expect(await rowsOf('frame', by)).toBe(1);
  });
});

describe('room for frames', () => {
  it('is kept to: the oldest pixels go, of deleted trains first, the newest frame never', async () => {
    const by = owner();
    const [one, two] = [await made(by), await made(by)];
    const summary = await summaryOf(fixture);
    const store = async (train: string, number: number) =>
      (await kept(by, train, `frame ${number}`, another(number), summary))!.frame;
    // Two of the first train are older than one of the second; one of the first is the newest of all.
    const first = await store(one, 1);
    const second = await store(one, 2);
    const third = await store(two, 3);
    const newest = await store(one, 4);
    const withPixels = async () =>
      [...(await listFrames(by, one)), ...(await listFrames(by, two))]
        .filter(({ hasPixels }) => hasPixels)
        .map(({ id }) => id)
        .sort();
    await setFrameLimit(by, second.size + third.size + newest.size);
    expect(await withPixels()).toEqual([second.id, third.id, newest.id].sort());
    expect(await framePixels(by, one, first.id)).toBeUndefined();
    // A newer frame of a train that is deleted goes before an older one of a train in use.
    await changeState(by, two, 'deleted');
    await setFrameLimit(by, second.size + newest.size);
    expect(await withPixels()).toEqual([second.id, newest.id].sort());
    await setFrameLimit(by, 0);
    expect(await withPixels()).toEqual([newest.id]);
    const next = await store(one, 5);
    expect(await withPixels()).toEqual([next.id]);
    const room = await roomOf(by);
    expect(room).toMatchObject({
      frameLimit: 0,
      pixels: { count: 1, bytes: next.size },
      readings: { count: 5 },
      trains: { count: 1 },
      deleted: { count: 1 },
      parts: { count: 0, bytes: 0 }
    });
    expect(room.trains.bytes).toBeGreaterThan(500);
  });

  it('is nobody else’s', async () => {
    const [by, stranger] = [owner(), owner()];
    const train = await made(by);
    await kept(by, train, 'one', fixture, await summaryOf(fixture));
    await setFrameLimit(stranger, 0);
    await tidy(stranger);
    expect((await roomOf(by)).pixels.count).toBe(1);
    expect((await roomOf(stranger)).pixels.count).toBe(0);
  });
});

describe('stars of frames whose pixels are gone', () => {
  it('are thinned to the brightest; the reading of the field stays', async () => {
    const by = owner();
    const train = await made(by);
    const few = await summaryOf(await frameOf(heron, NO_FAULTS, 3, 4));
    const copies = [0.7, 1, 1.3, 0.4, 2.1].map((factor) =>
      few.stars.map((star) => ({ ...star, flux: star.flux * factor }))
    );
    const summary = { ...few, stars: copies.flat() };
    expect(summary.stars.length).toBeGreaterThan(STARS_WITHOUT_PIXELS);
    for (let number = 1; number <= MOST_WITH_PIXELS + 1; number++) {
      await kept(by, train, `frame ${number}`, another(number), summary);
    }
    const bytes = (await roomOf(by)).readings.bytes;
    await tidy(by);
    const { rows } = await asAdmin('select number, reading from frame where owner = $1 order by number', [by]);
    const [old, ...fresh] = rows as { reading: typeof summary }[];
    expect(fresh.every(({ reading }) => reading.stars.length === summary.stars.length)).toBe(true);
    const brightest = summary.stars
      .map(({ flux }) => flux)
      .sort((a, b) => b - a)
      .slice(0, STARS_WITHOUT_PIXELS);
    expect(old!.reading.stars.map(({ flux }) => flux)).toEqual(brightest);
    expect(old!.reading.field).toEqual(summary.field);
    const after = (await roomOf(by)).readings.bytes;
    expect(after).toBeLessThan(bytes);
    await tidy(by);
    expect((await roomOf(by)).readings.bytes).toBe(after);
  });
});
