import type { Train } from '@lodestone/core';
import { focuserFor, type FocuserFaults } from '@lodestone/core/experiment';
import type { SimulatedFocuser } from '@lodestone/core/focus';

/** Focusers that are kept: the one that was used longest ago goes. */
const MOST_KEPT = 200;
const kept = new Map<string, SimulatedFocuser>();

/**
 * The simulated focuser that stands on a train of an owner; made anew after a start of the server.
 *
 * @param faults of a new one in its place
 */
export function focuserOf(owner: string, trainId: string, train: Train, faults?: FocuserFaults): SimulatedFocuser {
  const key = `${owner}/${trainId}`;
  const found = (faults ? undefined : kept.get(key)) ?? focuserFor(train, Math.floor(Math.random() * 2 ** 31), faults);
  kept.delete(key);
  kept.set(key, found);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return found;
}
