import { validateGuestPath } from '$lib/api/generated/validate.js';
import { needSession } from '$lib/server/owners/entering.ts';
import { dropGuest } from '$lib/server/owners/guests.ts';
import { readPath } from '$lib/server/requests.ts';
import { json } from '@sveltejs/kit';

/** By the owner of the train, or by the guest who leaves. */
export async function DELETE({ params, locals }) {
  const { owner } = needSession(locals);
  const { id, guest } = readPath(params, validateGuestPath, 'guest');
  await dropGuest(owner, id, guest);
  return json(null);
}
