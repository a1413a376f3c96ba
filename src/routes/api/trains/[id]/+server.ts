import { validateChangeState, validateTrainPath } from '$lib/api/generated/validate.js';
import { readBody, readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, changeState, readRevision } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

const SMALL_BODY_BYTES = 1000;

export async function GET({ params }) {
  const { id } = readPath(params, validateTrainPath);
  return json((await readRevision(LOCAL_OWNER, id)) ?? error(404, 'There is no such train.'));
}

export async function PATCH({ params, request }) {
  const { id } = readPath(params, validateTrainPath);
  const { state } = await readBody(request, validateChangeState, SMALL_BODY_BYTES);
  return json((await changeState(LOCAL_OWNER, id, state)) ?? error(404, 'There is no such train.'));
}
