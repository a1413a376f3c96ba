import { validateMoveFocuser, validateTrainPath } from '$lib/api/generated/validate.js';
import { focuserOf } from '$lib/server/focuser.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { error, json } from '@sveltejs/kit';

async function found(params: Partial<Record<string, string>>, owner: string) {
  const { id } = readPath(params, validateTrainPath);
  const train = (await readRevision(owner, id)) ?? error(404, 'There is no such train.');
  return focuserOf(owner, id, train.document);
}

export async function GET({ params, locals }) {
  return json((await found(params, locals.owner)).state);
}

/** Moves it, drives it in to its zero, or takes a frame where it stands. */
export async function POST({ params, request, locals }) {
  const command = await readBody(request, validateMoveFocuser, SMALL_BODY_BYTES);
  const focuser = await found(params, locals.owner);
  if (command.do === 'frame') return json(focuser.frame());
  if (command.do === 'zero') return json(focuser.zero());
  if (command.to === undefined) error(400, 'A move needs the position it goes to.');
  return json(focuser.move(command.to));
}
