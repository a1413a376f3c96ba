import { validateMoveFocuser, validateTrainPath } from '$lib/api/generated/validate.js';
import { withFocuser } from '$lib/server/focuser.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { error, json } from '@sveltejs/kit';

async function found(params: Partial<Record<string, string>>, owner: string) {
  const { id } = readPath(params, validateTrainPath);
  const { document } = (await readRevision(owner, id)) ?? error(404, 'There is no such train.');
  return { id, document };
}

export async function GET({ params, locals: { owner } }) {
  const { id, document } = await found(params, owner);
  return json(await withFocuser(owner, id, document, ({ state }) => state));
}

/** Moves it, drives it in to its zero, takes a frame where it stands, or puts another in its place, with its own faults. */
export async function POST({ params, request, locals: { owner } }) {
  const { do: command, to, slip, backlash } = await readBody(request, validateMoveFocuser, SMALL_BODY_BYTES);
  if (command === 'move' && to === undefined) error(400, 'A move needs the position it goes to.');
  const { id, document } = await found(params, owner);
  const done = withFocuser(
    owner,
    id,
    document,
    (focuser) => {
      if (command === 'frame') return focuser.frame();
      if (command === 'zero') return focuser.zero();
      return command === 'move' && to !== undefined ? focuser.move(to) : focuser.state;
    },
    command === 'renew' ? { slip, backlash } : undefined
  );
  return json(await done);
}
