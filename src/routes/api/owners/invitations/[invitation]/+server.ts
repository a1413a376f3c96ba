import { validateInvitationPath } from '$lib/api/generated/validate.js';
import { takeBackInvitation } from '$lib/server/owners/accounts.ts';
import { needKeeper } from '$lib/server/owners/entering.ts';
import { readPath } from '$lib/server/requests.ts';
import { json } from '@sveltejs/kit';

export async function DELETE({ params, locals }) {
  const { owner } = needKeeper(locals);
  const { invitation } = readPath(params, validateInvitationPath, 'invitation');
  await takeBackInvitation(owner, invitation);
  return json(null);
}
