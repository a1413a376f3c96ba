import type { StateOfTrain, TrainHistory } from '$lib/api/history.ts';
import { ask, isRecord, settled, Unreachable } from '$lib/api/ask.ts';

const address = (trainId: string): string => `/api/trains/${trainId}/history`;

/** The sittings of a train, the newest first; those before a revision where one is given. */
export async function fetchHistory(trainId: string, before?: number): Promise<TrainHistory> {
  const answer = settled(await ask('GET', `${address(trainId)}${before === undefined ? '' : `?before=${before}`}`));
  if (!isRecord(answer) || !Array.isArray(answer.sittings) || !Array.isArray(answer.names)) {
    throw new Unreachable('The server answered something that is no history.');
  }
  return answer as unknown as TrainHistory;
}

/** How some states are off, and what changed since earlier ones: `12-15` is revision 15, told from 12. */
export async function fetchStates(trainId: string, of: readonly string[]): Promise<StateOfTrain[]> {
  const answer = settled(await ask('GET', `${address(trainId)}/states?of=${of.join(',')}`));
  if (!isRecord(answer) || !Array.isArray(answer.states)) {
    throw new Unreachable('The server answered something that is no history.');
  }
  return answer.states as StateOfTrain[];
}

/** Gives a state a name, or takes it away. */
export async function sendName(trainId: string, number: number, name: string | undefined): Promise<void> {
  const path = `/api/trains/${trainId}/revisions/${number}/name`;
  settled(await (name === undefined ? ask('DELETE', path) : ask('PUT', path, { name })));
}
