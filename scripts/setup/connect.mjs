// How setup reaches the database as the role that owns the tables, and what is told where it does not.
import { SetupError } from './paths.mjs';

/** Codes of Node.js for a certificate that does not stand up (Node.js documentation, “TLS”, X509 certificate error codes). */
const CERTIFICATE = /^(ERR_TLS_|CERT_|DEPTH_ZERO_|SELF_SIGNED_|UNABLE_TO_(GET_ISSUER|VERIFY))/;
/** Nobody answers at the address. */
const AWAY = /^(ECONN|EHOST|ENET|ENOTFOUND|EAI_|ETIMEDOUT)/;

/** @returns the database as it is told, without any secret */
function named(connectionString) {
  const { hostname, port, pathname } = new URL(connectionString);
  return `The database “${pathname.slice(1)}” at ${hostname}:${port || 5432}`;
}

function inWords(connectionString, { code = '', message, path }) {
  if (code === 'ERR_INVALID_URL') return 'DATABASE_URL, or LODESTONE_MIGRATE_URL, is not the address of a database.';
  const database = named(connectionString);
  if (code === '28P01' || code === '28000') return `${database} does not let this role in: ${message}.`;
  if (code === '3D000') return `${database} is not there. Make it first.`;
  if (code === 'ENOENT' && path) return `${database} is to be known by ${path}, which is not there.`;
  if (CERTIFICATE.test(code)) {
    return `${database} has a certificate that is not trusted: ${message}. “sslrootcert” in its address names the one to trust.`;
  }
  return AWAY.test(code) ? `${database} does not answer (${code}).` : `${database} cannot be used: ${message}.`;
}

/**
 * Connects to the database; whoever asks ends the connection.
 *
 * @param {string} connectionString
 * @returns {Promise<import('pg').Client>}
 * @throws SetupError in a sentence, where it cannot be reached
 */
export async function connect(connectionString) {
  const { default: pg } = await import('pg');
  try {
    const client = new pg.Client({ connectionString });
    // A connection that breaks fails the query it breaks; told a second time, to nobody, it would end the process.
    client.on('error', () => undefined);
    await client.connect();
    return client;
  } catch (error) {
    throw new SetupError(inWords(connectionString, error));
  }
}

/**
 * Does something in one transaction: all of it is stored, or nothing.
 *
 * @template T
 * @param {string} connectionString
 * @param {(client: import('pg').Client) => Promise<T>} work
 * @returns {Promise<T>}
 */
export async function inTransaction(connectionString, work) {
  const client = await connect(connectionString);
  try {
    await client.query('begin');
    const done = await work(client);
    await client.query('commit');
    return done;
  } catch (error) {
    await client.query('rollback').catch(() => undefined);
    throw error;
  } finally {
    await client.end();
  }
}
