import { validateRevisionPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params, locals }) {
  const { id, number } = readPath(params, validateRevisionPath);
  return json((await readRevision(locals.owner, id, Number(number))) ?? error(404, 'There is no such revision.'));
}
