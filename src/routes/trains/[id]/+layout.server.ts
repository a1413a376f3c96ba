import { validateTrainPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, readRevision } from '$lib/server/trains.ts';
import { error } from '@sveltejs/kit';

export async function load({ params }) {
  const { id } = readPath(params, validateTrainPath);
  const train = (await readRevision(LOCAL_OWNER, id)) ?? error(404, 'There is no such train.');
  if (train.state === 'deleted') error(410, 'This train was deleted. Bring it back from the list of trains.');
  return { train };
}
