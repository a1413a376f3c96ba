// A train shared with another owner: what they see and may write the database says, whatever the application asks.
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NO_FAULTS } from '@lodestone/core/experiment';
import { migrate } from '../../../../scripts/setup/migrate.mjs';
import { actingFor } from '../acting.ts';
import { asOwner, closeDatabase, readAs } from '../database.ts';
import { readDrawerOf } from '../drawer.ts';
import { framePixels, listFrames, storeFrame } from '../frames.ts';
import { readRevision } from '../revisions.ts';
import { changeState, createTrain, listTrains, saveRevision } from '../trains.ts';
import { adminUrl, asFile, frameOf, heron, ownerUrl, summaryOf } from '../testing.ts';
import { addGuest, dropGuest, listGuests, listShared, sharedTrain } from './guests.ts';

const names = { ada: `Ada ${randomUUID()}`, bo: `Bo ${randomUUID()}`, cyd: `Cyd ${randomUUID()}` };
const [ada, bo, cyd] = [randomUUID(), randomUUID(), randomUUID()];
let shared: string;
let other: string;

const made = async (name: string): Promise<string> => {
  const outcome = await createTrain(ada, randomUUID(), { ...heron, name });
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train.id;
};
const share = (name: string, may: 'read' | 'edit') => addGuest(ada, shared, { by: names.ada, name, may });
const as = <T>(actor: string, work: () => Promise<T>): Promise<T> => actingFor({ actor, owner: ada }, work);
const save = (basedOn: number) =>
  saveRevision(ada, shared, { saveId: randomUUID(), basedOn, document: { ...heron, name: `saved on ${basedOn}` } });

beforeAll(async () => {
  await migrate(ownerUrl);
  const client = new pg.Client({ connectionString: adminUrl });
  await client.connect();
  for (const [owner, name] of [
    [ada, names.ada],
    [bo, names.bo],
    [cyd, names.cyd]
  ]) {
    await client.query('insert into known_owner (id) values ($1)', [owner]);
    await client.query('insert into account (owner, name, name_key) values ($1, $2, lower($2))', [owner, name]);
  }
  await client.end();
  [shared, other] = [await made('shared'), await made('not shared')];
  const bytes = await frameOf(heron, NO_FAULTS, 1, 4);
  const summary = await summaryOf(bytes);
  for (const train of [shared, other]) await asFile(bytes, (file) => storeFrame(ada, train, 'hers', file, summary));
});
afterAll(closeDatabase);

describe('a train that is shared', () => {
  it('with nobody is nobody else’s', async () => {
    expect(await sharedTrain(bo, shared)).toBeUndefined();
    expect(await as(bo, () => readRevision(ada, shared))).toBeUndefined();
    expect(await as(bo, () => listTrains(ada))).toEqual([]);
  });

  it('to look at is seen, that one alone, and not changed', async () => {
    expect(await share(names.bo.toUpperCase(), 'read')).toBe('shared');
    expect(await listShared(bo)).toMatchObject([{ id: shared, name: 'shared', by: names.ada, may: 'read' }]);
    expect(await sharedTrain(bo, shared)).toEqual({ owner: ada, by: names.ada, may: 'read' });
    expect((await as(bo, () => readRevision(ada, shared)))?.document.name).toBe('shared');
    expect(await as(bo, () => readRevision(ada, other))).toBeUndefined();
    expect((await as(bo, () => listTrains(ada))).map(({ id }) => id)).toEqual([shared]);
    expect(await as(bo, () => listFrames(ada, shared))).toHaveLength(1);
    expect(await as(bo, () => listFrames(ada, other))).toEqual([]);
    expect((await as(bo, () => readDrawerOf(ada))).parts).toEqual([]);
    // Not theirs to lock: to them it is not there.
    expect(await as(bo, () => save(1))).toEqual({ kind: 'missing' });
    expect(await as(bo, () => changeState(ada, shared, 'archived'))).toEqual({ kind: 'missing' });
  });

  it('to edit is saved by both, in one line of revisions', async () => {
    expect(await share(names.bo, 'edit')).toBe('shared');
    expect(await as(bo, () => save(1))).toMatchObject({ kind: 'stored' });
    expect(await save(1)).toMatchObject({ kind: 'stale' });
    expect(await save(2)).toMatchObject({ kind: 'stored' });
    expect((await as(bo, () => readRevision(ada, shared)))?.document.name).toBe('saved on 2');
    // What is its owner's alone: the other train, who else sees this one, links to it.
    for (const sql of [
      `insert into train_revision (owner, train_id, number, save_id, document)
       values ('${ada}', '${other}', 2, gen_random_uuid(), '{}')`,
      `insert into train_guest (owner, train_id, guest, may, owner_name, guest_name)
       values ('${ada}', '${shared}', '${cyd}', 'edit', 'x', 'y')`,
      `insert into share_link (owner, train_id, token_hash) values ('${ada}', '${shared}', sha256('x'))`,
      `insert into setting (owner) values ('${ada}')`
    ]) {
      await expect(
        as(bo, () => asOwner(ada, (on) => on.query(sql))),
        sql
      ).rejects.toThrow('row-level security');
    }
  });

  it('streams the pixels of a frame as whoever asked, to the last piece', async () => {
    const [frame] = await listFrames(ada, shared);
    const pixels = (await as(bo, () => framePixels(ada, shared, frame!.id)))!;
    await dropGuest(ada, shared, bo);
    // Not shared any more while it is sent: it breaks off, and half of it does not look like a whole file.
    let sent = 0;
    const take = new WritableStream<Uint8Array>({ write: (piece) => void (sent += piece.length) });
    await expect(pixels.stream.pipeTo(take)).rejects.toThrow('are not to be had any more');
    expect(sent).toBeLessThan(pixels.size / 2);
    await share(names.bo, 'read');
    const again = (await as(bo, () => framePixels(ada, shared, frame!.id)))!;
    expect((await new Response(again.stream).arrayBuffer()).byteLength).toBe(again.size);
  });

  it('with nobody of that name, with oneself, or one that is not there, is not', async () => {
    expect(await share('nobody of that name', 'read')).toBe('no such owner');
    expect(await share(names.ada, 'read')).toBe('oneself');
    expect(await addGuest(bo, shared, { by: names.bo, name: names.cyd, may: 'edit' })).toBe('missing');
    expect((await listGuests(ada, shared)).map(({ name }) => name)).toEqual([names.bo]);
    expect(await listGuests(bo, shared)).toEqual([]);
  });

  it('is left by a guest for themselves alone, and not shared once its owner says so', async () => {
    await share(names.cyd, 'edit');
    await dropGuest(bo, shared, cyd);
    expect(await listShared(cyd)).toHaveLength(1);
    await dropGuest(bo, shared, bo);
    expect(await listShared(bo)).toEqual([]);
    await dropGuest(ada, shared, cyd);
    expect(await listShared(cyd)).toEqual([]);
    expect(await as(cyd, () => readRevision(ada, shared))).toBeUndefined();
  });

  it('that was deleted is shown to nobody', async () => {
    await share(names.bo, 'edit');
    await changeState(ada, shared, 'deleted');
    expect(await listShared(bo)).toEqual([]);
    expect(await sharedTrain(bo, shared)).toBeUndefined();
    expect(await addGuest(ada, shared, { by: names.ada, name: names.cyd, may: 'read' })).toBe('missing');
    await changeState(ada, shared, 'active');
    expect(await listShared(bo)).toHaveLength(1);
  });

  it('does not change who one is for one’s own', async () => {
    const mine = await as(bo, () => readAs(bo, (on) => on.query(`select current_setting('lodestone.owner') as who`)));
    expect(mine.rows).toEqual([{ who: bo }]);
  });
});
