import { randomUUID } from 'node:crypto';
import type { Train } from '@lodestone/core/train';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeDatabase, database } from './database.ts';
import { MIGRATIONS, migrate } from '../../../scripts/setup/migrate.mjs';
import { readRevision } from './revisions.ts';
import { asAdmin, heron, owner, ownerUrl } from './testing.ts';
import { changeState, createTrain, listTrains, saveRevision } from './trains.ts';

const document = (name: string): Train => ({ ...heron, name });

async function made(by: string, name = 'first') {
  const outcome = await createTrain(by, randomUUID(), document(name));
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train;
}

const save = (by: string, id: string, basedOn: number, name: string, saveId: string = randomUUID()) =>
  saveRevision(by, id, { saveId, basedOn, document: document(name) });

beforeAll(async () => void (await migrate(ownerUrl)));
afterAll(closeDatabase);

describe('migrations', () => {
  it('are carried out once, and again only when there are new ones', async () => {
    expect(await migrate(ownerUrl)).toEqual([]);
  });

  it('two programs that start together do not meet', async () => {
    expect(await Promise.all([migrate(ownerUrl), migrate(ownerUrl), migrate(ownerUrl)])).toEqual([[], [], []]);
  });

  it('one that fails leaves nothing half done', async () => {
    const broken = { number: 999, name: '0999_broken.sql', sql: 'create table half_done (id int); select 1/0' };
    await expect(migrate(ownerUrl, [...MIGRATIONS, broken])).rejects.toThrow('division by zero');
    const { rows } = await asAdmin(`select to_regclass('half_done') as there`);
    expect(rows).toEqual([{ there: null }]);
  });

  it('one that was changed after it was carried out is noticed, and so is a newer database', async () => {
    const changed = MIGRATIONS.map((each) => ({ ...each, sql: `${each.sql} ` }));
    await expect(migrate(ownerUrl, changed)).rejects.toThrow('has changed since');
    await expect(migrate(ownerUrl, [])).rejects.toThrow('newer than this program');
  });
});

describe('revisions', () => {
  it('number themselves without gaps and keep every state', async () => {
    const by = owner();
    const { id } = await made(by);
    for (const [basedOn, name] of [
      [1, 'second'],
      [2, 'third']
    ] as const) {
      expect((await save(by, id, basedOn, name)).kind).toBe('stored');
    }
    const names = await Promise.all([1, 2, 3].map(async (n) => (await readRevision(by, id, n))?.document.name));
    expect(names).toEqual(['first', 'second', 'third']);
    expect((await readRevision(by, id))?.revision.number).toBe(3);
    expect(await readRevision(by, id, 4)).toBeUndefined();
  });

  it('give the document back as it was stored, with its hash', async () => {
    const by = owner();
    const train = await made(by);
    expect(train.document).toEqual(document('first'));
    expect(train.revision.hash).toMatch(/^[0-9a-f]{64}$/);
    const same = await made(by);
    expect(same.revision.hash).toBe(train.revision.hash);
  });

  it('the same save id stores once, also when two arrive together', async () => {
    const by = owner();
    const { id } = await made(by);
    const saveId = randomUUID();
    const outcomes = await Promise.all(Array.from({ length: 6 }, () => save(by, id, 1, 'second', saveId)));
    expect(outcomes.map(({ kind }) => kind).sort()).toEqual([...Array(5).fill('already-stored'), 'stored']);
    expect((await readRevision(by, id))?.revision.number).toBe(2);

    const createId = randomUUID();
    const creations = await Promise.all(Array.from({ length: 4 }, () => createTrain(by, createId, document('once'))));
    const ids = new Set(creations.map((outcome) => ('train' in outcome ? outcome.train.id : '')));
    expect(ids.size).toBe(1);
    expect(
      (await listTrains(by)).filter((train) => 'document' in train && train.document.name === 'once')
    ).toHaveLength(1);
  });

  it('of two saves based on one revision, one is stale and overwrites nothing', async () => {
    const by = owner();
    const { id } = await made(by);
    const outcomes = await Promise.all([save(by, id, 1, 'mine'), save(by, id, 1, 'theirs')]);
    expect(outcomes.map(({ kind }) => kind).sort()).toEqual(['stale', 'stored']);
    const head = await readRevision(by, id);
    const stale = outcomes.find((outcome) => outcome.kind === 'stale');
    expect(stale).toMatchObject({ head: { revision: { number: 2 }, document: { name: head?.document.name } } });
  });

  it('a save id of another train, a missing and a deleted train are told apart', async () => {
    const by = owner();
    const [one, other] = [await made(by), await made(by)];
    const saveId = randomUUID();
    await save(by, one.id, 1, 'second', saveId);
    expect((await save(by, other.id, 1, 'second', saveId)).kind).toBe('other-save');
    expect((await save(by, randomUUID(), 1, 'second')).kind).toBe('missing');
    await changeState(by, one.id, 'deleted');
    expect((await save(by, one.id, 2, 'third')).kind).toBe('deleted');
    await changeState(by, one.id, 'active');
    expect((await save(by, one.id, 2, 'third')).kind).toBe('stored');
  });

  it('belong to their owner', async () => {
    const { id } = await made(owner());
    const stranger = owner();
    expect(await readRevision(stranger, id)).toBeUndefined();
    expect((await save(stranger, id, 1, 'x')).kind).toBe('missing');
    expect(await changeState(stranger, id, 'deleted')).toEqual({ kind: 'missing' });
    expect(await listTrains(stranger)).toEqual([]);
  });
});

describe('what the database itself guards', () => {
  it('revisions are never changed, deleted or emptied, not even by the owner of the tables', async () => {
    await made(owner());
    for (const sql of [
      'update train_revision set number = 7',
      'delete from train_revision',
      'truncate train_revision cascade'
    ]) {
      await expect(asAdmin(sql)).rejects.toThrow('never changed');
    }
  });

  it('a number without its predecessor is refused', async () => {
    const by = owner();
    const { id } = await made(by);
    const insert = (number: number) =>
      asAdmin('insert into train_revision (owner, train_id, number, save_id, document) values ($1, $2, $3, $4, $5)', [
        by,
        id,
        number,
        randomUUID(),
        JSON.stringify(document('x'))
      ]);
    await expect(insert(3)).rejects.toThrow('foreign key');
    await expect(insert(0)).rejects.toThrow();
    await expect(insert(1)).rejects.toThrow('duplicate key');
  });

  it('the application’s role owns nothing and may change nothing it need not', async () => {
    const { rows } = await database().query<{ super: boolean; owned: number }>(
      `select rolsuper as super,
              (select count(*)::int from pg_tables where schemaname = 'public' and tableowner = current_user) as owned
         from pg_roles where rolname = current_user`
    );
    expect(rows).toEqual([{ super: false, owned: 0 }]);
    await expect(database().query('update train_revision set number = 7')).rejects.toThrow('permission denied');
    await expect(database().query('delete from train')).rejects.toThrow('permission denied');
    await expect(database().query(`update train set owner = 'x'`)).rejects.toThrow('permission denied');
  });

  it('SQL and HTML in a name are only a name', async () => {
    const by = owner();
    const name = `'); drop table train; -- <script>alert(1)</script> "\\`;
    const { id } = await made(by, name);
    expect((await readRevision(by, id))?.document.name).toBe(name);
  });
});
