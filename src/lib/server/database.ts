import pg from 'pg';

/** SQLSTATE codes this application reacts to. */
export const UNIQUE_VIOLATION = '23505';
export const FOREIGN_KEY_VIOLATION = '23503';

let pool: pg.Pool | undefined;

/** The application's connections, opened on first use from `DATABASE_URL`. */
export function database(): pg.Pool {
  if (!pool) {
    const connectionString = process.env.DATABASE_URL;
    if (!connectionString) throw new Error('DATABASE_URL must say where the database is');
    pool = new pg.Pool({ connectionString, max: 8, connectionTimeoutMillis: 5000 });
    // An idle connection that the server drops is replaced on the next query.
    pool.on('error', (error) => console.error(`database connection lost: ${error.message}`));
  }
  return pool;
}

export async function closeDatabase(): Promise<void> {
  const closing = pool;
  pool = undefined;
  await closing?.end();
}

/** Runs `work` in one transaction: all of it is stored, or nothing. */
export async function transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await database().connect();
  let broken: Error | undefined;
  try {
    await client.query('begin');
    const outcome = await work(client);
    await client.query('commit');
    return outcome;
  } catch (error) {
    await client.query('rollback').catch((lost: Error) => (broken = lost));
    throw error;
  } finally {
    client.release(broken);
  }
}

export const hasCode = (error: unknown, code: string): boolean =>
  error instanceof pg.DatabaseError && error.code === code;

/** Whether an error means that the database cannot be reached, rather than that it refused something. */
export function isUnreachable(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const code = 'code' in error ? String(error.code) : '';
  // 08: connection exceptions; 57P: the server is shutting down or starting up.
  if (error instanceof pg.DatabaseError) return /^(08|57P)/.test(code);
  return /^E[A-Z]+$/.test(code) || /timeout|terminated|Connection/.test(error.message);
}

/** What queries need: the pool, or one connection inside a transaction. */
export type Queryable = Pick<pg.PoolClient, 'query'>;
