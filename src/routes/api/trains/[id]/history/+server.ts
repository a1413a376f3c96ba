import { validateTrainPath } from '$lib/api/generated/validate.js';
import { readHistory } from '$lib/server/history.ts';
import { readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

/** The sittings a train was changed in, the newest first; `?before=N` those before a revision. */
export async function GET({ params, url, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const before = url.searchParams.get('before') ?? undefined;
  if (before !== undefined && !/^[1-9]\d{0,8}$/.test(before))
    error(400, 'before: the number of a revision, from 1 on.');
  const history = await readHistory(locals.owner, id, before === undefined ? undefined : Number(before));
  return json(history ?? error(404, 'There is no such train.'));
}
