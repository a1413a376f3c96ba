import { needSession } from '$lib/server/owners/entering.ts';
import { endOtherSessions } from '$lib/server/owners/sessions.ts';
import { json } from '@sveltejs/kit';

/** Signs out everywhere else. */
export async function DELETE({ locals }) {
  const { owner, session } = needSession(locals);
  await endOtherSessions(owner, session);
  return json(null);
}
