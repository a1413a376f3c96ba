import { error, type RequestEvent } from '@sveltejs/kit';
import { log } from '../log.ts';
import { hasOwners } from '../owner.ts';
import { cookieName, type Asking } from './asking.ts';
import { countTry, forgive, type Try } from './attempts.ts';
import type { Site } from './passkeys.ts';
import { SESSION_SECONDS, beginSession } from './sessions.ts';

type Event = Pick<RequestEvent, 'url' | 'cookies' | 'request'>;

const isSecure = (url: URL): boolean => url.protocol === 'https:';

/** What the browser shows of who is signed in. */
export const shownCookie = ({ url, cookies }: Pick<RequestEvent, 'url' | 'cookies'>): string | undefined =>
  cookies.get(cookieName(isSecure(url)));

/** The server as a browser knows it: what passkeys are made for. */
export const siteOf = ({ origin, hostname }: URL): Site => ({ origin, hostname });

/** @throws 404 where one person uses the server */
export function needOwners(): void {
  if (!hasOwners()) error(404, 'One person uses this server: nobody signs in.');
}

/** Who is signed in, in a browser. @throws 404, 403 */
export function needSession({ asking }: App.Locals): Extract<Asking, { kind: 'session' }> {
  needOwners();
  if (asking.kind !== 'session') error(403, 'Sign in with a browser to do this: no token is enough for it.');
  return asking;
}

/** The same of who may invite others. @throws 404, 403 */
export function needKeeper(locals: App.Locals): Extract<Asking, { kind: 'session' }> {
  const asking = needSession(locals);
  if (!asking.keeps) error(403, 'Only who looks after this server may do this.');
  return asking;
}

/** Where a request comes from, as the server sees it: never as it says itself. */
const addressOf = ({ request }: Event): string => request.headers.get('x-lodestone-peer') ?? 'unknown';

/**
 * Lets somebody try to get in, and counts it where it does not succeed.
 *
 * @param name that is tried, as it is compared; none for a passkey or an invitation
 * @throws 429
 */
export async function tryToEnter<T>(
  event: Event,
  name: string | undefined,
  attempt: () => Promise<T | undefined>
): Promise<T | undefined> {
  const tried: Try = { address: addressOf(event), ...(name === undefined ? {} : { name }) };
  const wait = await countTry(tried);
  if (wait > 0) {
    log('warning', 'Too many tries to sign in', { address: tried.address });
    const minutes = Math.ceil(wait / 60);
    error(429, `Too many tries. Wait ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}, then try again.`);
  }
  const found = await attempt();
  if (found === undefined) log('warning', 'Not signed in', { address: tried.address });
  else await forgive(tried);
  return found;
}

/** Signs an owner in: what the browser showed before is worth nothing afterwards. */
export async function enter({ url, cookies, request }: Event, owner: string): Promise<void> {
  const secret = await beginSession(owner, request.headers.get('user-agent') ?? '');
  const secure = isSecure(url);
  cookies.set(cookieName(secure), secret, {
    path: '/',
    httpOnly: true,
    sameSite: 'lax',
    secure,
    maxAge: SESSION_SECONDS
  });
}

export function leave({ url, cookies }: Pick<RequestEvent, 'url' | 'cookies'>): void {
  const secure = isSecure(url);
  cookies.delete(cookieName(secure), { path: '/', secure, httpOnly: true, sameSite: 'lax' });
}
