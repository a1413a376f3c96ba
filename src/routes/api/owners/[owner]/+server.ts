import { validateCloseAccount, validateOwnerPath } from '$lib/api/generated/validate.js';
import { setClosed } from '$lib/server/owners/accounts.ts';
import { needKeeper } from '$lib/server/owners/entering.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function PATCH({ params, request, locals }) {
  const { owner: keeper } = needKeeper(locals);
  const { owner } = readPath(params, validateOwnerPath, 'owner');
  const { isClosed } = await readBody(request, validateCloseAccount, SMALL_BODY_BYTES);
  if (owner === keeper) error(409, 'You cannot shut yourself out.');
  if (!(await setClosed(keeper, owner, isClosed))) error(404, 'There is no such owner.');
  return json(null);
}
