import { validateAddGuest, validateTrainPath } from '$lib/api/generated/validate.js';
import { needSession } from '$lib/server/owners/entering.ts';
import { addGuest, listGuests } from '$lib/server/owners/guests.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params, locals }) {
  const { owner } = needSession(locals);
  const { id } = readPath(params, validateTrainPath);
  return json({ guests: await listGuests(owner, id) });
}

const WHY = {
  'no such owner': [404, 'Nobody on this server signs in with that name.'],
  oneself: [409, 'The train is yours already.'],
  missing: [404, 'There is no such train.'],
  'too many': [409, 'This train is shared with as many as it may be.']
} as const;

export async function PUT({ params, request, locals }) {
  const { owner, name: by } = needSession(locals);
  const { id } = readPath(params, validateTrainPath);
  const outcome = await addGuest(owner, id, { by, ...(await readBody(request, validateAddGuest, SMALL_BODY_BYTES)) });
  if (outcome !== 'shared') {
    const [status, why] = WHY[outcome];
    error(status, why);
  }
  return json({ guests: await listGuests(owner, id) });
}
