import type { GuestMay, SignedIn, Who } from '$lib/api/owners.ts';
import { asOwner, readAs, type Queryable } from '../database.ts';
import { Remembered, forgetOwner } from './remembered.ts';
import { hashOf, isSecret, makeSecret } from './secrets.ts';

/** Days without use after which a session is over. */
const daysOf = (text: string | undefined): number => {
  const days = Number(text);
  return Number.isInteger(days) && days >= 1 && days <= 365 ? days : 30;
};
const IDLE_DAYS = daysOf(process.env.LODESTONE_SESSION_DAYS);
/** And after which it is over however much it is used. */
const LONGEST_DAYS = 180;
/** Its use is written down no more often than that. */
const NOTED_EVERY_MINUTES = 10;
/** Of one owner; the one that was not used for the longest gives way. */
const MOST_SESSIONS = 100;

export const SESSION_SECONDS = LONGEST_DAYS * 24 * 3600;

/** A browser in few words, as far as it says what it is. */
export function deviceFrom(agent: string): string | undefined {
  const system = (
    [
      [/iphone|ipad/i, 'iPhone or iPad'],
      [/android/i, 'Android'],
      [/windows/i, 'Windows'],
      [/mac os/i, 'Mac'],
      [/cros/i, 'ChromeOS'],
      [/linux/i, 'Linux']
    ] as const
  ).find(([words]) => words.test(agent))?.[1];
  const browser = (
    [
      [/edg\//i, 'Edge'],
      [/firefox\//i, 'Firefox'],
      [/chrom(e|ium)\/|crios\//i, 'Chrome'],
      [/safari\//i, 'Safari']
    ] as const
  ).find(([words]) => words.test(agent))?.[1];
  return [browser, system].filter(Boolean).join(', ') || undefined;
}

/** Begins a session. @returns its secret, which is told this once */
export async function beginSession(owner: string, agent: string): Promise<string> {
  const { secret, hash } = makeSecret();
  await asOwner(owner, async (on) => {
    await on.query('delete from session where owner = $1 and expires_at <= now()', [owner]);
    await on.query(
      `delete from session where owner = $1
          and id in (select id from session where owner = $1 order by used_at desc offset $2)`,
      [owner, MOST_SESSIONS - 1]
    );
    await on.query(
      `insert into session (owner, token_hash, device, expires_at) values ($1, $2, $3, now() + make_interval(days => $4))`,
      [owner, hash, deviceFrom(agent)?.slice(0, 60) ?? null, IDLE_DAYS]
    );
  });
  return secret;
}

/** Another's train, as whoever it is shared with may use it. */
export interface Shared {
  owner: string;
  /** Its owner's name. */
  by: string;
  may: GuestMay;
}

/** Who is signed in, and which trains of others are shared with them. */
export interface Session extends Who {
  session: string;
  shared: Readonly<Record<string, Shared>>;
}

/** Who a browser shows to be; undefined where its session is none, or over, or its owner was shut out. */
export async function sessionOf(secret: string): Promise<Session | undefined> {
  if (!isSecret(secret)) return undefined;
  return sessions.get(secret, async () => {
    const value = await lookUp(secret);
    return value && { value, owner: value.owner };
  });
}

const sessions = new Remembered<Session>();

async function lookUp(secret: string): Promise<Session | undefined> {
  const found = await readAs('', async (on) => {
    const { rows } = await on.query<Session & { is_due: boolean }>(
      `select owner, session, name, keeps, coalesce(shared, '{}') as shared, used_at < now() - make_interval(mins => $2) as is_due from signed_in($1)`,
      [hashOf(secret), NOTED_EVERY_MINUTES]
    );
    return rows[0];
  });
  if (!found) return undefined;
  const { is_due: isDue, ...who } = found;
  if (isDue) await noteUse(who.owner, who.session);
  return who;
}

const noteUse = (owner: string, id: string): Promise<void> =>
  asOwner(owner, async (on) => {
    await on.query(
      `update session set used_at = now(),
              expires_at = least(now() + make_interval(days => $3), made_at + make_interval(days => $4))
        where owner = $1 and id = $2`,
      [owner, id, IDLE_DAYS, LONGEST_DAYS]
    );
  });

/** Ends a session. */
export async function endSession(owner: string, id: string): Promise<void> {
  await asOwner(owner, (on) => on.query('delete from session where owner = $1 and id = $2', [owner, id]));
  forgetOwner(owner);
}

/** Ends all sessions of an owner but one. */
export async function endOtherSessions(owner: string, but: string): Promise<void> {
  await asOwner(owner, (on) => on.query('delete from session where owner = $1 and id <> $2', [owner, but]));
  forgetOwner(owner);
}

interface Row {
  id: string;
  device: string | null;
  made_at: Date;
  used_at: Date;
  expires_at: Date;
}

/** Where an owner is signed in. @param mine the session that asks */
export async function listSessions(owner: string, mine: string | undefined, on: Queryable): Promise<SignedIn[]> {
  const { rows } = await on.query<Row>(
    `select id, device, made_at, used_at, expires_at from session
      where owner = $1 and expires_at > now() order by id = $2 desc nulls last, used_at desc`,
    [owner, mine ?? null]
  );
  return rows.map(({ id, device, made_at, used_at, expires_at }) => ({
    id,
    ...(device === null ? {} : { device }),
    madeAt: made_at.toISOString(),
    usedAt: used_at.toISOString(),
    expiresAt: expires_at.toISOString(),
    isThis: id === mine
  }));
}
