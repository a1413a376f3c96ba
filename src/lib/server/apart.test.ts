// One owner's rows are not there for another: what the database sees to by itself, table by table, whatever is asked.
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import drawerFile from '../../../demo/drawer.json';
import { readDrawer } from '@lodestone/core/drawer';
import { NO_FAULTS } from '@lodestone/core/experiment';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { assembleTrain } from './assembly.ts';
import { closeDatabase, connectionString } from './database.ts';
import { changeDrawer } from './drawer.ts';
import { storeFrame } from './frames.ts';
import { nameRevision } from './history.ts';
import { makeLink, trainOfLink } from './share.ts';
import { adminUrl, asFile, frameOf, heron, ownerUrl, summaryOf } from './testing.ts';
import { createTrain } from './trains.ts';

const [mine, theirs] = [`apart-${randomUUID()}`, `apart-${randomUUID()}`];
/** Tables in which these owners have no row: they are guarded as the others are. */
/** What shows a row to somebody else than its owner, and why that is no hole stands in the migration. */
const FURTHER: Readonly<Record<string, string[]>> = {
  assembly: ['of_guests_to_see'],
  build_record: ['of_guests_to_see'],
  frame: ['of_guests_to_edit', 'of_guests_to_see'],
  frame_piece: ['of_guests_to_edit', 'of_guests_to_see'],
  holding: ['of_guests_to_see'],
  record_photo: ['of_guests_to_see'],
  revision_name: ['of_guests_to_edit', 'of_guests_to_see'],
  simulated_focuser: ['of_guests_to_edit', 'of_guests_to_see'],
  train: ['of_guests_to_lock', 'of_guests_to_see'],
  train_guest: ['of_its_guest', 'of_its_guest_to_leave'],
  train_revision: ['of_guests_to_add', 'of_guests_to_see'],
  access_token: ['of_a_keeper_to_end', 'of_a_keeper_to_see', 'of_whoever_has_it'],
  account: ['of_a_keeper_to_change', 'of_a_keeper_to_see', 'of_whoever_signs_in'],
  passkey: ['of_whoever_has_it'],
  session: ['of_a_keeper_to_end', 'of_a_keeper_to_see', 'of_whoever_has_it'],
  share_link: ['of_whoever_has_it']
};
const EMPTY = ['due', 'measurement', 'part_photo', 'record_photo', 'scan', 'setting', 'simulated_focuser'];
let tables: string[];
const trains = new Map<string, string>();
let secret: string;

/** A connection of a role, in a transaction that is always taken back. */
async function as<T>(url: string, owner: string | undefined, work: (on: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('begin');
    if (owner !== undefined) await client.query(`select set_config('lodestone.owner', $1, true)`, [owner]);
    return await work(client);
  } finally {
    await client.query('rollback').catch(() => undefined);
    await client.end();
  }
}

/** Whoever signs in; theirs looks after the server besides. */
const account = (owner: string): Promise<unknown> =>
  as(adminUrl, undefined, async (on) => {
    await on.query('insert into known_owner (id) values ($1)', [owner]);
    await on.query('insert into account (owner, name, name_key) values ($1, $1, $1)', [owner]);
    if (owner === theirs) await on.query('insert into keeper (owner) values ($1)', [owner]);
    for (const table of ['session', 'access_token']) {
      const [column, value] = table === 'session' ? ['expires_at', `now() + interval '1 day'`] : ['scope', `'read'`];
      await on.query(
        `insert into ${table} (owner, token_hash, ${table === 'session' ? 'device' : 'name'}, ${column})
         values ($1, sha256(convert_to($1, 'utf8')), 'x', ${value})`,
        [owner]
      );
    }
    await on.query(
      `insert into train_guest (owner, train_id, guest, may, owner_name, guest_name)
       values ($1, $2, 'local', 'edit', 'x', 'y')`,
      [owner, trains.get(owner)]
    );
    await on.query(
      `insert into passkey (owner, id, public_key, counter, name) values ($1, convert_to($1, 'utf8'), '', 0, 'x')`,
      [owner]
    );
    await on.query('commit');
  });

/** Everything a table can hold, of one owner. */
async function lived(owner: string): Promise<void> {
  const made = await createTrain(owner, randomUUID(), heron);
  if (made.kind !== 'stored') throw new Error(made.kind);
  const { id } = made.train;
  trains.set(owner, id);
  const drawer = readDrawer(drawerFile);
  if (!drawer.ok) throw new Error('the demo must have a drawer');
  const put = [...drawer.document]
    .filter(({ partId }) => heron.elements.some((element) => 'partId' in element && element.partId === partId))
    .map((part) => ({ part, basedOn: null }));
  expect((await changeDrawer(owner, { changeId: randomUUID(), put, remove: [] })).kind).toBe('changed');
  await nameRevision(owner, id, 1, 'As it was');
  const assembled = await assembleTrain(owner, id, 1, { id: randomUUID(), note: 'first' });
  expect(assembled.kind).toBe('assembled');
  const link = await makeLink(owner, id, undefined);
  if (link.kind !== 'made') throw new Error(link.kind);
  if (owner === theirs) ({ secret } = link);
  await account(owner);
  const bytes = await frameOf(heron, NO_FAULTS, 1, 8);
  const summary = await summaryOf(bytes);
  await asFile(bytes, (file) => storeFrame(owner, id, 'one', file, summary));
}

beforeAll(async () => {
  await migrate(ownerUrl);
  await lived(mine);
  await lived(theirs);
  tables = await as(adminUrl, undefined, async (on) => {
    const { rows } = await on.query<{ name: string }>(
      `select table_name as name from information_schema.columns
        where column_name = 'owner' and table_schema = 'public' order by table_name`
    );
    return rows.map(({ name }) => name);
  });
});
afterAll(closeDatabase);

describe('the rows of an owner', () => {
  it('are guarded in every table that has an owner, also from the role that owns the tables', async () => {
    const { rows } = await as(adminUrl, undefined, (on) =>
      on.query<{ name: string; guarded: boolean; policies: string[] }>(
        `select relname as name, relrowsecurity and relforcerowsecurity as guarded,
                (select array_agg(polname::text order by polname) from pg_policy where polrelid = pg_class.oid) as policies
           from pg_class where relnamespace = 'public'::regnamespace and relname = any($1) order by relname`,
        [tables]
      )
    );
    expect(rows.map(({ name }) => name)).toEqual(tables);
    for (const { name, guarded, policies } of rows) {
      expect(guarded, name).toBe(true);
      expect(policies, name).toEqual(['of_its_owner', ...(FURTHER[name] ?? [])].sort());
    }
  });

  it('can be neither read, counted, changed, deleted nor made by another, table by table', async () => {
    const filled: string[] = [];
    for (const table of tables) {
      const whole = await as(adminUrl, undefined, (on) =>
        on.query(`select from ${table} where owner = $1`, [theirs]).then(({ rowCount }) => rowCount ?? 0)
      );
      if (whole > 0) filled.push(table);
      for (const [role, url] of [
        ['the application', connectionString()],
        ['the owner of the tables', ownerUrl]
      ] as const) {
        const seen = (owner: string | undefined, sql: string) =>
          as(url, owner, (on) => on.query(sql).then(({ rowCount }) => rowCount ?? 0));
        const said = `${table}, ${role}`;
        expect(await seen(mine, `select from ${table} where owner = '${theirs}'`), said).toBe(0);
        expect(await seen(mine, `select from ${table} where owner <> '${mine}'`), said).toBe(0);
        // Nobody is nobody: not everybody.
        expect(await seen(undefined, `select from ${table}`), said).toBe(0);
        expect(await seen('', `select from ${table}`), said).toBe(0);
        expect(await seen(theirs, `select from ${table} where owner = '${theirs}'`), said).toBe(whole);
        const tried = (sql: string) => seen(mine, sql).catch((error: Error) => error.message);
        for (const sql of [
          `update ${table} set owner = '${mine}' where owner = '${theirs}'`,
          `delete from ${table} where owner = '${theirs}'`
        ]) {
          expect([0, `permission denied for table ${table}`], `${said}: ${sql}`).toContain(await tried(sql));
        }
        if (whole > 0) {
          // A row of one's own may not be given to another, nor made for one.
          const given = await tried(`update ${table} set owner = '${theirs}' where owner = '${mine}'`);
          expect(String(given), said).toMatch(/row-level security|permission denied|never changed|^0$/);
        }
      }
    }
    // Little of what there is stays empty here: what is not tried is not known.
    expect(tables.filter((table) => !filled.includes(table))).toEqual(EMPTY);
  });

  it('cannot be made for another', async () => {
    for (const url of [connectionString(), ownerUrl]) {
      await expect(as(url, mine, (on) => on.query('insert into train (owner) values ($1)', [theirs]))).rejects.toThrow(
        'row-level security'
      );
    }
  });

  it('are not found by who leaves the guard out, or gives himself another role', async () => {
    const tried = (sql: string) => as(connectionString(), mine, (on) => on.query(sql));
    // Off means refused, not open.
    await expect(
      as(connectionString(), mine, async (on) => {
        await on.query('set local row_security = off');
        return on.query('select from train');
      })
    ).rejects.toThrow('row-level security');
    for (const sql of [
      'alter table train disable row level security',
      'alter table train no force row level security',
      'drop policy of_its_owner on train',
      'create policy open on train using (true)',
      'alter role current_user bypassrls',
      'set role lodestone_owner'
    ]) {
      await expect(tried(sql), sql).rejects.toThrow(/must be (owner|superuser)|permission denied/);
    }
    await expect(tried(`select purge_train('${theirs}', '${trains.get(theirs)!}')`)).rejects.toThrow(
      'for its owner only'
    );
  });

  it('of a link are shown to whoever has it, that row alone', async () => {
    expect(await trainOfLink(secret)).toEqual({ owner: theirs, trainId: trains.get(theirs) });
    const { createHash } = await import('node:crypto');
    const hash = createHash('sha256').update(secret).digest('hex');
    const seen = await as(connectionString(), mine, async (on) => {
      await on.query(`select set_config('lodestone.link', $1, true)`, [hash]);
      const { rows } = await on.query<{ owner: string }>('select owner from share_link');
      const deleted = await on.query(`delete from share_link where owner = '${theirs}'`);
      const { rowCount } = await on.query(`select from train where owner = '${theirs}'`);
      return { owners: rows.map(({ owner }) => owner).sort(), deleted: deleted.rowCount, trains: rowCount };
    });
    expect(seen).toEqual({ owners: [mine, theirs].sort(), deleted: 0, trains: 0 });
  });
});
