// What the server side of keeping work promises: nothing overwritten, everything caught up with, nobody held up.
import { randomUUID } from 'node:crypto';
import type { Train } from '@lodestone/core/train';
import type { Part } from '@lodestone/core/drawer';
import pg from 'pg';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { assembleTrain, takeApart } from './assembly.ts';
import { asOwner, closeDatabase, databaseRefusal, readAs } from './database.ts';
import { USES, changeDrawer, forgetOldChanges, listUses, readDrawerOf } from './drawer.ts';
import { Busy, Gate } from './gate.ts';
import { endStreams, eventsOf, readHeads } from './live.ts';
import { listParts } from './parts.ts';
import { readPhoto, storePhoto } from './photos.ts';
import { readRevision } from './revisions.ts';
import { adminUrl, asFile, heron, owner, ownerUrl, ring } from './testing.ts';
import { changeState, createTrain, listTrains, saveRevision } from './trains.ts';

const put = (by: string, part: Part, basedOn: number | null = null, changeId: string = randomUUID()) =>
  changeDrawer(by, { changeId, put: [{ part, basedOn }], remove: [] });
const using = (name: string, ...partIds: string[]): Train => ({
  ...heron,
  name,
  elements: [
    ...partIds.map((partId, at) => ({ id: `e${at}`, kind: 'spacer' as const, name: partId, lengthMm: 5, partId })),
    heron.elements.at(-1)!
  ]
});
async function made(by: string, document: Train) {
  const outcome = await createTrain(by, randomUUID(), document);
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train;
}
const measured = (lengthMm: number): Partial<Part> => ({ measurements: [{ lengthMm, instrument: 'caliper' }] });
const lengthOf = async (by: string, id: string): Promise<number | undefined> => {
  const element = (await readRevision(by, id))!.document.elements[0]!;
  return 'measured' in element ? element.measured?.lengthMm : undefined;
};

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

describe('a transaction', () => {
  it('whose connection breaks fails in words, and the next one is served', async () => {
    const by = owner();
    const failing = asOwner(by, async (on) => {
      const { rows } = await on.query<{ pid: number }>('select pg_backend_pid() as pid');
      expect(rows[0]!.pid).toBeGreaterThan(0);
      // What an administrator may do to any connection, each may do to itself.
      await on.query('select pg_terminate_backend(pg_backend_pid())');
    });
    const error: unknown = await failing.catch((thrown: unknown) => thrown);
    expect(databaseRefusal(error)).toMatchObject({ status: 503, message: expect.stringContaining('try again') });
    expect((await put(by, ring('R-1'))).kind).toBe('changed');
  });

  it('that meets another in opposite order is tried again, and both are carried out', async () => {
    const by = owner();
    const [one, other] = [await made(by, using('one')), await made(by, using('other'))];
    let tries = 0;
    let meet = (): void => undefined;
    const met = new Promise<void>((done) => (meet = done));
    const lockBoth = (first: string, second: string) =>
      asOwner(by, async (on) => {
        const tried = ++tries;
        await on.query('select from train where id = $1 for update', [first]);
        // Each has its first before either asks for its second.
        if (tried === 2) meet();
        await met;
        await on.query('select from train where id = $1 for update', [second]);
      });
    await Promise.all([lockBoth(one.id, other.id), lockBoth(other.id, one.id)]);
    expect(tries).toBeGreaterThan(2);
  });

  it('and a reading act for their owner', async () => {
    const [one, other] = [owner(), owner()];
    const whose = (by: string) => ({
      text: `select current_setting('lodestone.owner') as owner, $1::text as asked`,
      values: [by]
    });
    for (const by of [one, other, one]) {
      expect((await readAs(by, (on) => on.query(whose(by)))).rows).toEqual([{ owner: by, asked: by }]);
      expect((await asOwner(by, (on) => on.query(whose(by)))).rows).toEqual([{ owner: by, asked: by }]);
    }
  });

  it.each([
    ['22008', 400],
    ['22021', 400],
    ['23503', 409],
    ['40P01', 503],
    ['53100', 503],
    ['55P03', 503],
    ['57014', 503],
    ['57P03', 503]
  ])('an error %s of the database is answered with %i and words', (code, status) => {
    const error = Object.assign(new pg.DatabaseError('internal words', 14, 'error'), { code });
    const refusal = databaseRefusal(error);
    expect(refusal?.status).toBe(status);
    expect(refusal?.message).not.toContain('internal');
    expect(databaseRefusal(Object.assign(new pg.DatabaseError('x', 1, 'error'), { code: '42P01' }))).toBeUndefined();
  });
});

describe('an id made by a client', () => {
  it('belongs to its owner: another’s says nothing of mine', async () => {
    const [one, other] = [owner(), owner()];
    const saveId = randomUUID();
    expect((await createTrain(one, saveId, using('one'))).kind).toBe('stored');
    expect((await createTrain(other, saveId, using('other'))).kind).toBe('stored');
    const changeId = randomUUID();
    expect((await put(one, ring('R-1'), null, changeId)).kind).toBe('changed');
    expect((await put(other, ring('R-1'), null, changeId)).kind).toBe('changed');
  });

  it('used for something else is refused, and nothing is taken for stored that is not', async () => {
    const by = owner();
    const saveId = randomUUID();
    await createTrain(by, saveId, using('first'));
    expect((await createTrain(by, saveId, using('second'))).kind).toBe('other-save');
    const changeId = randomUUID();
    await put(by, ring('R-1'), null, changeId);
    expect((await put(by, ring('R-1'), null, changeId)).kind).toBe('already-changed');
    expect((await put(by, ring('R-2'), null, changeId)).kind).toBe('other-change');
    expect(await listParts(by)).toHaveLength(1);
  });

  it('is forgotten only when nobody will send it again', async () => {
    const by = owner();
    const changeId = randomUUID();
    await put(by, ring('R-1'), null, changeId);
    await forgetOldChanges(by);
    expect((await put(by, ring('R-1'), null, changeId)).kind).toBe('already-changed');
    await admin.query(`update drawer_change set at = now() - interval '401 days' where owner = $1`, [by]);
    await forgetOldChanges(by);
    expect((await put(by, ring('R-1'), null, changeId)).kind).toBe('stale');
  });
});

describe('a train catches up with the drawer', () => {
  it('when it is taken apart', async () => {
    const by = owner();
    await put(by, ring('R-1'));
    const { id } = await made(by, using('built', 'R-1'));
    await assembleTrain(by, id, 1);
    await put(by, ring('R-1', measured(5.05)), 1);
    expect(await lengthOf(by, id)).toBeUndefined();
    await takeApart(by, id);
    expect(await lengthOf(by, id)).toBe(5.05);
  });

  it('when it is brought back', async () => {
    const by = owner();
    await put(by, ring('R-1'));
    const { id } = await made(by, using('deleted', 'R-1'));
    await changeState(by, id, 'deleted');
    await put(by, ring('R-1', measured(5.06)), 1);
    expect((await readRevision(by, id))!.revision.number).toBe(1);
    expect(await changeState(by, id, 'active')).toMatchObject({ kind: 'changed', train: { revision: { number: 2 } } });
    expect(await lengthOf(by, id)).toBe(5.06);
  });

  it('when a save brings in a part as it was before the last change', async () => {
    const by = owner();
    await put(by, ring('R-1'));
    const { number } = await readDrawerOf(by);
    const { id } = await made(by, using('empty'));
    await put(by, ring('R-1', measured(5.07)), 1);
    const save = { saveId: randomUUID(), basedOn: 1, document: using('empty', 'R-1'), drawer: number };
    const outcome = await saveRevision(by, id, save);
    expect(outcome).toMatchObject({ kind: 'stored', train: { revision: { number: 3 } } });
    expect(await lengthOf(by, id)).toBe(5.07);
    // The revision that was saved is there as it was sent.
    expect((await readRevision(by, id, 2))!.document.elements[0]).not.toHaveProperty('measured');
  });

  it('when a part that was deleted comes back; but not with a part that only has a number it names', async () => {
    const by = owner();
    const { id } = await made(by, using('plan', 'R-1'));
    await put(by, ring('R-1', measured(5.5)));
    expect(await lengthOf(by, id)).toBeUndefined();
    await changeDrawer(by, { changeId: randomUUID(), put: [], remove: [{ partId: 'R-1', basedOn: 1 }] });
    await put(by, ring('R-1', measured(5.08)));
    expect(await lengthOf(by, id)).toBe(5.08);
  });

  it('and what the owner has set differently in it stays, where the drawer has not changed since', async () => {
    const by = owner();
    await put(by, ring('R-1', measured(5.01)));
    const { id } = await made(by, using('as typed', 'R-1'));
    await assembleTrain(by, id, 1);
    await takeApart(by, id);
    expect((await readRevision(by, id))!.revision.number).toBe(1);
  });
});

describe('readings', () => {
  it('are stored by their ids: equal ones are two, and one is struck out by name', async () => {
    const by = owner();
    const read = (id: string) => ({ id, lengthMm: 5.01, instrument: 'caliper' });
    await put(by, ring('R-1', { measurements: [read('a'), read('b')] }));
    await put(by, ring('R-1', { measurements: [read('b')] }), 1);
    expect((await listParts(by))[0]!.measurements).toEqual([read('b')]);
  });

  it('keep the order they were taken in', async () => {
    const by = owner();
    const measurements = [5.3, 5.1, 5.2].map((lengthMm, at) => ({ id: `z${9 - at}`, lengthMm }));
    await put(by, ring('R-1', { measurements }));
    expect((await listParts(by))[0]!.measurements.map(({ lengthMm }) => lengthMm)).toEqual([5.3, 5.1, 5.2]);
  });
});

describe('a photo', () => {
  const picture = () =>
    sharp({ create: { width: 40, height: 30, channels: 3, background: '#884422' } })
      .png()
      .toBuffer();
  const drop = (by: string, basedOn: number) =>
    changeDrawer(by, { changeId: randomUUID(), put: [], remove: [{ partId: 'R-1', basedOn }] });

  it('goes with its part, comes back with it, and never turns up on another of that number', async () => {
    const by = owner();
    await put(by, ring('R-1'));
    const hash = await asFile(await picture(), (file) => storePhoto(by, 'R-1', file));
    await drop(by, 1);
    expect(await readPhoto(by, 'R-1')).toBeUndefined();
    // Undone: the same part again.
    await put(by, ring('R-1'));
    expect((await readPhoto(by, 'R-1'))?.hash).toBe(hash);
    await drop(by, 3);
    await put(by, ring('R-1', { element: { id: 'R-1', kind: 'spacer', name: 'Another ring', lengthMm: 9 } }));
    expect(await readPhoto(by, 'R-1')).toBeUndefined();
  });
});

describe('news', () => {
  /** Reads a stream of events until it has said something. */
  async function until(stream: ReadableStream<Uint8Array>, said: RegExp): Promise<string> {
    const reader = stream.getReader();
    const decoder = new TextDecoder();
    let text = '';
    while (!said.test(text)) {
      const { value, done } = await reader.read();
      if (done) break;
      text += decoder.decode(value);
    }
    reader.releaseLock();
    return text;
  }

  it('tell first how everything stands, then what changes, in order, and nothing of others', async () => {
    const [by, other] = [owner(), owner()];
    const { id } = await made(by, using('told'));
    await put(by, ring('R-1'));
    const stream = eventsOf(by, async () => Promise.resolve(true));
    const first = await until(stream, /event: heads\n.*\n\n/);
    expect(first).toContain('"drawer":1');
    expect(first).toMatch(new RegExp(`"${id}":\\{"(frame|state|number)":`));
    await made(other, using('not mine'));
    await saveRevision(by, id, { saveId: randomUUID(), basedOn: 1, document: using('again') });
    await put(by, ring('R-2'));
    await changeState(by, id, 'archived');
    const then = await until(stream, /archived/);
    const events = [...then.matchAll(/event: news\ndata: (.*)\n/g)].map(([, data]) => JSON.parse(data!) as unknown);
    expect(events).toEqual([{ train: id, number: 2 }, { drawer: 2 }, { train: id, state: 'archived' }]);
    await stream.cancel();
  });

  it('number the drawer’s states in the database, one more with each change and none without', async () => {
    const by = owner();
    const number = async () => (await readHeads(by)).drawer;
    expect(await number()).toBe(0);
    await put(by, ring('R-1'));
    expect(await number()).toBe(1);
    await put(by, ring('R-1', { quantity: 2 }), 7);
    expect(await number()).toBe(1);
    const { id } = await made(by, using('holds', 'R-1'));
    await assembleTrain(by, id, 1);
    expect(await number()).toBe(2);
    await takeApart(by, id);
    await takeApart(by, id);
    expect(await number()).toBe(3);
  });
});

describe('what is asked often', () => {
  interface Plan {
    'Relation Name'?: string;
    'Actual Rows': number;
    'Actual Loops': number;
    'Rows Removed by Filter'?: number;
    Plans?: Plan[];
  }
  /** Rows of the revisions that a query touches, as EXPLAIN ANALYZE counts them. */
  async function revisionsTouched(sql: string, values: unknown[]): Promise<number> {
    const { rows } = await admin.query<{ 'QUERY PLAN': { Plan: Plan }[] }>(
      `explain (analyze, format json, timing off) ${sql}`,
      values
    );
    const count = (plan: Plan): number =>
      (plan['Relation Name'] === 'train_revision'
        ? (plan['Actual Rows'] + (plan['Rows Removed by Filter'] ?? 0)) * plan['Actual Loops']
        : 0) + (plan.Plans ?? []).reduce((sum, each) => sum + count(each), 0);
    return count(rows[0]!['QUERY PLAN'][0]!.Plan);
  }

  it('touches the newest revisions only, whatever the number of those before', async () => {
    const by = owner();
    await put(by, ring('R-1'));
    const trains = await Promise.all(['a', 'b', 'c'].map((name) => made(by, using(name, 'R-1'))));
    await admin.query(
      `insert into train_revision (owner, train_id, number, save_id, document)
       select owner, train_id, number + step, gen_random_uuid(), document
         from train_revision cross join generate_series(1, 2000) step
        where owner = $1
        order by number + step`,
      [by]
    );
    await admin.query('analyze train_revision');
    expect(await revisionsTouched(USES, [by])).toBe(trains.length);
    const heads = `select head.number from train join lateral (
        select number from train_revision where owner = train.owner and train_id = train.id order by number desc limit 1
      ) head on true where train.owner = $1`;
    expect(await revisionsTouched(heads, [by])).toBe(trains.length);
    expect(
      await revisionsTouched('select max(number) from train_revision where owner = $1 and train_id = $2', [
        by,
        trains[0]!.id
      ])
    ).toBe(1);
    expect((await listUses(by)).filter(({ partId }) => partId === 'R-1')).toHaveLength(3);
    expect(await listTrains(by)).toHaveLength(3);
  });
});

describe('a gate', () => {
  it('lets some through, makes some wait in their order, and sends the rest away at once', async () => {
    const gate = new Gate('things', { atOnce: 2, waiting: 1 });
    const finish: (() => void)[] = [];
    const order: number[] = [];
    const enter = (n: number) =>
      gate.run(async () => {
        order.push(n);
        await new Promise<void>((done) => finish.push(done));
      });
    const inside = [enter(1), enter(2), enter(3)];
    await expect(enter(4)).rejects.toBeInstanceOf(Busy);
    expect(order).toEqual([1, 2]);
    finish[0]!();
    await inside[0];
    expect(order).toEqual([1, 2, 3]);
    const failing = gate.run(() => Promise.reject(new Error('broken')));
    finish[1]!();
    await expect(failing).rejects.toThrow('broken');
    finish[2]!();
    await Promise.all(inside);
    expect(await gate.run(() => Promise.resolve('free'))).toBe('free');
  });
});
