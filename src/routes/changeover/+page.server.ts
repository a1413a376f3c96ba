import { isReadable } from '$lib/api/trains.ts';
import { listTrains } from '$lib/server/trains.ts';

export const load = async ({ locals }) => ({
  trains: (await listTrains(locals.owner)).filter(isReadable).filter(({ state }) => state !== 'deleted')
});
