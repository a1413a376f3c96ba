import { validateNameRevision, validateRevisionPath } from '$lib/api/generated/validate.js';
import { nameRevision } from '$lib/server/history.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function PUT({ params, request, locals }) {
  const { id, number } = readPath(params, validateRevisionPath);
  const { name } = await readBody(request, validateNameRevision, SMALL_BODY_BYTES);
  const named = name.trim();
  // Control characters and halves of letters cannot be stored.
  if (named === '' || /\p{Cc}|\p{Cs}/u.test(named)) error(400, 'name: at least one letter, and no control character.');
  if (!(await nameRevision(locals.owner, id, Number(number), named))) error(404, 'There is no such revision.');
  return json(null);
}

export async function DELETE({ params, locals }) {
  const { id, number } = readPath(params, validateRevisionPath);
  await nameRevision(locals.owner, id, Number(number), undefined);
  return json(null);
}
