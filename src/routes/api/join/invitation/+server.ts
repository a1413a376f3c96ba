import { validateOpenInvitation } from '$lib/api/generated/validate.js';
import { invitationOf } from '$lib/server/owners/accounts.ts';
import { needOwners, tryToEnter } from '$lib/server/owners/entering.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

/** Whom an invitation is for. Its secret stands in the body: addresses are written into logs. */
export async function POST(event) {
  needOwners();
  const { secret } = await readBody(event.request, validateOpenInvitation, SMALL_BODY_BYTES);
  const invited = await tryToEnter(event, undefined, () => invitationOf(secret));
  return json(invited ?? error(404, 'This link was used, taken back, or has expired. Get a new one.'));
}
