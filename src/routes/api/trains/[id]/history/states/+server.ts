import { MOST_STATES } from '$lib/api/history.ts';
import { validateTrainPath } from '$lib/api/generated/validate.js';
import { readStates, type AskedState } from '$lib/server/history.ts';
import { readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

const STATE = /^(?:([1-9]\d{0,8})-)?([1-9]\d{0,8})$/;

/** `12-15`: revision 15, told from revision 12; `1`: the first. */
function askedFor(text: string): AskedState {
  const [, since, number] =
    STATE.exec(text) ?? error(400, `of: “${text.slice(0, 40)}” is no revision, as 15 or 12-15.`);
  return { number: Number(number), since: since === undefined ? undefined : Number(since) };
}

/** How some states of a train are off, and what changed since earlier ones: `?of=12-15,15-16`. */
export async function GET({ params, url, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const of = url.searchParams.get('of') ?? '';
  const texts = of === '' ? [] : of.split(',', MOST_STATES + 1);
  if (texts.length > MOST_STATES) error(400, `of: at most ${MOST_STATES} revisions at once.`);
  return json({ states: await readStates(locals.owner, id, texts.map(askedFor)) });
}
