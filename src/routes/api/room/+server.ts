import { validateSetRoom } from '$lib/api/generated/validate.js';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { roomOf, setFrameLimit } from '$lib/server/retention.ts';
import { json } from '@sveltejs/kit';

export const GET = async ({ locals }) => json(await roomOf(locals.owner));

export async function PUT({ request, locals }) {
  const { frameLimit } = await readBody(request, validateSetRoom, SMALL_BODY_BYTES);
  await setFrameLimit(locals.owner, frameLimit);
  return json(await roomOf(locals.owner));
}
