import { validateTokenPath } from '$lib/api/generated/validate.js';
import { needSession } from '$lib/server/owners/entering.ts';
import { takeBackToken } from '$lib/server/owners/tokens.ts';
import { readPath } from '$lib/server/requests.ts';
import { json } from '@sveltejs/kit';

export async function DELETE({ params, locals }) {
  const { owner } = needSession(locals);
  const { token } = readPath(params, validateTokenPath, 'token');
  await takeBackToken(owner, token);
  return json(null);
}
