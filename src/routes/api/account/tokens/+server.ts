import { validateMakeToken } from '$lib/api/generated/validate.js';
import { needSession } from '$lib/server/owners/entering.ts';
import { makeToken } from '$lib/server/owners/tokens.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function POST({ request, locals }) {
  const { owner } = needSession(locals);
  const made = await makeToken(owner, await readBody(request, validateMakeToken, SMALL_BODY_BYTES));
  return json(made ?? error(409, 'You have as many tokens as you may. Take one back first.'), { status: 201 });
}
