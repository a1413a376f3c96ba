import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type AuthenticatorTransport,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON
} from '@simplewebauthn/server';
import { MOST_PASSKEYS, type Passkey } from '$lib/api/owners.ts';
import { asOwner, readAs, type Queryable } from '../database.ts';

/** Within this time an authenticator answers, minutes. */
const CHALLENGE_MINUTES = 10;

/** Where a passkey is made and used: it holds for one name of the server. */
export interface Site {
  /** Scheme, name and port. */
  origin: string;
  hostname: string;
}

const hexOf = (id: string): string => Buffer.from(id, 'base64url').toString('hex');

async function keepChallenge(challenge: string): Promise<string> {
  return asOwner('', async (on) => {
    const { rows } = await on.query<{ id: string }>('insert into challenge (challenge) values ($1) returning id', [
      challenge
    ]);
    return rows[0]!.id;
  });
}

/** A challenge, for the one time it is asked for; undefined where it is over. */
const takeChallenge = (id: string): Promise<string | undefined> =>
  asOwner('', async (on) => {
    const { rows } = await on.query<{ challenge: string; holds: boolean }>(
      'delete from challenge where id = $1 returning challenge, made_at > now() - make_interval(mins => $2) as holds',
      [id, CHALLENGE_MINUTES]
    );
    return rows[0]?.holds ? rows[0].challenge : undefined;
  });

interface Row {
  owner: string;
  id: Buffer;
  public_key: Buffer;
  counter: string;
  transports: string[];
  name: string;
  made_at: Date;
  used_at: Date | null;
}

export async function listPasskeys(owner: string, on: Queryable): Promise<Passkey[]> {
  const { rows } = await on.query<Row>(
    'select id, name, made_at, used_at from passkey where owner = $1 order by made_at, id',
    [owner]
  );
  return rows.map(({ id, name, made_at, used_at }) => ({
    id: id.toString('base64url'),
    name,
    madeAt: made_at.toISOString(),
    ...(used_at ? { usedAt: used_at.toISOString() } : {})
  }));
}

/** What an authenticator is asked to make a passkey. @returns undefined where there are as many as there may be */
export async function beginPasskey(
  owner: string,
  name: string,
  site: Site
): Promise<{ challengeId: string; options: PublicKeyCredentialCreationOptionsJSON } | undefined> {
  const known = await readAs(owner, (on) => listPasskeys(owner, on));
  if (known.length >= MOST_PASSKEYS) return undefined;
  const options = await generateRegistrationOptions({
    rpName: 'Lodestone',
    rpID: site.hostname,
    userID: new TextEncoder().encode(owner),
    userName: name,
    userDisplayName: name,
    attestationType: 'none',
    excludeCredentials: known.map(({ id }) => ({ id })),
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' }
  });
  return { challengeId: await keepChallenge(options.challenge), options };
}

/** Keeps a passkey that was made. @returns why not; undefined where it is kept */
export async function addPasskey(
  owner: string,
  { challengeId, response, name }: { challengeId: string; response: object; name: string },
  site: Site
): Promise<string | undefined> {
  const expectedChallenge = await takeChallenge(challengeId);
  if (expectedChallenge === undefined) return 'That took too long. Try again.';
  const made = await verifyRegistrationResponse({
    response: response as RegistrationResponseJSON,
    expectedChallenge,
    expectedOrigin: site.origin,
    expectedRPID: site.hostname
  }).catch(() => undefined);
  if (!made?.verified) return 'That is no passkey for this server.';
  const { id, publicKey, counter, transports = [] } = made.registrationInfo.credential;
  const kept = await asOwner(owner, (on) =>
    on.query(
      `insert into passkey (owner, id, public_key, counter, transports, name)
       select $1, $2, $3, $4, $5, $6 where (select count(*) from passkey where owner = $1) < $7
       on conflict (id) do nothing`,
      [owner, Buffer.from(id, 'base64url'), Buffer.from(publicKey), counter, transports, name, MOST_PASSKEYS]
    )
  );
  return kept.rowCount === 1 ? undefined : 'This passkey is known already.';
}

/** What any authenticator that has a passkey of this server is asked. */
export async function beginSignIn(
  site: Site
): Promise<{ challengeId: string; options: PublicKeyCredentialRequestOptionsJSON }> {
  const options = await generateAuthenticationOptions({ rpID: site.hostname, userVerification: 'required' });
  return { challengeId: await keepChallenge(options.challenge), options };
}

/** Whose passkey signed what was asked; undefined where it is nobody’s, or of somebody who was shut out. */
export async function ownerOfPasskey(
  { challengeId, response }: { challengeId: string; response: object & { id: string } },
  site: Site
): Promise<string | undefined> {
  const expectedChallenge = await takeChallenge(challengeId);
  if (expectedChallenge === undefined) return undefined;
  const found = await readAs('', async (on) => {
    // Whose it is only its id says: the database shows its row to whoever has it.
    const shown = on.query(`select set_config('lodestone.passkey', $1, true)`, [hexOf(response.id)]);
    const { rows } = await on.query<Row>(
      'select owner, id, public_key, counter, transports from passkey where id = $1',
      [Buffer.from(response.id, 'base64url')]
    );
    await shown;
    return rows[0];
  });
  if (!found) return undefined;
  const { owner, id } = found;
  const signed = await verifyAuthenticationResponse({
    response: response as AuthenticationResponseJSON,
    expectedChallenge,
    expectedOrigin: site.origin,
    expectedRPID: site.hostname,
    credential: {
      id: id.toString('base64url'),
      publicKey: new Uint8Array(found.public_key),
      counter: Number(found.counter),
      transports: found.transports as AuthenticatorTransport[]
    }
  }).catch(() => undefined);
  if (!signed?.verified) return undefined;
  return asOwner(owner, async (on) => {
    const { rowCount } = await on.query('select from account where owner = $1 and closed_at is null', [owner]);
    if (rowCount === 0) return undefined;
    await on.query('update passkey set counter = $3, used_at = now() where owner = $1 and id = $2', [
      owner,
      id,
      signed.authenticationInfo.newCounter
    ]);
    return owner;
  });
}

/** Takes a passkey away; the last one only where there is a passphrase too. @returns whether it was taken */
export const dropPasskey = (owner: string, id: string): Promise<boolean> =>
  asOwner(owner, async (on) => {
    const { rows } = await on.query<{ may: boolean }>(
      `select passphrase is not null or (select count(*) from passkey where owner = $1) > 1 as may
         from account where owner = $1 for no key update`,
      [owner]
    );
    if (!rows[0]?.may) return false;
    await on.query('delete from passkey where owner = $1 and id = $2', [owner, Buffer.from(id, 'base64url')]);
    return true;
  });
