// Brings the database up to date, as the role that owns its tables. It runs before the server does, so that the
// process which answers requests never knows that role's password.
import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { connect, inTransaction } from './connect.mjs';
import { prepareJobs } from './jobs.mjs';
import { ROOT, SetupError } from './paths.mjs';

/** One migration runs at a time, whoever starts it. The number is arbitrary. */
const ADVISORY_LOCK = 7_206_140;

const FOLDER = join(ROOT, 'database');

/** @type {readonly {number: number, name: string, sql: string}[]} the numbered files of `database/`, in order */
export const MIGRATIONS = readdirSync(FOLDER)
  .filter((name) => /^\d+_.*\.sql$/.test(name))
  .map((name) => ({ number: Number.parseInt(name, 10), name, sql: readFileSync(join(FOLDER, name), 'utf8') }))
  .sort((a, b) => a.number - b.number);

/** Line ends are the checkout's business. */
const digest = (sql) => createHash('sha256').update(sql.replaceAll('\r\n', '\n')).digest('hex');

/**
 * All missing migrations in one transaction, under an advisory lock; then the queue of what is done unasked.
 *
 * @param {string} connectionString of the role that owns the tables
 * @returns {Promise<string[]>} names of the migrations that were carried out
 * @throws SetupError when a migration that was already carried out has changed since, or the database is newer
 */
export const migrate = (connectionString, migrations = MIGRATIONS) =>
  inTransaction(connectionString, async (client) => {
    await client.query('select pg_advisory_xact_lock($1)', [ADVISORY_LOCK]);
    await client.query(`
      create table if not exists migration (
        number integer primary key,
        name text not null,
        sha256 text not null,
        applied_at timestamptz not null default now()
      )`);
    const { rows } = await client.query('select number, name, sha256 from migration order by number');
    const done = new Map(rows.map((row) => [row.number, row]));
    const newest = migrations.at(-1)?.number ?? 0;
    const unknown = rows.find(({ number }) => number > newest);
    if (unknown)
      throw new SetupError(`The database is newer than this program: it has ${unknown.name}. Update Lodestone.`);

    const carriedOut = [];
    for (const { number, name, sql } of migrations) {
      const before = done.get(number);
      if (before && before.sha256 !== digest(sql)) {
        throw new SetupError(`${name} has changed since it was carried out. Write a new migration instead.`);
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
    // Beside this transaction, whose lock keeps others away: what makes the queues has transactions of its own.
    const beside = await connect(connectionString);
    await prepareJobs(beside).finally(() => beside.end());
    return carriedOut;
  });
