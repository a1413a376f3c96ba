import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { readDrawer } from '@lodestone/core/drawer';
import drawerFile from '../../../demo/drawer.json';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { assembleTrain } from './assembly.ts';
import { asOwner, closeDatabase, readAs } from './database.ts';
import { changeDrawer } from './drawer.ts';
import { recordsByWords, search } from './search.ts';
import { adminUrl, heron, ownerUrl } from './testing.ts';
import { changeState, createTrain } from './trains.ts';

const owner = `search ${randomUUID()}`;
let id: string;
let partId: string;

beforeAll(async () => {
  await migrate(ownerUrl);
  const made = await createTrain(owner, randomUUID(), { ...heron, note: '100% of_the nights' });
  if (made.kind !== 'stored') throw new Error(made.kind);
  ({ id } = made.train);
  await createTrain(owner, randomUUID(), { ...heron, name: 'Bittern' });
  await assembleTrain(owner, id, 1, { id: randomUUID(), note: 'Reducer number 0123' });
  const reading = readDrawer(drawerFile);
  if (!reading.ok) throw new Error('the demo must be a drawer');
  partId = reading.document[0]!.partId;
  await changeDrawer(owner, {
    changeId: randomUUID(),
    put: reading.document.slice(0, 12).map((part) => ({ part, basedOn: null })),
    remove: []
  });
});
afterAll(closeDatabase);

/** A log of fifteen thousand entries: records, and half as many nights. */
async function longLog(by: string): Promise<void> {
  const of = Array.from({ length: 5 }, async (_, train) => {
    const nights = Object.fromEntries(
      Array.from({ length: 1000 }, (__, night) => [
        `n${night}`,
        { on: '2026-11-01', note: `Clear from ${night} on, seeing as usual, dew on the prism`, hours: { Luminance: 1 } }
      ])
    );
    const last = { on: '2026-11-02', wrong: `Fox ${train} in the observatory` };
    const made = await createTrain(by, randomUUID(), {
      ...heron,
      name: `Train ${train}`,
      nights: { ...nights, last }
    } as typeof heron);
    if (made.kind !== 'stored') throw new Error(made.kind);
    await asOwner(by, (on) =>
      on.query(
        `insert into build_record (owner, id, train_id, number, revision, note)
         select $1, gen_random_uuid(), $2, number, 1,
                'Reducer with ring number ' || number || ', measured twice with the calipers at eight degrees'
           from generate_series(1, 2000) number`,
        [by, made.train.id]
      )
    );
  });
  await Promise.all(of);
}

it('finds one entry of fifteen thousand, and reads the records of its owner alone', async () => {
  const by = `search ${randomUUID()}`;
  await longLog(by);
  const found = await search(by, 'fox 3 observatory');
  expect(found).toMatchObject([{ what: 'night', title: 'Train 3, night of 2026-11-02' }]);
  expect((await search(by, 'NUMBER 1234,')).map(({ what }) => what)).toEqual(Array.from({ length: 5 }, () => 'record'));
  const client = new pg.Client({ connectionString: adminUrl });
  await client.connect();
  await client.query('vacuum analyze build_record');
  await client.end();
  const { text, values } = recordsByWords(['number', '1234,']);
  const plan = await readAs(by, async (on) => {
    // However few there are here: with more owners it is worth the index, and has to be able to use it.
    await on.query('set local enable_seqscan = off');
    const { rows } = await on.query<{ 'QUERY PLAN': string }>(`explain ${text}`, [by, ...values]);
    return rows.map((row) => row['QUERY PLAN']).join('\n');
  });
  expect(plan).toMatch(/Index (Scan using|Scan on|Only Scan using) build_record_owner/);
  const took: number[] = [];
  for (let time = 0; time < 5; time++) {
    const began = performance.now();
    await search(by, 'seeing observatory fox');
    took.push(performance.now() - began);
  }
  console.log(`search over 15 005 entries of a log: ${took.map((ms) => ms.toFixed(0)).join(', ')} ms`);
});

const titles = async (query: string): Promise<string[]> => (await search(owner, query)).map(({ title }) => title);

it('finds trains by name first, then by their parts and notes, in any order of words', async () => {
  expect(await titles('heron')).toEqual(['Heron']);
  expect(await titles('wheel quillfeather')).toEqual(expect.arrayContaining(['Heron', 'Bittern']));
  expect((await titles('bittern'))[0]).toBe('Bittern');
});

it('finds parts by number and name, and records by their note', async () => {
  const [first] = (await search(owner, partId.toLowerCase())).filter(({ what }) => what === 'part');
  expect(first).toMatchObject({ href: `/drawer/${partId}` });
  expect(await search(owner, 'number 0123')).toMatchObject([{ what: 'record', title: 'Heron, record 1' }]);
});

it('takes what stands for any letter elsewhere as a letter', async () => {
  expect(await titles('100%')).toEqual(['Heron']);
  expect(await titles('of_the')).toEqual(['Heron']);
  expect(await titles('%')).toEqual(['Heron']);
  expect(await titles('ofxthe')).toEqual([]);
  expect(await titles("' or 1=1 --")).toEqual([]);
  expect(await titles('  ')).toEqual([]);
});

it('names nothing of another owner, and nothing that was deleted', async () => {
  expect(await search('somebody else', 'heron')).toEqual([]);
  const gone = await createTrain(owner, randomUUID(), { ...heron, name: 'Grebe' });
  if (gone.kind !== 'stored') throw new Error(gone.kind);
  expect(await titles('grebe')).toEqual(['Grebe']);
  await changeState(owner, gone.train.id, 'deleted');
  expect(await titles('grebe')).toEqual([]);
});
