import { randomUUID } from 'node:crypto';
import type { Account, Invitation, OtherOwner } from '$lib/api/owners.ts';
import { asOwner, hasCode, readAs, UNIQUE_VIOLATION, type Queryable } from '../database.ts';
import { hashPassphrase, isPassphrase, weakness } from './passphrase.ts';
import { listPasskeys } from './passkeys.ts';
import { forgetOwner } from './remembered.ts';
import { hashOf, isSecret, makeSecret } from './secrets.ts';
import { listSessions } from './sessions.ts';
import { listTokens } from './tokens.ts';

/** Days within which an invitation is taken up. */
const INVITATION_DAYS = 7;

/** A name as it is compared: two that look alike are one (Unicode, UAX 15 and default case folding). */
export const nameKey = (name: string): string => name.normalize('NFKC').toLowerCase().trim().replaceAll(/\s+/g, ' ');

/** A name as it is shown; undefined where nothing is left of it. */
const nameFrom = (typed: string): string | undefined =>
  typed
    .normalize('NFC')
    .replaceAll(/[\p{Cc}\p{Cf}\p{Surrogate}]/gu, '')
    .trim()
    .replaceAll(/\s+/g, ' ') || undefined;

interface AccountRow {
  owner: string;
  name: string;
  passphrase: string | null;
  keeps: boolean;
  made_at: Date;
  closed_at: Date | null;
}

const COLUMNS =
  'account.owner, name, passphrase, made_at, closed_at, exists (select from keeper where keeper.owner = account.owner) as keeps';

/** The account of a name: the database shows it to whoever knows the name. */
const accountNamed = (name: string): Promise<AccountRow | undefined> =>
  readAs('', async (on) => {
    const shown = on.query(`select set_config('lodestone.name', $1, true)`, [nameKey(name)]);
    const { rows } = await on.query<AccountRow>(`select ${COLUMNS} from account where name_key = $1`, [nameKey(name)]);
    await shown;
    return rows[0];
  });

/** Id of the owner of a name; undefined where there is none, or none any more. */
export async function ownerNamed(name: string): Promise<{ owner: string; name: string } | undefined> {
  const found = await accountNamed(name);
  return found && found.closed_at === null ? { owner: found.owner, name: found.name } : undefined;
}

/** Whose name and passphrase these are; undefined where they are nobody's, which takes as long to find out. */
export async function ownerOf(name: string, passphrase: string): Promise<string | undefined> {
  const found = await accountNamed(name);
  const isOpen = found !== undefined && found.closed_at === null;
  return (await isPassphrase(isOpen ? found.passphrase : undefined, passphrase)) ? found!.owner : undefined;
}

const ownAccount = async (owner: string, on: Queryable): Promise<AccountRow | undefined> => {
  const { rows } = await on.query<AccountRow>(`select ${COLUMNS} from account where owner = $1 and closed_at is null`, [
    owner
  ]);
  return rows[0];
};

export type Joined = { kind: 'joined'; owner: string } | { kind: 'refused'; message: string } | { kind: 'missing' };

/** What an invitation is for: nothing, or whom it lets in again; undefined where it does not hold. */
export async function invitationOf(secret: string): Promise<{ name?: string } | undefined> {
  if (!isSecret(secret)) return undefined;
  const found = await readAs('', async (on) => {
    const shown = on.query(`select set_config('lodestone.secret', $1, true)`, [hashOf(secret).toString('hex')]);
    const { rows } = await on.query<{ for_owner: string | null }>(
      'select for_owner from invitation where token_hash = $1 and expires_at > now()',
      [hashOf(secret)]
    );
    await shown;
    return rows[0];
  });
  if (!found) return undefined;
  const { for_owner: owner } = found;
  if (owner === null) return {};
  const account = await readAs(owner, async (on) => {
    const { rows } = await on.query<{ name: string }>('select name from account where owner = $1', [owner]);
    return rows[0];
  });
  return account ? { name: account.name } : {};
}

/** Makes an account by an invitation, or opens the one it names again with a new passphrase. */
export async function join(secret: string, typedName: string, passphrase: string): Promise<Joined> {
  const invited = await invitationOf(secret);
  if (!invited) return { kind: 'missing' };
  const name = invited.name ?? nameFrom(typedName);
  if (name === undefined) return { kind: 'refused', message: 'A name has at least one letter.' };
  const weak = weakness(passphrase, [name, 'lodestone']);
  if (weak !== undefined) return { kind: 'refused', message: weak };
  const hashed = await hashPassphrase(passphrase);
  try {
    const joined = await asOwner('', async (on): Promise<Joined> => {
      const { rows } = await on.query<{ owner: string | null }>(
        'select accept_invitation($1, $2, $3, $4, $5) as owner',
        [hashOf(secret), randomUUID(), name, nameKey(name), hashed]
      );
      const owner = rows[0]?.owner;
      return typeof owner === 'string' ? { kind: 'joined', owner } : { kind: 'missing' };
    });
    if (joined.kind === 'joined') forgetOwner(joined.owner);
    return joined;
  } catch (error) {
    if (!hasCode(error, UNIQUE_VIOLATION)) throw error;
    return { kind: 'refused', message: 'Somebody here has that name. Take another.' };
  }
}

/** Gives an owner a new passphrase, and ends all sessions but one. */
export async function changePassphrase(
  owner: string,
  { old, next, session }: { old: string; next: string; session: string }
): Promise<{ kind: 'changed' } | { kind: 'wrong' } | { kind: 'refused'; message: string }> {
  const account = await readAs(owner, (on) => ownAccount(owner, on));
  // Whoever has passkeys alone is known by one already.
  if (!account || (account.passphrase !== null && !(await isPassphrase(account.passphrase, old)))) {
    return { kind: 'wrong' };
  }
  const weak = weakness(next, [account.name, 'lodestone']);
  if (weak !== undefined) return { kind: 'refused', message: weak };
  const hashed = await hashPassphrase(next);
  await asOwner(owner, async (on) => {
    await on.query('update account set passphrase = $2 where owner = $1', [owner, hashed]);
    await on.query('delete from session where owner = $1 and id <> $2', [owner, session]);
  });
  forgetOwner(owner);
  return { kind: 'changed' };
}

const toOther = ({ owner, name, made_at, closed_at }: Omit<AccountRow, 'keeps'>): OtherOwner => ({
  owner,
  name,
  madeAt: made_at.toISOString(),
  ...(closed_at ? { closedAt: closed_at.toISOString() } : {})
});

interface InvitationRow {
  id: string;
  keeps: boolean;
  for_owner: string | null;
  expires_at: Date;
}
const toInvitation = ({ id, keeps, for_owner, expires_at }: InvitationRow): Invitation => ({
  id,
  keeps,
  ...(for_owner === null ? {} : { for: for_owner }),
  expiresAt: expires_at.toISOString()
});
const INVITATION = 'id, keeps, for_owner, expires_at';

/** All that belongs to signing in, as its owner sees it. @param session the one that asks */
export const accountOf = (owner: string, session: string | undefined): Promise<Account | undefined> =>
  readAs(owner, async (on) => {
    const own = await ownAccount(owner, on);
    if (!own) return undefined;
    const [passkeys, sessions, tokens] = [
      await listPasskeys(owner, on),
      await listSessions(owner, session, on),
      await listTokens(owner, on)
    ];
    const account: Account = {
      owner,
      name: own.name,
      keeps: own.keeps,
      hasPassphrase: own.passphrase !== null,
      passkeys,
      sessions,
      tokens
    };
    if (!own.keeps) return account;
    const { rows: owners } = await on.query<Omit<AccountRow, 'keeps'>>(
      'select owner, name, made_at, closed_at from account order by made_at, owner'
    );
    const { rows: invitations } = await on.query<InvitationRow>(
      `select ${INVITATION} from invitation where made_by = $1 and expires_at > now() order by made_at desc`,
      [owner]
    );
    return { ...account, owners: owners.map(toOther), invitations: invitations.map(toInvitation) };
  });

/** Makes an invitation; for a keeper only, as the database sees to. @param forOwner whom it lets in again */
export async function invite(
  keeper: string,
  { keeps, forOwner }: { keeps: boolean; forOwner?: string }
): Promise<{ invitation: Invitation; secret: string } | undefined> {
  const { secret, hash } = makeSecret();
  return asOwner(keeper, async (on) => {
    await on.query('delete from invitation where made_by = $1 and expires_at <= now()', [keeper]);
    if (forOwner !== undefined) {
      const { rowCount } = await on.query('select from account where owner = $1', [forOwner]);
      if (rowCount === 0) return undefined;
    }
    const { rows } = await on.query<InvitationRow>(
      `insert into invitation (token_hash, made_by, for_owner, keeps, expires_at)
       values ($1, $2, $3, $4, now() + make_interval(days => $5)) returning ${INVITATION}`,
      [hash, keeper, forOwner ?? null, keeps, INVITATION_DAYS]
    );
    return { invitation: toInvitation(rows[0]!), secret };
  });
}

export const takeBackInvitation = (keeper: string, id: string): Promise<void> =>
  asOwner(
    keeper,
    async (on) => void (await on.query('delete from invitation where made_by = $1 and id = $2', [keeper, id]))
  );

/** Shuts an owner out, or lets them in again; theirs stays theirs. @returns whether there is such an owner */
export async function setClosed(keeper: string, owner: string, isClosed: boolean): Promise<boolean> {
  const changed = await asOwner(keeper, async (on) => {
    const { rowCount } = await on.query(
      'update account set closed_at = case when $2 then coalesce(closed_at, now()) end where owner = $1',
      [owner, isClosed]
    );
    if (isClosed) {
      await on.query('delete from session where owner = $1', [owner]);
      await on.query('delete from access_token where owner = $1', [owner]);
    }
    return rowCount === 1;
  });
  forgetOwner(owner);
  return changed;
}

/** Whether an owner looks after the server. */
export const isKeeper = (owner: string): Promise<boolean> =>
  readAs(owner, async (on) => {
    const { rows } = await on.query<{ keeps: boolean }>('select is_keeper() as keeps');
    return rows[0]?.keeps === true;
  });

/** Everybody who has rows here: for what is done for all of them, one by one. */
export const knownOwners = (): Promise<string[]> =>
  readAs('', async (on) => {
    const { rows } = await on.query<{ id: string }>('select id from known_owner order by id');
    return rows.map(({ id }) => id);
  });
