import type { MadeInvitation } from '$lib/api/owners.ts';
import { validateInvite } from '$lib/api/generated/validate.js';
import { invite } from '$lib/server/owners/accounts.ts';
import { needKeeper } from '$lib/server/owners/entering.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function POST({ request, locals }) {
  const { owner } = needKeeper(locals);
  const { keeps = false, for: forOwner } = await readBody(request, validateInvite, SMALL_BODY_BYTES);
  const made = await invite(owner, { keeps, ...(forOwner === undefined ? {} : { forOwner }) });
  if (!made) error(404, 'There is no such owner.');
  // What stands behind the mark is not sent to any server, and written into no log.
  const answer: MadeInvitation = { ...made.invitation, path: `/join#${made.secret}` };
  return json(answer, { status: 201 });
}
