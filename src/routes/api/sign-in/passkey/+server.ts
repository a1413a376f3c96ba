import { validateSignInByPasskey } from '$lib/api/generated/validate.js';
import { enter, needOwners, siteOf, tryToEnter } from '$lib/server/owners/entering.ts';
import { beginSignIn, ownerOfPasskey } from '$lib/server/owners/passkeys.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

/** What an authenticator is asked to sign. */
export async function POST({ url }) {
  needOwners();
  return json(await beginSignIn(siteOf(url)), { status: 201 });
}

/** What it signed. */
export async function PUT(event) {
  needOwners();
  const signed = await readBody(event.request, validateSignInByPasskey, SMALL_BODY_BYTES);
  const owner = await tryToEnter(event, undefined, () => ownerOfPasskey(signed, siteOf(event.url)));
  if (owner === undefined) error(401, 'This passkey opens nothing here. Sign in with your passphrase.');
  await enter(event, owner);
  return json(null);
}
