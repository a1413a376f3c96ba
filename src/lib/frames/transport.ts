import { reasonOf } from '$lib/api/reason.ts';
import type { StoredFrame } from '$lib/api/frames.ts';
import { Refused, Unreachable, ask, messageOf, settled } from '$lib/api/ask.ts';

export const fetchFrames = async (trainId: string, after: number): Promise<StoredFrame[]> =>
  settled(await ask('GET', `/api/trains/${trainId}/frames?after=${after}`)) as StoredFrame[];

export const deleteFrame = async (trainId: string, id: string): Promise<void> => {
  const response = await fetch(`/api/trains/${trainId}/frames/${id}`, { method: 'DELETE' });
  if (!response.ok && response.status !== 404) throw new Unreachable('The frame could not be deleted.');
};

/** The file of a frame that is kept on the server. @throws Unreachable or Refused */
export async function fetchPixels(trainId: string, id: string, signal: AbortSignal): Promise<Blob> {
  let response: Response;
  try {
    response = await fetch(`/api/trains/${trainId}/frames/${id}`, { signal });
    if (response.ok) return await response.blob();
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new Unreachable(reasonOf(error));
  }
  throw new Refused(messageOf(await response.json().catch(() => undefined)));
}
