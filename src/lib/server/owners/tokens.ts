import { MOST_TOKENS, type AccessToken, type MadeToken, type Scope } from '$lib/api/owners.ts';
import { asOwner, readAs, type Queryable } from '../database.ts';
import { Remembered, forgetOwner } from './remembered.ts';
import { hashOf, isSecret, makeSecret } from './secrets.ts';

/** What a token begins with, so that whoever finds one knows what it is. */
const PREFIX = 'lodestone_';
const NOTED_EVERY_MINUTES = 10;

interface Row {
  id: string;
  name: string;
  scope: Scope;
  made_at: Date;
  used_at: Date | null;
  expires_at: Date | null;
}
const COLUMNS = 'id, name, scope, made_at, used_at, expires_at';

const toToken = ({ id, name, scope, made_at, used_at, expires_at }: Row): AccessToken => ({
  id,
  name,
  scope,
  madeAt: made_at.toISOString(),
  ...(used_at ? { usedAt: used_at.toISOString() } : {}),
  ...(expires_at ? { expiresAt: expires_at.toISOString() } : {})
});

/** Makes a token for scripts. @param days it holds; until it is taken back where undefined. @returns undefined where there are too many */
export async function makeToken(
  owner: string,
  { name, scope, days }: { name: string; scope: Scope; days?: number }
): Promise<MadeToken | undefined> {
  const { secret, hash } = makeSecret();
  return asOwner(owner, async (on) => {
    // One at a time for an owner, so that the limit holds.
    await on.query('select from account where owner = $1 for no key update', [owner]);
    await on.query('delete from access_token where owner = $1 and expires_at <= now()', [owner]);
    const { rows } = await on.query<Row>(
      `insert into access_token (owner, token_hash, name, scope, expires_at)
       select $1, $2, $3, $4, now() + make_interval(days => $5)
        where (select count(*) from access_token where owner = $1) < $6
       returning ${COLUMNS}`,
      [owner, hash, name, scope, days ?? null, MOST_TOKENS]
    );
    return rows[0] && { ...toToken(rows[0]), token: PREFIX + secret };
  });
}

/** Whose token a script shows, and what it may; undefined where it is none, or over. */
export async function tokenOf(shown: string): Promise<Known | undefined> {
  if (!shown.startsWith(PREFIX) || !isSecret(shown.slice(PREFIX.length))) return undefined;
  return tokens.get(shown, async () => {
    const value = await lookUp(shown);
    return value && { value, owner: value.owner };
  });
}

interface Known {
  owner: string;
  token: string;
  scope: Scope;
}
const tokens = new Remembered<Known>();

async function lookUp(shown: string): Promise<Known | undefined> {
  const hash = hashOf(shown.slice(PREFIX.length));
  const found = await readAs('', async (on) => {
    const told = on.query(`select set_config('lodestone.secret', $1, true)`, [hash.toString('hex')]);
    const { rows } = await on.query<{ owner: string; id: string; scope: Scope; is_due: boolean }>(
      `select owner, id, scope, used_at is null or used_at < now() - make_interval(mins => $2) as is_due
         from access_token where token_hash = $1 and (expires_at is null or expires_at > now())`,
      [hash, NOTED_EVERY_MINUTES]
    );
    await told;
    return rows[0];
  });
  if (!found) return undefined;
  const { owner, id, scope } = found;
  if (found.is_due) {
    await asOwner(owner, (on) =>
      on.query('update access_token set used_at = now() where owner = $1 and id = $2', [owner, id])
    );
  }
  return { owner, token: id, scope };
}

export async function takeBackToken(owner: string, id: string): Promise<void> {
  await asOwner(owner, (on) => on.query('delete from access_token where owner = $1 and id = $2', [owner, id]));
  forgetOwner(owner);
}

export async function listTokens(owner: string, on: Queryable): Promise<AccessToken[]> {
  const { rows } = await on.query<Row>(
    `select ${COLUMNS} from access_token
      where owner = $1 and (expires_at is null or expires_at > now()) order by made_at desc, id`,
    [owner]
  );
  return rows.map(toToken);
}
