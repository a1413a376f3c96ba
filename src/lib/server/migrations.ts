import { createHash } from 'node:crypto';
import pg from 'pg';

const files = import.meta.glob<string>('/database/*.sql', { query: '?raw', import: 'default', eager: true });

export interface Migration {
  number: number;
  name: string;
  sql: string;
}

/** The numbered files of `database/`, in order. */
export const MIGRATIONS: readonly Migration[] = Object.entries(files)
  .map(([path, sql]) => {
    const name = path.slice(path.lastIndexOf('/') + 1);
    return { number: Number.parseInt(name, 10), name, sql };
  })
  .sort((a, b) => a.number - b.number);

/** One migration runs at a time, whoever starts it. The number is arbitrary. */
const ADVISORY_LOCK = 7_206_140;

const digest = (sql: string): string => createHash('sha256').update(sql).digest('hex');

/**
 * Brings a database up to date: all missing migrations in one transaction, under an advisory lock.
 *
 * @param connectionString of the role that owns the tables
 * @returns names of the migrations that were carried out
 * @throws Error when a migration that was already carried out has changed since, or the database is newer
 */
export async function migrate(connectionString: string, migrations = MIGRATIONS): Promise<string[]> {
  const client = new pg.Client({ connectionString });
  await client.connect();
  try {
    await client.query('begin');
    await client.query('select pg_advisory_xact_lock($1)', [ADVISORY_LOCK]);
    await client.query(`
      create table if not exists migration (
        number integer primary key,
        name text not null,
        sha256 text not null,
        applied_at timestamptz not null default now()
      )`);
    const { rows } = await client.query<{ number: number; name: string; sha256: string }>(
      'select number, name, sha256 from migration order by number'
    );
    const done = new Map(rows.map((row) => [row.number, row]));
    const newest = migrations.at(-1)?.number ?? 0;
    const unknown = rows.find(({ number }) => number > newest);
    if (unknown) throw new Error(`The database is newer than this program: it has ${unknown.name}. Update Lodestone.`);

    const carriedOut: string[] = [];
    for (const { number, name, sql } of migrations) {
      const before = done.get(number);
      if (before && before.sha256 !== digest(sql)) {
        throw new Error(`${name} has changed since it was carried out. Write a new migration instead.`);
      }
      if (before) continue;
      await client.query(sql);
      await client.query('insert into migration (number, name, sha256) values ($1, $2, $3)', [
        number,
        name,
        digest(sql)
      ]);
      carriedOut.push(name);
    }
    await client.query('commit');
    return carriedOut;
  } catch (error) {
    await client.query('rollback').catch(() => undefined);
    throw error;
  } finally {
    await client.end();
  }
}
