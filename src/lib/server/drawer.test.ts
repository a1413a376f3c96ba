import { createHash, randomUUID } from 'node:crypto';
import type { Train } from '@lodestone/core/train';
import { readDrawer, type Part } from '@lodestone/core/drawer';
import pg from 'pg';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import drawerFile from '../../../demo/drawer.json';
import { assembleTrain, readAssembly, takeApart } from './assembly.ts';
import { CLOSED, readCaliper } from './caliper.ts';
import { closeDatabase } from './database.ts';
import { changeDrawer, listUses, readDrawerOf } from './drawer.ts';
import { listParts } from './parts.ts';
import { NotAPicture, print, reencode } from './errands/index.ts';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { readPhoto, storePhoto } from './photos.ts';
import { readRevision } from './revisions.ts';
import { keepScan, readScan, scanResponse } from './scans.ts';
import { adminUrl, asFile, heron, owner, ownerUrl, ring } from './testing.ts';
import { changeState, createTrain } from './trains.ts';

const reading = readDrawer(drawerFile);
if (!reading.ok) throw new Error('the demo must be valid');
const demo = reading.document;

const put = (by: string, parts: Part[], basedOn: number | null = null, changeId: string = randomUUID()) =>
  changeDrawer(by, { changeId, put: parts.map((part) => ({ part, basedOn })), remove: [] });
const remove = (by: string, partId: string, basedOn: number) =>
  changeDrawer(by, { changeId: randomUUID(), put: [], remove: [{ partId, basedOn }] });

async function made(by: string, document: Train) {
  const outcome = await createTrain(by, randomUUID(), document);
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train;
}
const using = (name: string, ...partIds: string[]): Train => ({
  ...heron,
  name,
  elements: [
    ...partIds.map((partId, index) => ({
      id: `e${index}`,
      kind: 'spacer' as const,
      name: partId,
      lengthMm: 5,
      partId
    })),
    heron.elements.at(-1)!
  ]
});

beforeAll(async () => void (await migrate(ownerUrl)));
afterAll(closeDatabase);

describe('the drawer', () => {
  it('gives every demo part back as it was stored', async () => {
    const by = owner();
    expect((await put(by, demo)).kind).toBe('changed');
    const back = await listParts(by);
    expect(back.flatMap(({ measurements }) => measurements).every(({ id }) => id !== undefined)).toBe(true);
    // Readings that came without an id have got one.
    const plain = (parts: readonly Part[]) =>
      parts
        .map((part) => ({ ...part, measurements: part.measurements.map(({ id: _id, ...reading }) => reading) }))
        .sort((a, b) => (a.partId < b.partId ? -1 : 1));
    expect(plain(back)).toEqual(plain(demo));
  });

  it('a change is carried out once, whatever the number of tries', async () => {
    const by = owner();
    const changeId = randomUUID();
    const outcomes = await Promise.all(Array.from({ length: 5 }, () => put(by, [ring('R-1')], null, changeId)));
    expect(outcomes.map(({ kind }) => kind).sort()).toEqual([...Array(4).fill('already-changed'), 'changed']);
    expect((await readDrawerOf(by)).parts[0]).toMatchObject({ version: 1 });
  });

  it('one part that is stale keeps the whole change out', async () => {
    const by = owner();
    await put(by, [ring('R-1'), ring('R-2')]);
    await put(by, [ring('R-1', { location: 'Tin 2' })], 1);
    const outcome = await put(by, [ring('R-1', { state: 'set-aside' }), ring('R-2', { state: 'set-aside' })], 1);
    expect(outcome).toMatchObject({
      kind: 'stale',
      parts: [{ document: { partId: 'R-1', location: 'Tin 2' }, version: 2 }]
    });
    expect((await listParts(by)).map(({ state }) => state)).toEqual(['spare', 'spare']);
    expect((await put(by, [ring('R-3')], 7)).kind).toBe('stale');
    expect((await put(by, [ring('R-1')])).kind).toBe('stale');
  });

  it('what was removed can be put back', async () => {
    const by = owner();
    await put(by, [ring('R-1', { quantity: 3 })]);
    expect((await remove(by, 'R-1', 1)).kind).toBe('changed');
    expect(await listParts(by)).toEqual([]);
    expect((await put(by, [ring('R-1', { quantity: 2 })])).kind).toBe('changed');
    expect((await listParts(by))[0]?.quantity).toBe(2);
  });

  it('owners do not see each other', async () => {
    const [one, other] = [owner(), owner()];
    await put(one, [ring('R-1')]);
    await put(other, [ring('R-1', { location: 'Elsewhere' })]);
    expect((await listParts(one))[0]?.location).toBe('Tin 1 / Bag A');
    await remove(other, 'R-1', 1);
    expect(await listParts(one)).toHaveLength(1);
  });
});

describe('a new measurement', () => {
  const measured = (lengthMm: number) =>
    ring('R-1', { measurements: [{ lengthMm, instrument: 'caliper', maxErrorMm: 0.02 }] });

  it('changes every train that uses the part; revisions keep what they saw', async () => {
    const by = owner();
    await put(by, [ring('R-1'), ring('R-2')]);
    const [one, other] = [await made(by, using('one', 'R-1')), await made(by, using('other', 'R-2'))];
    const outcome = await put(by, [measured(5.12)], 1);
    expect(outcome.kind === 'changed' && outcome.trains.map(({ id }) => id)).toEqual([one.id]);
    const head = await readRevision(by, one.id);
    expect(head).toMatchObject({
      revision: { number: 2 },
      document: { elements: [{ measured: { lengthMm: 5.12 } }, {}] }
    });
    expect((await readRevision(by, one.id, 1))?.document.elements[0]).not.toHaveProperty('measured');
    expect((await readRevision(by, other.id))?.revision.number).toBe(1);
  });

  it('leaves an assembled train as it was built', async () => {
    const by = owner();
    await put(by, [ring('R-1')]);
    const train = await made(by, using('built', 'R-1'));
    expect((await assembleTrain(by, train.id, 1)).kind).toBe('assembled');
    await put(by, [measured(5.3)], 1);
    expect((await readRevision(by, train.id))?.revision.number).toBe(1);
  });

  it('that says nothing new makes no revision', async () => {
    const by = owner();
    await put(by, [ring('R-1')]);
    const train = await made(by, using('same', 'R-1'));
    await put(by, [measured(5.1)], 1);
    await put(by, [{ ...measured(5.1), location: 'Tin 4' }], 2);
    expect((await readRevision(by, train.id))?.revision.number).toBe(2);
  });
});

describe('who holds what', () => {
  it('a copy is in one assembled train at the most, also when two are put together at once', async () => {
    const by = owner();
    await put(by, [ring('R-1', { quantity: 2 })]);
    const trains = await Promise.all(['a', 'b', 'c'].map((name) => made(by, using(name, 'R-1'))));
    const outcomes = await Promise.all(trains.map(({ id }) => assembleTrain(by, id, 1)));
    expect(outcomes.map(({ kind }) => kind).sort()).toEqual(['assembled', 'assembled', 'conflict']);
    const lost = outcomes.find((outcome) => outcome.kind === 'conflict');
    expect(lost).toMatchObject({ conflicts: [{ partId: 'R-1', elementId: 'e0' }] });
    expect(lost!.kind === 'conflict' && lost!.conflicts[0]!.heldBy).toHaveLength(2);
    const copies = (await listUses(by)).filter(({ assembled }) => assembled).map(({ copy }) => copy);
    expect(copies.sort()).toEqual([1, 2]);
  });

  it('the database itself refuses a second holder', async () => {
    const by = owner();
    await put(by, [ring('R-1')]);
    const [one, other] = [await made(by, using('one', 'R-1')), await made(by, using('other'))];
    await assembleTrain(by, one.id, 1);
    await assembleTrain(by, other.id, 1);
    const client = new pg.Client({ connectionString: adminUrl });
    await client.connect();
    const steal = client.query(
      `insert into holding (owner, part_id, copy, train_id, element_id) values ($1, 'R-1', 1, $2, 'x')`,
      [by, other.id]
    );
    await expect(steal).rejects.toMatchObject({ code: '23505' });
    await client.end();
  });

  it('more of a part than there are is a conflict nobody else is to blame for', async () => {
    const by = owner();
    await put(by, [ring('R-1')]);
    const train = await made(by, using('greedy', 'R-1', 'R-1'));
    expect(await assembleTrain(by, train.id, 1)).toMatchObject({ kind: 'conflict', conflicts: [{ heldBy: [] }] });
    expect(await readAssembly(by, train.id)).toBeUndefined();
  });

  it('taken apart, its parts are free again; put together twice, it holds once', async () => {
    const by = owner();
    await put(by, [ring('R-1')]);
    const [one, other] = [await made(by, using('one', 'R-1')), await made(by, using('other', 'R-1'))];
    await assembleTrain(by, one.id, 1);
    expect((await assembleTrain(by, one.id, 1)).kind).toBe('assembled');
    expect((await assembleTrain(by, other.id, 1)).kind).toBe('conflict');
    expect(await takeApart(by, one.id)).toBe(true);
    expect((await assembleTrain(by, other.id, 1)).kind).toBe('assembled');
    expect((await assembleTrain(by, one.id, 2)).kind).toBe('stale');
  });

  it('what an assembled train holds is neither deleted nor made fewer, and the train is not deleted', async () => {
    const by = owner();
    await put(by, [ring('R-1', { quantity: 2 })]);
    const train = await made(by, using('both', 'R-1', 'R-1'));
    await assembleTrain(by, train.id, 1);
    expect(await remove(by, 'R-1', 1)).toEqual({ kind: 'held', partIds: ['R-1'] });
    expect((await put(by, [ring('R-1', { quantity: 1 })], 1)).kind).toBe('held');
    expect((await listParts(by))[0]?.quantity).toBe(2);
    expect((await changeState(by, train.id, 'deleted')).kind).toBe('assembled');
    await takeApart(by, train.id);
    expect((await remove(by, 'R-1', 1)).kind).toBe('changed');
    expect((await changeState(by, train.id, 'deleted')).kind).toBe('changed');
  });

  it('a part deleted while a plan uses it leaves the plan as it is', async () => {
    const by = owner();
    await put(by, [ring('R-1')]);
    const train = await made(by, using('plan', 'R-1'));
    await remove(by, 'R-1', 1);
    expect((await readRevision(by, train.id))?.document.elements).toHaveLength(2);
    expect((await assembleTrain(by, train.id, 1)).kind).toBe('assembled');
  });
});

describe('photos', () => {
  const picture = (format: 'jpeg' | 'png') =>
    sharp({ create: { width: 3000, height: 1000, channels: 3, background: '#884422' } })
      .withExif({ IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '51/1 30/1 0/1' } })
      [format]()
      .toBuffer();

  it('are made smaller and lose what phones write into them', async () => {
    const upload = await picture('jpeg');
    expect((await sharp(upload).metadata()).exif).toBeDefined();
    const { bytes, width, height } = await asFile(upload, ({ path }) => reencode(path));
    expect([width, height]).toEqual([1600, 533]);
    const metadata = await sharp(bytes).metadata();
    expect(metadata.format).toBe('jpeg');
    expect(metadata.exif).toBeUndefined();
  });

  it.each([
    ['text', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>')],
    ['half a file', Buffer.from('89504e470d0a1a0a0000', 'hex')],
    ['nothing', Buffer.alloc(0)],
    ['a PDF', Buffer.from('%PDF-1.4 nothing')]
  ])('%s is refused by its content', async (_words, bytes) => {
    await expect(asFile(bytes, ({ path }) => reencode(path))).rejects.toBeInstanceOf(NotAPicture);
  });

  it('belong to a part that is there', async () => {
    const by = owner();
    await put(by, [ring('R-1')]);
    const hash = await asFile(await picture('png'), (file) => storePhoto(by, 'R-1', file));
    expect((await readPhoto(by, 'R-1'))?.hash).toBe(hash);
    expect((await readDrawerOf(by)).parts[0]?.photo).toBe(hash);
    expect(await asFile(await picture('png'), (file) => storePhoto(by, 'R-2', file))).toBeUndefined();
  });
});

describe('scans', () => {
  const pdf = Buffer.from('%PDF-1.7\n1 0 obj << /OpenAction << /S /JavaScript /JS (app.alert(1)) >> >>\n%%EOF');

  it('a PDF is kept as it is, once, and handed over to be saved, never shown', async () => {
    const by = owner();
    const kept = await asFile(pdf, (file) => keepScan(by, file));
    expect(kept.type).toBe('application/pdf');
    expect(kept.scan).toBe(createHash('sha256').update(pdf).digest('hex'));
    expect(await asFile(pdf, (file) => keepScan(by, file))).toEqual(kept);
    const found = (await readScan(by, kept.scan))!;
    expect(found.bytes.equals(pdf)).toBe(true);
    const { headers } = scanResponse(found, kept.scan);
    expect(headers.get('content-disposition')).toMatch(/^attachment; /);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('content-security-policy')).toContain('sandbox');
    // Nobody else’s.
    expect(await readScan(owner(), kept.scan)).toBeUndefined();
  });

  it('a picture is made anew, and what is neither is refused', async () => {
    const by = owner();
    const upload = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#884422' } })
      .png()
      .toBuffer();
    const { scan, type } = await asFile(upload, (file) => keepScan(by, file));
    expect(type).toBe('image/jpeg');
    expect((await sharp((await readScan(by, scan))!.bytes).metadata()).format).toBe('jpeg');
    const page = Buffer.from('<html><script>alert(1)</script></html>');
    await expect(asFile(page, (file) => keepScan(by, file))).rejects.toBeInstanceOf(NotAPicture);
  });
});

describe('the simulated caliper', () => {
  it('has one zero and small noise of its own', () => {
    const zero = Array.from({ length: 200 }, () => readCaliper(CLOSED)!.lengthMm);
    const part = Array.from({ length: 200 }, () => readCaliper('R-03')!.lengthMm);
    const mean = (readings: number[]) => readings.reduce((sum, each) => sum + each, 0) / readings.length;
    expect(Math.abs(mean(zero))).toBeGreaterThan(0.015);
    expect(Math.abs(mean(zero))).toBeLessThan(0.06);
    // The demo's ring R-03 is marked 7.5 and measures 7.863.
    expect(mean(part) - mean(zero)).toBeCloseTo(7.863, 2);
    expect(new Set(part).size).toBeGreaterThan(2);
  });

  it('knows only what it was told', () => {
    expect(readCaliper('no such part')).toBeUndefined();
    expect(readCaliper('constructor')).toBeUndefined();
  });
});

describe('labels', () => {
  it('are a PDF of as many sheets as they need, whatever the letters', async () => {
    const many = Array.from({ length: 40 }, (_, index) => ring(`R-${index}`, { location: 'Жестянка 2 / Zinnœ 漢' }));
    const printed = await print({ kind: 'labels', parts: many, origin: 'http://127.0.0.1:4180', unit: 'mm' });
    const pdf = Buffer.from(printed).toString('latin1');
    expect(pdf.startsWith('%PDF-')).toBe(true);
    expect(pdf.match(/\/Type \/Page\b/g)).toHaveLength(2);
  });
});
