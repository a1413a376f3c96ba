// A server of the version before goes on answering on the database of this one: servers are restarted one by one.
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { expect, it } from 'vitest';
import former from '../../../database/former-queries.json';
import { makeDatabase } from '../../../scripts/setup/cluster.mjs';
import { MIGRATIONS, migrate } from '../../../scripts/setup/migrate.mjs';
import { connectionString } from './database.ts';
import { adminUrl, named, ownerUrl } from './testing.ts';

it('understands what the version before asks, and takes what it writes', async () => {
  const database = `former_${randomUUID().replaceAll('-', '')}`;
  await makeDatabase(adminUrl, database);
  const admin = new pg.Client({ connectionString: named(adminUrl, database) });
  await admin.connect();
  const columns = async () => {
    const { rows } = await admin.query<{ column: string; needed: boolean }>(
      `select table_name || '.' || column_name as column,
              is_nullable = 'NO' and column_default is null and is_generated = 'NEVER' as needed
         from information_schema.columns where table_schema = 'public' order by 1`
    );
    return rows;
  };
  await migrate(named(ownerUrl, database), MIGRATIONS.slice(0, former.migrations));
  const before = await columns();
  await migrate(named(ownerUrl, database));
  const after = await columns();
  const now = new Set(after.map(({ column }) => column));
  expect(before.filter(({ column }) => !now.has(column))).toEqual([]);
  // What it does not know it does not write.
  const tables = new Set(before.map(({ column }) => column.split('.')[0]));
  const known = new Set(before.map(({ column }) => column));
  const asked = after.filter(({ column, needed }) => needed && tables.has(column.split('.')[0]) && !known.has(column));
  expect(asked).toEqual([]);

  const client = new pg.Client({ connectionString: named(connectionString(), database) });
  await client.connect();
  const failed: string[] = [];
  for (const [at, query] of former.queries.entries()) {
    await client
      .query(`prepare former_${at} as ${query}`)
      .catch((error: Error) => failed.push(`${error.message}: ${query}`));
  }
  expect(former.queries.length).toBeGreaterThan(100);
  expect(failed).toEqual([]);
  await client.end();
  await admin.end();
});
