import { isOfParts } from '@lodestone/core/compare';
import { MOST_STATES, type Sitting, type StateOfTrain } from '$lib/api/history.ts';
import { today } from '$lib/ui/time.ts';
import { fetchHistory, fetchStates } from './historyTransport.ts';

/** A state is told from an earlier one, the very first from none. */
export const askedSince = (number: number, since: number): string =>
  number > 1 ? `${Math.max(1, since)}-${number}` : '1';

/** Days on which something of the train itself was changed, where the reader is. */
export const daysOfChanges = (
  sittings: readonly Sitting[],
  states: Pick<ReadonlyMap<number, StateOfTrain>, 'get'>
): string[] =>
  sittings
    .filter(({ last }) => states.get(last)?.changes.some(isOfParts))
    .map(({ endedAt }) => today(new Date(endedAt)));

/**
 * Asks on which days a train was changed between two evenings.
 *
 * @param from day of the first evening, `YYYY-MM-DD`
 * @param to day of the last
 */
export async function fetchDaysOfChanges(trainId: string, from: string, to: string): Promise<string[]> {
  let { sittings, more } = await fetchHistory(trainId);
  for (let oldest = sittings.at(-1); more && oldest && today(new Date(oldest.endedAt)) >= from;) {
    const earlier = await fetchHistory(trainId, oldest.first);
    sittings = [...sittings, ...earlier.sittings];
    ({ more } = earlier);
    oldest = sittings.at(-1);
  }
  const between = sittings.filter(({ endedAt }) => {
    const day = today(new Date(endedAt));
    return day >= from && day <= to;
  });
  const states = new Map<number, StateOfTrain>();
  for (let at = 0; at < between.length; at += MOST_STATES) {
    const of = between.slice(at, at + MOST_STATES).map(({ first, last }) => askedSince(last, first - 1));
    for (const state of await fetchStates(trainId, of)) states.set(state.number, state);
  }
  return daysOfChanges(between, states);
}
