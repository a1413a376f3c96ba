import { validateSessionPath } from '$lib/api/generated/validate.js';
import { needSession } from '$lib/server/owners/entering.ts';
import { endSession } from '$lib/server/owners/sessions.ts';
import { readPath } from '$lib/server/requests.ts';
import { json } from '@sveltejs/kit';

export async function DELETE({ params, locals }) {
  const { owner } = needSession(locals);
  const { session } = readPath(params, validateSessionPath, 'session');
  await endSession(owner, session);
  return json(null);
}
