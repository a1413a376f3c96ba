import { leave, needSession } from '$lib/server/owners/entering.ts';
import { endSession } from '$lib/server/owners/sessions.ts';
import { json } from '@sveltejs/kit';

export async function POST(event) {
  const { owner, session } = needSession(event.locals);
  await endSession(owner, session);
  leave(event);
  return json(null, { headers: { 'clear-site-data': '"cache"' } });
}
