import { validateSignIn } from '$lib/api/generated/validate.js';
import { nameKey, ownerOf } from '$lib/server/owners/accounts.ts';
import { enter, needOwners, tryToEnter } from '$lib/server/owners/entering.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function POST(event) {
  needOwners();
  const { name, passphrase } = await readBody(event.request, validateSignIn, SMALL_BODY_BYTES);
  const owner = await tryToEnter(event, nameKey(name), () => ownerOf(name, passphrase));
  if (owner === undefined) error(401, 'Name and passphrase do not go together.');
  await enter(event, owner);
  return json(null);
}
