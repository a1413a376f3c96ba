import { validateTrainPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { error } from '@sveltejs/kit';

export async function load({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const train = (await readRevision(locals.owner, id)) ?? error(404, 'There is no such train.');
  if (train.state === 'deleted') error(410, 'This train was deleted. Bring it back from the list of trains.');
  return { train, sharedBy: locals.sharedBy?.name };
}
