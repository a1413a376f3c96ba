import { validateRevisionPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, readRevision } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params }) {
  const { id, number } = readPath(params, validateRevisionPath);
  return json((await readRevision(LOCAL_OWNER, id, Number(number))) ?? error(404, 'There is no such revision.'));
}
