import { validateTrainPath } from '$lib/api/generated/validate.js';
import { download, readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { trainPage } from '$lib/server/webPage.ts';
import { error } from '@sveltejs/kit';

/** A train as one page that needs nothing else, as a file. */
export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const { document, revision } = (await readRevision(locals.owner, id)) ?? error(404, 'There is no such train.');
  const page = trainPage(document, locals.preferences.unit, revision.savedAt);
  return download(page, 'text/html; charset=utf-8', `${document.name}.html`, 'train.html');
}
