import { validateLinkPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { takeBackLink } from '$lib/server/share.ts';
import { json } from '@sveltejs/kit';

export async function DELETE({ params, locals }) {
  const { link } = readPath(params, validateLinkPath, 'link');
  await takeBackLink(locals.owner, link);
  return json(null);
}
