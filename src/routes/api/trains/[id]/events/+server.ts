import { validateTrainPath } from '$lib/api/generated/validate.js';
import { changeStream } from '$lib/server/live.ts';
import { eventStream, readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, readRevision } from '$lib/server/trains.ts';
import { error } from '@sveltejs/kit';

export async function GET({ params }) {
  const { id } = readPath(params, validateTrainPath);
  const train = (await readRevision(LOCAL_OWNER, id)) ?? error(404, 'There is no such train.');
  return eventStream(changeStream(id, train.revision.number));
}
