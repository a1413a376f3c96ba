import { validateTrainPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { pageResponse, trainPage } from '$lib/server/webPage.ts';
import { error } from '@sveltejs/kit';

/** A train that somebody shares to be looked at, as it is now. */
export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const train =
    (await readRevision(locals.owner, id)) ?? error(404, 'There is no such train, or it is not shared any more.');
  return pageResponse(trainPage(train.document, locals.preferences.unit, train.revision.savedAt));
}
