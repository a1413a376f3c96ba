import { ask, isRecord, settled, Unreachable } from '$lib/api/ask.ts';
import type { Guest, GuestMay } from '$lib/api/owners.ts';
import type { MadeLink, ShareLink } from '$lib/api/share.ts';

/** Links of a train that still hold, the newest first. */
export async function fetchLinks(trainId: string): Promise<ShareLink[]> {
  const answer = settled(await ask('GET', `/api/trains/${trainId}/links`));
  if (!isRecord(answer) || !Array.isArray(answer.links)) {
    throw new Unreachable('The server answered something that is no list of links.');
  }
  return answer.links as ShareLink[];
}

/** Makes a link. @param days it holds; until it is taken back where undefined */
export const makeLink = async (trainId: string, days: number | undefined): Promise<MadeLink> =>
  settled(await ask('POST', `/api/trains/${trainId}/links`, days === undefined ? {} : { days })) as MadeLink;

export const takeBackLink = async (id: string): Promise<void> => void settled(await ask('DELETE', `/api/links/${id}`));

const guestsIn = (answer: unknown): Guest[] => {
  if (!isRecord(answer) || !Array.isArray(answer.guests)) {
    throw new Unreachable('The server answered something that is no list of guests.');
  }
  return answer.guests as Guest[];
};

/** With which owners of this server a train is shared. */
export const fetchGuests = async (trainId: string): Promise<Guest[]> =>
  guestsIn(settled(await ask('GET', `/api/trains/${trainId}/guests`)));

export const addGuest = async (trainId: string, name: string, may: GuestMay): Promise<Guest[]> =>
  guestsIn(settled(await ask('PUT', `/api/trains/${trainId}/guests`, { name, may })));

export const dropGuest = async (trainId: string, guest: string): Promise<void> =>
  void settled(await ask('DELETE', `/api/trains/${trainId}/guests/${guest}`));
