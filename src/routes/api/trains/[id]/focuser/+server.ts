import { validateMoveFocuser, validateTrainPath } from '$lib/api/generated/validate.js';
import { focuserOf } from '$lib/server/focuser.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { error, json } from '@sveltejs/kit';

async function found(
  params: Partial<Record<string, string>>,
  owner: string,
  faults?: { slip?: number | undefined; backlash?: number | undefined }
) {
  const { id } = readPath(params, validateTrainPath);
  const train = (await readRevision(owner, id)) ?? error(404, 'There is no such train.');
  return focuserOf(owner, id, train.document, faults);
}

export async function GET({ params, locals }) {
  return json((await found(params, locals.owner)).state);
}

/** Moves it, drives it in to its zero, takes a frame where it stands, or puts another in its place, with its own faults. */
export async function POST({ params, request, locals }) {
  const command = await readBody(request, validateMoveFocuser, SMALL_BODY_BYTES);
  const { slip, backlash } = command;
  const focuser = await found(params, locals.owner, command.do === 'renew' ? { slip, backlash } : undefined);
  if (command.do === 'renew') return json(focuser.state);
  if (command.do === 'frame') return json(focuser.frame());
  if (command.do === 'zero') return json(focuser.zero());
  if (command.to === undefined) error(400, 'A move needs the position it goes to.');
  return json(focuser.move(command.to));
}
