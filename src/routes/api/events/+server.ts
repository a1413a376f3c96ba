import { eventsOf } from '$lib/server/live.ts';
import { EVENT_STREAM } from '$lib/server/requests.ts';

/** Everything that changes, one stream for all of it. */
export const GET = ({ locals }) => new Response(eventsOf(locals.owner), { headers: EVENT_STREAM });

export const HEAD = () => new Response(null, { headers: EVENT_STREAM });
