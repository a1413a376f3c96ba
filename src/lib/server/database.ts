import pg from 'pg';
import { reasonOf } from '$lib/api/reason.ts';
import { actorOf } from './acting.ts';
import { Busy } from './gate.ts';
import { log } from './log.ts';
import { countOfReplica, countSlowQuery, gauge } from './metrics.ts';

/** SQLSTATE codes this application reacts to (PostgreSQL documentation, Appendix A). */
export const UNIQUE_VIOLATION = '23505';
export const FOREIGN_KEY_VIOLATION = '23503';
const SERIALIZATION_FAILURE = '40001';
const DEADLOCK = '40P01';

/** No query takes this long unless something is wrong; the client waits a little longer than the server. */
const STATEMENT_TIMEOUT_MS = 30_000;
const QUERY_TIMEOUT_MS = STATEMENT_TIMEOUT_MS + 5000;

/** Longest wait for somebody else's lock. */
const LOCK_TIMEOUT_MS = 10_000;

/**
 * What holds for one transaction: for whom it acts, and how long it may take. Nothing is set for a connection, neither
 * when it begins nor later: between the application and the database there may be a pooler that gives each transaction
 * another one.
 */
const TRANSACTION_SETTINGS = `set_config('lodestone.owner', $1, true),
  set_config('statement_timeout', '${STATEMENT_TIMEOUT_MS}', true),
  set_config('lock_timeout', '${LOCK_TIMEOUT_MS}', true),
  set_config('idle_in_transaction_session_timeout', '${2 * STATEMENT_TIMEOUT_MS}', true)`;

/** A deadlock ends one of two; the other goes on, and the first is tried again. */
const TRIES = 5;

const POOL_SIZE = 8;

/** Longest wait for a connection of the pool; and so many wait at the most: whoever comes on top is told at once. */
const POOL_WAIT_MS = 15_000;
const MOST_WAITING = 200;

let pool: pg.Pool | undefined;

export function connectionString(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL must name the database');
  return url;
}

/** The application's connections, opened on first use from `DATABASE_URL`. */
export function database(): pg.Pool {
  if (!pool) {
    pool = openPool(connectionString(), POOL_WAIT_MS);
    const mine = pool;
    gauge('pool_connections', 'Connections to the database.', () => mine.totalCount);
    gauge('pool_idle', 'Connections to the database that do nothing.', () => mine.idleCount);
    gauge('pool_waiting', 'Requests that wait for a connection to the database.', () => mine.waitingCount);
  }
  return pool;
}

function openPool(url: string, waitMs: number): pg.Pool {
  const opened = new pg.Pool({
    connectionString: url,
    max: POOL_SIZE,
    connectionTimeoutMillis: waitMs,
    query_timeout: QUERY_TIMEOUT_MS,
    // What is asked together goes out together; the answers come in the same order.
    pipeline: true
  });
  // An idle connection that the server drops is replaced on the next query.
  opened.on('error', (error) => console.error(`database connection lost: ${error.message}`));
  // From its birth to its end somebody listens to each: the pool itself does so only while it is idle, and an error
  // nobody hears ends the process.
  opened.on('connect', (client) => {
    client.on('error', (error) => lost.set(client, error));
    timed(client);
  });
  return opened;
}

export async function closeDatabase(): Promise<void> {
  const closing = [pool, replica];
  pool = replica = undefined;
  await Promise.all(closing.map((each) => each?.end()));
}

/** Queries that take longer are told, ms. */
const SLOW_MS = 1000;
/** So much of a query is enough to know it by, characters. */
const TOLD_LETTERS = 200;

/** Tells queries of a connection that take long: by their words alone, never by what was asked with them. */
function timed(client: pg.PoolClient): void {
  const query = client.query.bind(client) as (...asked: unknown[]) => unknown;
  const watched = (...asked: unknown[]): unknown => {
    const answer = query(...asked);
    if (!(answer instanceof Promise)) return answer;
    const began = performance.now();
    const [what] = asked;
    const look = (): void => {
      const ms = Math.round(performance.now() - began);
      if (ms < SLOW_MS) return;
      countSlowQuery();
      const text = typeof what === 'string' ? what : String((what as { text?: string }).text);
      log('warning', 'A query was slow', { ms, query: text.replace(/\s+/g, ' ').slice(0, TOLD_LETTERS) });
    };
    answer.then(look, look);
    return answer;
  };
  client.query = watched as typeof client.query;
}

/** Connections that broke, and by what. */
const lost = new WeakMap<pg.PoolClient, Error>();

/** What queries need: one connection, in a transaction or not. */
export type Queryable = Pick<pg.PoolClient, 'query'>;

const BUSY = 'The database is busy with other requests. Nothing was changed; try again shortly.';

/** All connections were at work for too long: that is no database that cannot be reached. */
function busyOr(error: unknown): never {
  const { totalCount, idleCount } = database();
  const isFull = totalCount >= POOL_SIZE && idleCount === 0;
  if (isFull && error instanceof Error && /timeout exceeded when trying to connect/.test(error.message)) {
    throw new Busy(BUSY);
  }
  throw error;
}

/** Work on one connection of the pool. */
async function withConnection<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  if (database().waitingCount >= MOST_WAITING) throw new Busy(BUSY);
  return workOn(await database().connect().catch(busyOr), work);
}

/** A connection that broke, or hangs, is not given back to its pool. */
async function workOn<T>(client: pg.PoolClient, work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  try {
    return await work(client);
  } catch (error) {
    if (isUnreachable(error) && !lost.has(client)) lost.set(client, error as Error);
    throw error;
  } finally {
    client.release(lost.get(client));
  }
}

/** Runs `work` in one transaction; what it asks first goes out behind the beginning, without waiting for it. */
async function inTransaction<T>(
  client: pg.PoolClient,
  begin: readonly Promise<unknown>[],
  work: (client: Queryable) => Promise<T>
): Promise<T> {
  try {
    const [begun, worked] = await Promise.allSettled([Promise.all(begin), work(client)]);
    if (begun.status === 'rejected') throw begun.reason;
    if (worked.status === 'rejected') throw worked.reason;
    await client.query('commit');
    return worked.value;
  } catch (error) {
    if (!isUnreachable(error)) await client.query('rollback');
    throw error;
  }
}

/** Reads for one owner: single statements, each a consistent picture of its own. */
export function readAs<T>(owner: string, read: (on: Queryable) => Promise<T>): Promise<T> {
  return withConnection((client) => readOn(client, owner, read));
}

const readOn = <T>(client: pg.PoolClient, owner: string, read: (on: Queryable) => Promise<T>): Promise<T> =>
  inTransaction(
    client,
    [client.query('begin read only'), client.query(`select ${TRANSACTION_SETTINGS}`, [actorOf(owner)])],
    read
  );

/** A copy that follows the database, some time behind. */
let replica: pg.Pool | undefined;
/** A replica that does not answer is not waited for by everybody, ms. */
const REPLICA_WAIT_MS = 1000;
const REPLICA_REST_MS = 30_000;
let replicaRestsUntil = 0;

/**
 * Reads for one owner what never changes under its name (the pixels of a frame, a photo or a scan by its hash): from the
 * replica that `LODESTONE_REPLICA_URL` names, however far behind it is; for a guest from the database. What it has not
 * got yet, or cannot tell, is asked of the database. Whether it is still there, and theirs to see, the database was asked
 * before.
 *
 * @param read undefined where it finds nothing
 */
export async function readUnchanging<T>(
  owner: string,
  read: (on: Queryable) => Promise<T | undefined>
): Promise<T | undefined> {
  const { LODESTONE_REPLICA_URL: url } = process.env;
  // Whether something is still shared with a guest only the database knows.
  const isOwn = actorOf(owner) === owner;
  if (url && isOwn && Date.now() >= replicaRestsUntil) {
    try {
      replica ??= openPool(url, REPLICA_WAIT_MS);
      const found = await workOn(await replica.connect(), (client) => readOn(client, owner, read));
      countOfReplica(found === undefined ? 'behind' : 'answered');
      if (found !== undefined) return found;
    } catch (error) {
      countOfReplica('failed');
      replicaRestsUntil = Date.now() + REPLICA_REST_MS;
      log('warning', 'The replica does not answer; the database is asked', { error: reasonOf(error) });
    }
  }
  return readAs(owner, read);
}

/** Reads for one owner: every statement sees the same moment. */
export function readSnapshot<T>(owner: string, read: (on: Queryable) => Promise<T>): Promise<T> {
  return withConnection((client) =>
    inTransaction(
      client,
      [
        client.query('begin isolation level repeatable read read only'),
        client.query(`select ${TRANSACTION_SETTINGS}, set_config('TimeZone', 'UTC', true)`, [actorOf(owner)])
      ],
      read
    )
  );
}

/**
 * What a transaction does to the drawer. Whoever changes it, or what is held of it, is alone (`change`); a save of a
 * train only sees to it that it does not change meanwhile (`keep`). It is the first lock that is taken: everything after it has
 * one order, so that two never wait for each other.
 */
export type DrawerLock = 'change' | 'keep';

/** The number is arbitrary; the owner is what parts one lock from another. */
const DRAWER_LOCK = 7_206_141;
const LOCK_FUNCTION = { change: 'pg_advisory_xact_lock', keep: 'pg_advisory_xact_lock_shared' } as const;

const pause = (ms: number): Promise<void> => new Promise((over) => setTimeout(over, ms));

/**
 * Runs `work` for one owner in one transaction: all of it is stored, or nothing. What the database ended for the sake
 * of others (a deadlock, a conflict of order) is tried again.
 */
export async function asOwner<T>(
  owner: string,
  work: (client: Queryable) => Promise<T>,
  lock?: DrawerLock
): Promise<T> {
  const actor = actorOf(owner);
  const settings = lock
    ? {
        text: `select ${TRANSACTION_SETTINGS}, ${LOCK_FUNCTION[lock]}(${DRAWER_LOCK}, hashtext($2))`,
        values: [actor, owner]
      }
    : { text: `select ${TRANSACTION_SETTINGS}`, values: [actor] };
  const once = (): Promise<T> =>
    withConnection((client) => inTransaction(client, [client.query('begin'), client.query(settings)], work));
  for (let tried = 1; ; tried++) {
    try {
      return await once();
    } catch (error) {
      if (tried >= TRIES || !(hasCode(error, DEADLOCK) || hasCode(error, SERIALIZATION_FAILURE))) throw error;
      await pause(10 * tried * (1 + Math.random()));
    }
  }
}

const codeOf = (error: unknown): string => (error instanceof pg.DatabaseError ? (error.code ?? '') : '');

export const hasCode = (error: unknown, code: string): boolean => codeOf(error) === code;

/** Whether an error means that the database cannot be reached, rather than that it refused something. */
function isUnreachable(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  // 08: connection exceptions; 57P: the server is shutting down or starting up.
  if (error instanceof pg.DatabaseError) return /^(08|57P)/.test(codeOf(error));
  const code = 'code' in error ? String(error.code) : '';
  // A file that may not be written has such a code too, and a path.
  if ('path' in error) return false;
  return /^E[A-Z_]+$/.test(code) || /timeout|terminated|connection/i.test(error.message);
}

/** What a person is told of an error of the database, and whether trying again may help. */
export interface DatabaseRefusal {
  status: 400 | 409 | 503;
  message: string;
}

const SHORTLY = 'Nothing was changed; try again shortly.';

/** What to answer to an error of the database; undefined where it is not one that anybody can do something about. */
export function databaseRefusal(error: unknown): DatabaseRefusal | undefined {
  if (isUnreachable(error)) return { status: 503, message: `The database cannot be reached just now. ${SHORTLY}` };
  const code = codeOf(error);
  if (/^(40|55P03|57014|25P03)/.test(code)) {
    return { status: 503, message: `The database is busy with other changes. ${SHORTLY}` };
  }
  if (code === '53100' || code === '58030') {
    return {
      status: 503,
      message: 'The disk of the database is full. Nothing was changed; make room, then try again.'
    };
  }
  if (code.startsWith('53')) return { status: 503, message: `The database has no room for more work. ${SHORTLY}` };
  if (code.startsWith('22')) {
    return { status: 400, message: 'Something in this cannot be stored: a number, date or text out of range.' };
  }
  if (code.startsWith('23')) {
    return {
      status: 409,
      message: 'This does not go together with what is stored now. Nothing was changed; look again.'
    };
  }
  return undefined;
}
