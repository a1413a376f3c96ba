import { hasOwners } from '$lib/server/owner.ts';
import { listShared } from '$lib/server/owners/guests.ts';
import { listTrains } from '$lib/server/trains.ts';

export const load = async ({ depends, locals }) => {
  depends('lodestone:trains');
  const [trains, shared] = await Promise.all([
    listTrains(locals.owner),
    hasOwners() ? listShared(locals.owner) : undefined
  ]);
  return { trains, shared };
};
