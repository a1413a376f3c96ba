import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { readDrawer } from '@lodestone/core/drawer';
import drawerFile from '../../../demo/drawer.json';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { assembleTrain } from './assembly.ts';
import { closeDatabase } from './database.ts';
import { changeDrawer } from './drawer.ts';
import { search } from './search.ts';
import { heron, ownerUrl } from './testing.ts';
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
