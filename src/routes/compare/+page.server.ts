import { MOST_COMPARED } from '$lib/api/compare.ts';
import { listChoices, readCompared } from '$lib/server/compare.ts';

/** What the address names; what is not there is said so by its key. */
export async function load({ url, locals }) {
  const { timeZone } = locals.preferences;
  const keys: string[] = [...new Set(url.searchParams.getAll('of'))].slice(0, MOST_COMPARED);
  const [found, choices] = await Promise.all([
    Promise.all(keys.map((key) => readCompared(locals.owner, key, timeZone))),
    listChoices(locals.owner, timeZone)
  ]);
  return {
    compared: found.filter((each) => each !== undefined),
    missing: keys.filter((_key, at) => found[at] === undefined),
    choices
  };
}
