import type { Scope } from '$lib/api/owners.ts';
import { readAs } from '../database.ts';
import { LOCAL_OWNER, hasOwners } from '../owner.ts';
import { sessionOf, type Session } from './sessions.ts';
import { tokenOf } from './tokens.ts';

/** A name that no page of another host, and none without TLS, can set (RFC 6265bis, “__Host-”). */
export const cookieName = (isSecure: boolean): string => (isSecure ? '__Host-lodestone' : 'lodestone');

/** Who asks. */
export type Asking =
  | { kind: 'local'; owner: string }
  | ({ kind: 'session' } & Session)
  | { kind: 'token'; owner: string; token: string; scope: Scope }
  /** Something was shown, and it does not hold. */
  | { kind: 'wrong' }
  | { kind: 'nobody' };

/** Who a request comes from. @param shown as a script shows it; @param cookie as a browser does */
export async function whoAsks(shown: string | null, cookie: string | undefined): Promise<Asking> {
  if (!hasOwners()) return { kind: 'local', owner: LOCAL_OWNER };
  if (shown !== null) {
    const token = await tokenOf(/^Bearer (\S+)$/i.exec(shown)?.[1] ?? '');
    return token ? { kind: 'token', ...token } : { kind: 'wrong' };
  }
  if (cookie === undefined) return { kind: 'nobody' };
  const who = await sessionOf(cookie);
  return who ? { kind: 'session', ...who } : { kind: 'nobody' };
}

/** Whether what was shown would be let in again. */
export async function stillHolds(asking: Asking): Promise<boolean> {
  if (asking.kind === 'session') return isLive(asking.owner, 'session', asking.session);
  if (asking.kind === 'token') return isLive(asking.owner, 'access_token', asking.token);
  return asking.kind === 'local';
}

async function isLive(owner: string, table: 'session' | 'access_token', id: string): Promise<boolean> {
  const { rowCount } = await readAs(owner, (on) =>
    on.query(
      `select from ${table} join account using (owner)
        where owner = $1 and id = $2 and closed_at is null and (expires_at is null or expires_at > now())`,
      [owner, id]
    )
  );
  return rowCount === 1;
}

const FRAMES = /^\/api\/trains\/[^/]+\/frames(\/|$)/;

/** What belongs to signing in itself, to the server as a whole, and to who sees what: no token is enough for it. */
const OF_PEOPLE = /^\/(api\/)?(account|owners|sign-out)(\/|$)|^\/api\/trains\/[^/]+\/guests(\/|$)/;

/** Whether a token may do this. */
export function isWithin(scope: Scope, method: string, pathname: string): boolean {
  if (OF_PEOPLE.test(pathname)) return false;
  if (method === 'GET' || method === 'HEAD') return true;
  return scope === 'write' || (scope === 'frames' && method === 'POST' && FRAMES.test(pathname));
}

/** Addresses that answer whoever asks: those by which one signs in, and those whose secret is checked by themselves. */
const OPEN =
  /^\/(sign-in|join|shell|healthz|train\.schema\.json|drawer\.schema\.json|shared\/[^/]+|api\/(sign-in|join)(\/passkey|\/invitation)?)$/;
export const isOpen = (pathname: string): boolean => OPEN.test(pathname.replace(/\/__data\.json$/, ''));
