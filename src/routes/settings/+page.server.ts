import { roomOf } from '$lib/server/retention.ts';

export const load = async ({ locals }) => ({ room: await roomOf(locals.owner) });
