import { accountOf } from '$lib/server/owners/accounts.ts';
import { needSession } from '$lib/server/owners/entering.ts';
import { json } from '@sveltejs/kit';

export async function GET({ locals }) {
  const { owner, session } = needSession(locals);
  return json(await accountOf(owner, session));
}
