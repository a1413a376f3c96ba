import { LOCAL_OWNER, listTrains } from '$lib/server/trains.ts';

export const load = async ({ depends }) => {
  depends('lodestone:trains');
  return { trains: await listTrains(LOCAL_OWNER) };
};
