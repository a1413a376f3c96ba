import { validateJoin } from '$lib/api/generated/validate.js';
import { join } from '$lib/server/owners/accounts.ts';
import { enter, needOwners, tryToEnter } from '$lib/server/owners/entering.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function POST(event) {
  needOwners();
  const { secret, name = '', passphrase } = await readBody(event.request, validateJoin, SMALL_BODY_BYTES);
  const joined = await tryToEnter(event, undefined, async () => {
    const came = await join(secret, name, passphrase);
    return came.kind === 'missing' ? undefined : came;
  });
  if (!joined) error(404, 'This link was used, taken back, or has expired. Get a new one.');
  if (joined.kind === 'refused') error(422, joined.message);
  await enter(event, joined.owner);
  return json(null, { status: 201 });
}
