import { ask, isRecord, settled, Unreachable } from '$lib/api/ask.ts';
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
