import { listTrains } from '$lib/server/trains.ts';

export const load = async ({ depends, locals }) => {
  depends('lodestone:trains');
  return { trains: await listTrains(locals.owner) };
};
