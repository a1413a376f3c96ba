// What was built: kept as it was, once however often it is asked for, and nobody else's.
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { assembleTrain, takeApart } from './assembly.ts';
import { listChoices, readCompared } from './compare.ts';
import { asOwner, closeDatabase } from './database.ts';
import { NotAPicture } from './errands/index.ts';
import { endStreams } from './live.ts';
import { addRecordPhoto, listRecords, readRecord, readRecordPhoto } from './records.ts';
import { adminUrl, asFile, heron, owner, ownerUrl } from './testing.ts';
import { createTrain, saveRevision } from './trains.ts';

let admin: pg.Client;
beforeAll(async () => {
  await migrate(ownerUrl);
  admin = new pg.Client({ connectionString: adminUrl });
  await admin.connect();
});
afterAll(async () => {
  await admin.end();
  await endStreams();
  await closeDatabase();
});

async function made(by: string) {
  const outcome = await createTrain(by, randomUUID(), heron);
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train.id;
}
const picture = (shade: number) =>
  sharp({ create: { width: 40, height: 30, channels: 3, background: { r: shade, g: 20, b: 20 } } })
    .png()
    .toBuffer();

const photograph = (by: string, record: string, bytes: Uint8Array) =>
  asFile(bytes, (file) => addRecordPhoto(by, record, file));

describe('a record of what was built', () => {
  it('is made once, however often the reply is lost, and counted for each train', async () => {
    const by = owner();
    const [one, other] = [await made(by), await made(by)];
    const id = randomUUID();
    for (let tries = 0; tries < 3; tries++) {
      expect((await assembleTrain(by, one, 1, { id, note: 'first' })).kind).toBe('assembled');
    }
    await assembleTrain(by, one, 1, { id: randomUUID(), note: 'second' });
    await assembleTrain(by, other, 1, { id: randomUUID(), note: 'the other' });
    expect((await listRecords(by, one)).map(({ number, note }) => [number, note])).toEqual([
      [2, 'second'],
      [1, 'first']
    ]);
    expect((await listRecords(by, other)).map(({ number }) => number)).toEqual([1]);
    // Without one asked for, none is made.
    await assembleTrain(by, other, 1);
    expect(await listRecords(by, other)).toHaveLength(1);
  });

  it('keeps its document whatever becomes of the train, and is never changed or deleted', async () => {
    const by = owner();
    const train = await made(by);
    const id = randomUUID();
    await assembleTrain(by, train, 1, { id, note: '' });
    await takeApart(by, train);
    await saveRevision(by, train, { saveId: randomUUID(), basedOn: 1, document: { ...heron, name: 'Another name' } });
    expect((await readRecord(by, id))!.document.name).toBe(heron.name);
    for (const statement of ['update build_record set note = $1', 'delete from build_record where note <> $1']) {
      await expect(admin.query(statement, ['changed'])).rejects.toThrow('never changed or deleted');
      await expect(asOwner(by, (on) => on.query(statement, ['changed']))).rejects.toThrow();
    }
  });

  it('takes photos by what they are, the same once, and is nobody else’s', async () => {
    const by = owner();
    const train = await made(by);
    const id = randomUUID();
    await assembleTrain(by, train, 1, { id, note: '' });
    await expect(photograph(by, id, Buffer.from('MZ a program'))).rejects.toThrow(NotAPicture);
    const [red, dark] = [await picture(200), await picture(60)];
    const stored = await Promise.all([photograph(by, id, red), photograph(by, id, dark)]);
    expect(stored.map(({ kind }) => kind)).toEqual(['stored', 'stored']);
    await photograph(by, id, red);
    const { photos } = (await readRecord(by, id))!;
    expect(photos.map(({ position }) => position)).toEqual([1, 2]);
    expect((await readRecordPhoto(by, id, 1))!.bytes.subarray(0, 2)).toEqual(Buffer.from([0xff, 0xd8]));
    const stranger = owner();
    expect(await readRecord(stranger, id)).toBeUndefined();
    expect(await readRecordPhoto(stranger, id, 1)).toBeUndefined();
    expect((await photograph(stranger, id, red)).kind).toBe('missing');
  });

  it('can be laid beside trains and revisions, each by its key', async () => {
    const by = owner();
    const train = await made(by);
    const id = randomUUID();
    await assembleTrain(by, train, 1, { id, note: '' });
    await saveRevision(by, train, { saveId: randomUUID(), basedOn: 1, document: { ...heron, name: 'Now' } });
    const titles = await Promise.all(
      [`train:${train}`, `revision:${train}:1`, `record:${id}`].map(
        async (key) => (await readCompared(by, key, 'Asia/Tokyo'))?.document.name
      )
    );
    expect(titles).toEqual(['Now', heron.name, heron.name]);
    for (const key of ['', 'train:x', `record:${train}`, `revision:${train}:0`, `train:${train}'; drop table train`]) {
      expect(await readCompared(by, key, undefined)).toBeUndefined();
    }
    expect((await listChoices(by, undefined)).map(({ key }) => key)).toEqual([`train:${train}`, `record:${id}`]);
    expect(await readCompared(owner(), `train:${train}`, undefined)).toBeUndefined();
  });
});
