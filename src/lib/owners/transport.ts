import { ask, settled } from '$lib/api/ask.ts';
import type { Account, MadeInvitation, MadeToken, Scope } from '$lib/api/owners.ts';
import { startAuthentication, startRegistration } from '@simplewebauthn/browser';

/** A passphrase takes a while to compare, and an authenticator waits for somebody, ms. */
const PATIENCE_MS = 60_000;

const done = async (method: string, path: string, body?: unknown): Promise<unknown> =>
  settled(await ask(method, path, body, PATIENCE_MS));

/** Whether this browser, at this address, can use passkeys: browsers do so from a secure address that has a name. */
export const hasPasskeys = (): boolean =>
  isSecureContext && 'PublicKeyCredential' in window && !/^([\d.]+|\[.*\])$/.test(location.hostname);

export const signIn = (name: string, passphrase: string): Promise<unknown> =>
  done('POST', '/api/sign-in', { name, passphrase });

/** Whoever closes the browser’s own dialog has changed their mind: that is no failure. @returns whether it was done */
async function unlessGivenUp(work: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (error) {
    if (error instanceof Error && (error.name === 'NotAllowedError' || error.name === 'AbortError')) return false;
    throw error;
  }
}

export const signInByPasskey = (): Promise<boolean> =>
  unlessGivenUp(async () => {
    const { challengeId, options } = (await done('POST', '/api/sign-in/passkey')) as {
      challengeId: string;
      options: Parameters<typeof startAuthentication>[0]['optionsJSON'];
    };
    const response = await startAuthentication({ optionsJSON: options });
    await done('PUT', '/api/sign-in/passkey', { challengeId, response });
  });

export const addPasskey = (name: string): Promise<boolean> =>
  unlessGivenUp(async () => {
    const { challengeId, options } = (await done('POST', '/api/account/passkeys')) as {
      challengeId: string;
      options: Parameters<typeof startRegistration>[0]['optionsJSON'];
    };
    const response = await startRegistration({ optionsJSON: options });
    await done('PUT', '/api/account/passkeys', { challengeId, response, name });
  });

export const signOut = (): Promise<unknown> => done('POST', '/api/sign-out');

/** Whom an invitation is for. */
export const openInvitation = async (secret: string): Promise<{ name?: string }> =>
  (await done('POST', '/api/join/invitation', { secret })) as { name?: string };

export const join = (secret: string, name: string | undefined, passphrase: string): Promise<unknown> =>
  done('POST', '/api/join', { secret, passphrase, ...(name === undefined ? {} : { name }) });

export const readAccount = async (): Promise<Account> => (await done('GET', '/api/account')) as Account;

export const changePassphrase = (old: string, next: string): Promise<unknown> =>
  done('PUT', '/api/account/passphrase', { old, next });
export const dropPasskey = (id: string): Promise<unknown> => done('DELETE', `/api/account/passkeys/${id}`);
export const endSession = (id: string): Promise<unknown> => done('DELETE', `/api/account/sessions/${id}`);
export const endOtherSessions = (): Promise<unknown> => done('DELETE', '/api/account/sessions');

export const makeToken = async (name: string, scope: Scope, days: number | undefined): Promise<MadeToken> =>
  (await done('POST', '/api/account/tokens', { name, scope, ...(days === undefined ? {} : { days }) })) as MadeToken;
export const takeBackToken = (id: string): Promise<unknown> => done('DELETE', `/api/account/tokens/${id}`);

export const invite = async (keeps: boolean, forOwner?: string): Promise<MadeInvitation> =>
  (await done('POST', '/api/owners/invitations', {
    keeps,
    ...(forOwner === undefined ? {} : { for: forOwner })
  })) as MadeInvitation;
export const takeBackInvitation = (id: string): Promise<unknown> => done('DELETE', `/api/owners/invitations/${id}`);
export const setClosed = (owner: string, isClosed: boolean): Promise<unknown> =>
  done('PATCH', `/api/owners/${owner}`, { isClosed });
