// Lets the first owner in, or one who is shut out, as the role that owns the tables: the application's role can do
// neither by itself.
import { createHash, randomBytes } from 'node:crypto';
import { inTransaction } from './connect.mjs';
import { SetupError } from './paths.mjs';

/** Hours within which it is taken up: whoever asked for it sits at the server. */
const HOURS = 24;

const GUARDED = ['account', 'keeper', 'invitation'];

/** A name as it is compared, as src/lib/server/owners/accounts.ts has it. */
const keyOf = (name) => name.normalize('NFKC').toLowerCase().trim().replaceAll(/\s+/g, ' ');

/**
 * Makes an invitation on a server of several owners.
 *
 * @param {string} connectionString of the role that owns the tables
 * @param {{name?: string, onlyFirst?: boolean}} whom `name`: an owner who has to get in again; without, a new one who
 *   looks after the server. `onlyFirst`: only where nobody does yet
 * @returns {Promise<string | undefined>} path of the link; undefined where none was to be made
 * @throws SetupError where there is no such owner
 */
export const invite = (connectionString, { name, onlyFirst = false } = {}) =>
  inTransaction(connectionString, async (client) => {
    // The guard holds for this role too; it is lifted for this transaction, which nobody else can look into.
    for (const table of GUARDED) await client.query(`alter table ${table} no force row level security`);
    const made = await insert(client, { name, onlyFirst });
    for (const table of GUARDED) await client.query(`alter table ${table} force row level security`);
    return made;
  });

async function insert(client, { name, onlyFirst }) {
  if (onlyFirst) {
    const { rowCount } = await client.query('select from keeper');
    if (rowCount > 0) return undefined;
    // Each start has its own link: an older one does not lie about.
    await client.query(`delete from invitation where made_by = 'server'`);
  }
  const { rows } = await client.query('select owner, name_key from account');
  const known = name === undefined ? undefined : rows.find(({ name_key: key }) => key === keyOf(name));
  if (name !== undefined && !known) throw new SetupError(`Nobody here has the name “${name}”.`);
  const isFirst = name === undefined && !rows.some(({ owner }) => owner === 'local');
  const secret = randomBytes(32).toString('base64url');
  await client.query(
    `insert into invitation (token_hash, made_by, for_owner, keeps, expires_at)
     values ($1, 'server', $2, $3, now() + make_interval(hours => $4))`,
    [
      createHash('sha256').update(secret).digest(),
      // What was made before there were several owners is the first one's.
      known?.owner ?? (isFirst ? 'local' : null),
      name === undefined,
      HOURS
    ]
  );
  return `/join#${secret}`;
}
