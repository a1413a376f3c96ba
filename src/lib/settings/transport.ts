import type { Room } from '$lib/api/room.ts';
import { ask, settled } from '$lib/api/ask.ts';

/** @param frameLimit room for the pixels of test frames, bytes */
export const setFrameLimit = async (frameLimit: number): Promise<Room> =>
  settled(await ask('PUT', '/api/room', { frameLimit })) as Room;
