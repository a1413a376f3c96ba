import { validateAddPasskey } from '$lib/api/generated/validate.js';
import { needSession, siteOf } from '$lib/server/owners/entering.ts';
import { addPasskey, beginPasskey } from '$lib/server/owners/passkeys.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

/** What an authenticator is asked to make. */
export async function POST({ url, locals }) {
  const { owner, name } = needSession(locals);
  const begun = await beginPasskey(owner, name, siteOf(url));
  return json(begun ?? error(409, 'You have as many passkeys as you may. Remove one first.'), { status: 201 });
}

/** What it made. */
export async function PUT({ url, request, locals }) {
  const { owner } = needSession(locals);
  const made = await readBody(request, validateAddPasskey, SMALL_BODY_BYTES);
  const why = await addPasskey(owner, made, siteOf(url));
  if (why !== undefined) error(422, why);
  return json(null, { status: 201 });
}
