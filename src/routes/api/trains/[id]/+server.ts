import { validateChangeState, validateTrainPath } from '$lib/api/generated/validate.js';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, changeState, readRevision } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params }) {
  const { id } = readPath(params, validateTrainPath);
  return json((await readRevision(LOCAL_OWNER, id)) ?? error(404, 'There is no such train.'));
}

export async function PATCH({ params, request }) {
  const { id } = readPath(params, validateTrainPath);
  const { state } = await readBody(request, validateChangeState, SMALL_BODY_BYTES);
  const outcome = await changeState(LOCAL_OWNER, id, state);
  if (outcome.kind === 'changed') return json(outcome.train);
  if (outcome.kind === 'missing') error(404, 'There is no such train.');
  error(409, 'This train is put together. Mark it as taken apart before you delete it.');
}
