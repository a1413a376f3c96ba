import { eventsOf } from '$lib/server/live.ts';
import { stillHolds } from '$lib/server/owners/asking.ts';
import { EVENT_STREAM } from '$lib/server/requests.ts';

/** Everything that changes, one stream for all of it. */
export const GET = ({ locals: { owner, asking } }) =>
  new Response(
    eventsOf(owner, () => stillHolds(asking)),
    { headers: EVENT_STREAM }
  );

export const HEAD = () => new Response(null, { headers: EVENT_STREAM });
