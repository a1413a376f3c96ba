import { validateChangeState, validateTrainPath } from '$lib/api/generated/validate.js';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { changeState, purgeTrain } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  return json((await readRevision(locals.owner, id)) ?? error(404, 'There is no such train.'));
}

export async function PATCH({ params, request, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const { state } = await readBody(request, validateChangeState, SMALL_BODY_BYTES);
  const outcome = await changeState(locals.owner, id, state);
  if (outcome.kind === 'changed') return json(outcome.train);
  if (outcome.kind === 'missing') error(404, 'There is no such train.');
  error(422, 'This train is put together. Mark it as taken apart before you delete it.');
}

/** Removes a deleted train for good. */
export async function DELETE({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const outcome = await purgeTrain(locals.owner, id);
  if (outcome === 'missing') error(404, 'There is no such train.');
  if (outcome === 'kept') error(409, 'Only a train that was deleted before can be removed for good.');
  return json({ id });
}
