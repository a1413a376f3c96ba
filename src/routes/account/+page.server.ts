import { accountOf } from '$lib/server/owners/accounts.ts';
import { needSession } from '$lib/server/owners/entering.ts';
import { error } from '@sveltejs/kit';

export const load = async ({ locals }) => {
  const { owner, session } = needSession(locals);
  return { account: (await accountOf(owner, session)) ?? error(403, 'This account was shut out.') };
};
