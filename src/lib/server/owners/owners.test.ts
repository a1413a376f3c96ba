// Several owners: how one gets in, how long that holds, and that nobody gets in otherwise.
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { invite as inviteByServer } from '../../../../scripts/setup/inviting.mjs';
import { migrate } from '../../../../scripts/setup/migrate.mjs';
import { asOwner, closeDatabase, connectionString } from '../database.ts';
import { asAdmin, ownerUrl } from '../testing.ts';
import {
  accountOf,
  changePassphrase,
  invitationOf,
  invite,
  join,
  knownOwners,
  nameKey,
  ownerNamed,
  ownerOf,
  setClosed,
  takeBackInvitation
} from './accounts.ts';
import { countTry, forgetAttempts, forgive } from './attempts.ts';
import { hashPassphrase, isPassphrase, weakness } from './passphrase.ts';
import { hashOf } from './secrets.ts';
import { beginSession, deviceFrom, endOtherSessions, endSession, sessionOf } from './sessions.ts';
import { makeToken, takeBackToken, tokenOf } from './tokens.ts';

const PHRASE = 'violet harbour tractor seventeen';
const OTHER_PHRASE = 'copper lantern beneath glaciers';
const named = (who: string): string => `${who} ${randomUUID().slice(0, 8)}`;

const secretIn = (path: string): string => path.split('#')[1]!;

async function joined(secret: string, name: string, phrase = PHRASE): Promise<string> {
  const came = await join(secret, name, phrase);
  if (came.kind !== 'joined') throw new Error(JSON.stringify(came));
  return came.owner;
}

let keeper: string;
const keeperName = named('Ada');

/** One who looks after nothing. */
async function member(name = named('Bo')): Promise<{ owner: string; name: string }> {
  const made = (await invite(keeper, { keeps: false }))!;
  return { owner: await joined(made.secret, name), name };
}

beforeAll(async () => {
  await migrate(ownerUrl);
  keeper = await joined(secretIn((await inviteByServer(ownerUrl))!), keeperName);
});
afterAll(closeDatabase);

describe('a passphrase', () => {
  it('is kept as Argon2id, with what OWASP asks for', async () => {
    const hashed = await hashPassphrase(PHRASE);
    expect(hashed).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(await isPassphrase(hashed, PHRASE)).toBe(true);
    expect(await isPassphrase(hashed, `${PHRASE} `)).toBe(false);
    expect(await hashPassphrase(PHRASE)).not.toBe(hashed);
  });

  it('is the one another implementation hashed', async () => {
    // The reference implementation’s own test (P-H-C/phc-winner-argon2, src/test.c), from memory.
    const theirs = '$argon2id$v=19$m=65536,t=2,p=1$c29tZXNhbHQ$CTFhFdXPJO1aFaMaO6Mm5c8y7cJHAph8ArZWb2GRPPc';
    expect(await isPassphrase(theirs, 'password')).toBe(true);
    expect(await isPassphrase(theirs, 'Password')).toBe(false);
  });

  it('is the same however a keyboard writes its letters, and nobody’s is none', async () => {
    expect(await isPassphrase(await hashPassphrase('caf\u00e9 violet harbour'), 'cafe\u0301 violet harbour')).toBe(
      true
    );
    for (const none of [null, undefined]) expect(await isPassphrase(none, 'nobody’s passphrase')).toBe(false);
  });

  it.each([
    ['short', /at least 12 characters; this one has 5/],
    ['password1234', /first that are guessed/],
    ['qwertyuiop[]', /first that are guessed/],
    ['aaaaaaaaaaaaaaaa', /first that are guessed/],
    ['ada lovelace ada', /first that are guessed/],
    ['x'.repeat(129), /at most 128/]
  ])('“%s” is none', (phrase, why) => expect(weakness(phrase, ['ada lovelace', 'lodestone'])).toMatch(why));
  it.each([PHRASE, OTHER_PHRASE, '東京の空は今日も青いです。', '5Fk!x0qQ-8vRm'])('“%s” is one', (phrase) =>
    expect(weakness(phrase, ['Ada'])).toBeUndefined()
  );
});

describe('an invitation', () => {
  it('makes an account once', async () => {
    const made = (await invite(keeper, { keeps: false }))!;
    expect(await invitationOf(made.secret)).toEqual({});
    const name = named('Cyd');
    const owner = await joined(made.secret, name);
    expect(await invitationOf(made.secret)).toBeUndefined();
    expect(await join(made.secret, named('Dee'), PHRASE)).toEqual({ kind: 'missing' });
    expect(await knownOwners()).toContain(owner);
    expect(await ownerNamed(name)).toEqual({ owner, name });
  });

  it('is not used up by a name that is taken, or a passphrase that is none', async () => {
    const made = (await invite(keeper, { keeps: false }))!;
    expect(await join(made.secret, keeperName.toUpperCase(), PHRASE)).toMatchObject({ message: /has that name/ });
    expect(await join(made.secret, named('Eve'), 'password1234')).toMatchObject({ message: /guessed/ });
    expect(await join(made.secret, '\u200b \u0000', PHRASE)).toMatchObject({ message: /at least one letter/ });
    await joined(made.secret, named('Eve'));
  });

  it('holds for a week, and not when it was taken back', async () => {
    const [late, back] = [(await invite(keeper, { keeps: false }))!, (await invite(keeper, { keeps: false }))!];
    await asAdmin(`update invitation set expires_at = now() where id = $1`, [late.invitation.id]);
    await takeBackInvitation(keeper, back.invitation.id);
    for (const { secret } of [late, back, { secret: 'x'.repeat(43) }, { secret: '' }, { secret: '../..' }]) {
      expect(await invitationOf(secret)).toBeUndefined();
      expect(await join(secret, named('Fay'), PHRASE)).toEqual({ kind: 'missing' });
    }
  });

  it('of several at once makes one account', async () => {
    const { secret } = (await invite(keeper, { keeps: false }))!;
    const came = await Promise.all([1, 2, 3, 4].map((each) => join(secret, named(`Gil${each}`), PHRASE)));
    expect(came.filter(({ kind }) => kind === 'joined')).toHaveLength(1);
  });

  it('for an owner lets them in again under their name, and ends what was begun before', async () => {
    const { owner, name } = await member();
    const before = await beginSession(owner, '');
    const made = (await invite(keeper, { keeps: false, forOwner: owner }))!;
    expect(await invitationOf(made.secret)).toEqual({ name });
    expect(await joined(made.secret, 'somebody else', OTHER_PHRASE)).toBe(owner);
    expect(await sessionOf(before)).toBeUndefined();
    expect(await ownerOf(name, PHRASE)).toBeUndefined();
    expect(await ownerOf(name, OTHER_PHRASE)).toBe(owner);
  });

  it('is made by whoever looks after the server alone, as the database has it', async () => {
    const { owner } = await member();
    await expect(invite(owner, { keeps: true })).rejects.toThrow('row-level security');
    await expect(
      asOwner(owner, (on) =>
        on.query(
          `insert into invitation (token_hash, made_by, keeps, expires_at) values ($1, $2, true, now() + interval '1 day')`,
          [hashOf('x'), keeper]
        )
      )
    ).rejects.toThrow('row-level security');
    for (const sql of [
      `insert into account (owner, name, name_key) values ('${owner}', 'x', 'x')`,
      `insert into keeper (owner) values ('${owner}')`,
      `delete from account`,
      `update account set owner = 'local'`
    ]) {
      await expect(
        asOwner(owner, (on) => on.query(sql)),
        sql
      ).rejects.toThrow('permission denied');
    }
  });

  it('of the server is for the first, for one more who looks after it, or for a name', async () => {
    expect(await inviteByServer(ownerUrl, { onlyFirst: true })).toBeUndefined();
    await expect(inviteByServer(ownerUrl, { name: 'nobody at all' })).rejects.toThrow('Nobody here has the name');
    const path = await inviteByServer(ownerUrl, { name: `  ${keeperName.toUpperCase()}` });
    expect(await invitationOf(secretIn(path!))).toEqual({ name: keeperName });
    // Its guard is there again.
    const { rows } = await asAdmin(
      `select relname from pg_class where relname in ('account', 'keeper', 'invitation') and not relforcerowsecurity`
    );
    expect(rows).toEqual([]);
  });
});

describe('name and passphrase', () => {
  it('go together or not, whatever the case and the spaces of the name', async () => {
    const { owner, name } = await member(named('Åsa  Öberg'));
    expect(await ownerOf(name, PHRASE)).toBe(owner);
    expect(await ownerOf(` ${name.toLowerCase().normalize('NFD')} `, PHRASE)).toBe(owner);
    expect(await ownerOf(name, OTHER_PHRASE)).toBeUndefined();
    expect(await ownerOf('nobody', PHRASE)).toBeUndefined();
    expect(await ownerOf('nobody', 'nobody’s passphrase')).toBeUndefined();
    expect(nameKey('  ＡＤＡ   Lovelace ')).toBe('ada lovelace');
  });

  it('change, and end all other sessions', async () => {
    const { owner, name } = await member();
    const [here, there] = [await beginSession(owner, ''), await beginSession(owner, '')];
    const session = (await sessionOf(here))!.session;
    const change = (old: string, next: string) => changePassphrase(owner, { old, next, session });
    expect(await change(OTHER_PHRASE, OTHER_PHRASE)).toEqual({ kind: 'wrong' });
    expect(await change(PHRASE, 'password1234')).toMatchObject({ kind: 'refused' });
    expect(await sessionOf(there)).toBeDefined();
    expect(await change(PHRASE, OTHER_PHRASE)).toEqual({ kind: 'changed' });
    expect(await sessionOf(there)).toBeUndefined();
    expect(await sessionOf(here)).toMatchObject({ owner });
    expect(await ownerOf(name, OTHER_PHRASE)).toBe(owner);
  });

  it('are tried ten times, and by another address still', async () => {
    const name = named('hal');
    const [here, there] = [randomUUID(), randomUUID()];
    const waits: number[] = [];
    for (let tried = 0; tried < 12; tried++) waits.push(await countTry({ name, address: here }));
    expect(waits.slice(0, 10).every((wait) => wait === 0)).toBe(true);
    for (const wait of waits.slice(10)) expect(wait).toBeGreaterThan(14 * 60);
    expect(await countTry({ name, address: there })).toBe(0);
    await forgive({ name, address: there });
    // A quarter of an hour later.
    await asAdmin(`update attempt set since = since - interval '16 minutes'`);
    expect(await countTry({ name, address: here })).toBe(0);
  });

  it('cannot be tried by many at once on top, nor by many names from one address', async () => {
    const name = named('ivy');
    const address = randomUUID();
    const waits = await Promise.all(Array.from({ length: 30 }, () => countTry({ name, address })));
    expect(waits.filter((wait) => wait === 0)).toHaveLength(10);
    const names = await Promise.all(
      Array.from({ length: 40 }, (_, at) => countTry({ name: `${name} ${at}`, address }))
    );
    expect(names.filter((wait) => wait === 0)).toHaveLength(20);
    await asAdmin(`update attempt set since = since - interval '2 days'`);
    await forgetAttempts();
    expect((await asAdmin('select from attempt')).rowCount).toBe(0);
  });
});

describe('a session', () => {
  it('is who began it, until it ends', async () => {
    const { owner, name } = await member();
    const secret = await beginSession(owner, 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0');
    expect(await sessionOf(secret)).toMatchObject({ owner, name, keeps: false });
    const { session } = (await sessionOf(secret))!;
    const other = await beginSession(owner, '');
    expect((await accountOf(owner, session))!.sessions).toMatchObject([
      { id: session, device: 'Firefox, Linux', isThis: true },
      { isThis: false }
    ]);
    await endOtherSessions(owner, session);
    expect(await sessionOf(other)).toBeUndefined();
    await endSession(owner, session);
    expect(await sessionOf(secret)).toBeUndefined();
  });

  it('that is guessed, fixed or over is none, and what is kept of it opens nothing', async () => {
    const { owner } = await member();
    const secret = await beginSession(owner, '');
    const { rows } = await asAdmin('select token_hash from session where owner = $1', [owner]);
    const { token_hash: hash } = rows[0] as { token_hash: Buffer };
    for (const shown of ['', 'x'.repeat(43), hash.toString('base64url'), hash.toString('hex'), `${secret}x`, 'a b']) {
      expect(await sessionOf(shown)).toBeUndefined();
    }
    await asAdmin(`update session set expires_at = now() - interval '1 second' where owner = $1`, [owner]);
    expect(await sessionOf(secret)).toBeUndefined();
  });

  it('goes on while it is used, and is over after half a year all the same', async () => {
    const { owner } = await member();
    const secret = await beginSession(owner, '');
    const daysLeft = async (): Promise<number> => {
      const { rows } = await asAdmin(
        `select round(extract(epoch from expires_at - now()) / 86400)::int as days from session where owner = $1`,
        [owner]
      );
      return (rows[0] as { days: number }).days;
    };
    const later = (days: number) =>
      asAdmin(
        `update session set made_at = made_at - make_interval(days => $2), used_at = used_at - make_interval(days => $2),
                            expires_at = expires_at - make_interval(days => $2) where owner = $1`,
        [owner, days]
      );
    expect(await daysLeft()).toBe(30);
    await later(20);
    expect(await sessionOf(secret)).toBeDefined();
    expect(await daysLeft()).toBe(30);
    for (let at = 0; at < 7; at++) {
      await later(20);
      await sessionOf(secret);
    }
    expect(await daysLeft()).toBe(20);
    await later(20);
    expect(await sessionOf(secret)).toBeUndefined();
  });

  it('of somebody who is shut out is none; what is theirs stays, and they may come again', async () => {
    const { owner, name } = await member();
    const secret = await beginSession(owner, '');
    const token = (await makeToken(owner, { name: 'script', scope: 'write' }))!;
    const somebody = await member();
    // Only who looks after the server may.
    expect(await setClosed(somebody.owner, owner, true)).toBe(false);
    expect(await sessionOf(secret)).toBeDefined();
    expect(await setClosed(keeper, owner, true)).toBe(true);
    expect(await sessionOf(secret)).toBeUndefined();
    expect(await tokenOf(token.token)).toBeUndefined();
    expect(await ownerOf(name, PHRASE)).toBeUndefined();
    expect(await ownerNamed(name)).toBeUndefined();
    expect((await accountOf(keeper, undefined))!.owners!.find((each) => each.owner === owner)!.closedAt).toBeDefined();
    expect(await setClosed(keeper, owner, false)).toBe(true);
    expect(await ownerOf(name, PHRASE)).toBe(owner);
    expect(await setClosed(keeper, 'nobody', true)).toBe(false);
  });

  it.each([
    [
      'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 Version/18.0 Mobile Safari/604.1',
      'Safari, iPhone or iPad'
    ],
    ['Mozilla/5.0 (Linux; Android 15) AppleWebKit/537.36 Chrome/131.0.0.0 Mobile Safari/537.36', 'Chrome, Android'],
    ['Mozilla/5.0 (Windows NT 10.0) AppleWebKit/537.36 Chrome/131.0 Safari/537.36 Edg/131.0', 'Edge, Windows'],
    ['curl/8.1', undefined]
  ])('comes from “%s”', (agent, device) => expect(deviceFrom(agent)).toBe(device));
});

describe('a token', () => {
  it('is its owner’s, for what it says, until it is taken back or over', async () => {
    const { owner } = await member();
    const made = (await makeToken(owner, { name: 'capture', scope: 'frames', days: 30 }))!;
    expect(made.token).toMatch(/^lodestone_[\w-]{43}$/);
    expect(await tokenOf(made.token)).toEqual({ owner, token: made.id, scope: 'frames' });
    for (const shown of ['', made.token.slice(0, -1), made.token.slice(10), `lodestone_${'x'.repeat(43)}`]) {
      expect(await tokenOf(shown)).toBeUndefined();
    }
    const [listed] = (await accountOf(owner, undefined))!.tokens;
    expect(listed).toMatchObject({ id: made.id, name: 'capture', usedAt: expect.any(String) });
    expect(JSON.stringify(listed)).not.toContain(made.token.slice(12));
    const somebody = await member();
    await takeBackToken(somebody.owner, made.id);
    expect(await tokenOf(made.token)).toBeDefined();
    await asAdmin('update access_token set expires_at = now() where owner = $1', [owner]);
    expect(await tokenOf(made.token)).toBeUndefined();
    const second = (await makeToken(owner, { name: 'again', scope: 'read' }))!;
    await takeBackToken(owner, second.id);
    expect(await tokenOf(second.token)).toBeUndefined();
  });

  it('is one of fifty at the most', async () => {
    const { owner } = await member();
    const made = await Promise.all(
      Array.from({ length: 53 }, (_, at) => makeToken(owner, { name: `t${at}`, scope: 'read' }))
    );
    expect(made.filter((each) => each !== undefined)).toHaveLength(50);
  });
});

it('the database tells nobody who there is: a name finds itself alone, and no other asks for all', async () => {
  const { owner } = await member();
  const client = new pg.Client({ connectionString: connectionString() });
  await client.connect();
  const seen = async (as: string, name = ''): Promise<number> => {
    await client.query('begin');
    await client.query(`select set_config('lodestone.owner', $1, true), set_config('lodestone.name', $2, true)`, [
      as,
      name
    ]);
    const { rowCount } = await client.query('select from account');
    await client.query('rollback');
    return rowCount ?? 0;
  };
  expect(await seen('')).toBe(0);
  expect(await seen(owner)).toBe(1);
  expect(await seen('', nameKey(keeperName))).toBe(1);
  expect(await seen('', '%')).toBe(0);
  expect(await seen(keeper)).toBeGreaterThan(2);
  await client.end();
});
