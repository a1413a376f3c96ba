import { hasOwners } from '$lib/server/owner.ts';
import { redirect } from '@sveltejs/kit';

/** A path of this server, nothing else. */
const pathFrom = (text: string | null): string =>
  text !== null && /^\/(?![/\\])/.test(text) && !text.startsWith('/sign-in') ? text : '/';

export const load = ({ url, locals }) => {
  const to = pathFrom(url.searchParams.get('to'));
  if (!hasOwners() || locals.asking.kind === 'session') redirect(303, to);
  return { to };
};
