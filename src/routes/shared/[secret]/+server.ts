import { readRevision } from '$lib/server/revisions.ts';
import { trainOfLink } from '$lib/server/share.ts';
import { pageResponse, trainPage } from '$lib/server/webPage.ts';
import { error } from '@sveltejs/kit';

/** A train for whoever has the link: to look at, as it is now, and nothing else. */
export async function GET({ params, locals }) {
  const found = await trainOfLink(params.secret);
  const train = found && (await readRevision(found.owner, found.trainId));
  if (!train) error(404, 'This link leads nowhere: it was taken back, or has expired.');
  return pageResponse(trainPage(train.document, locals.preferences.unit, train.revision.savedAt));
}
