import { registry } from '$lib/server/metrics.ts';
import { hasOwners } from '$lib/server/owner.ts';
import { isKeeper } from '$lib/server/owners/accounts.ts';
import { error } from '@sveltejs/kit';

/**
 * What the server counts of itself. Where one person uses it, whoever may ask it anything may ask this; of several
 * owners, whoever looks after it, be it by a token of theirs.
 */
export const GET = async ({ locals }) => {
  if (hasOwners() && !(await isKeeper(locals.owner))) error(403, 'Only who looks after this server may do this.');
  return new Response(await registry.metrics(), {
    headers: { 'content-type': registry.contentType, 'cache-control': 'no-store' }
  });
};
