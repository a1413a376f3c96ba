import type { RestoreReport } from '$lib/api/backup.ts';
import type { Room } from '$lib/api/room.ts';
import { ask, settled } from '$lib/api/ask.ts';

/** @param frameLimit room for the pixels of test frames, bytes */
export const setFrameLimit = async (frameLimit: number): Promise<Room> =>
  settled(await ask('PUT', '/api/room', { frameLimit })) as Room;

/** An archive takes long on its way, and to be read, ms. */
const BACKUP_TIMEOUT_MS = 15 * 60_000;

/** What a backup would bring, or, where it is not only tried, has brought. */
export async function sendBackup(archive: Blob, isTry: boolean): Promise<RestoreReport> {
  const answer = await ask('POST', `/api/backup${isTry ? '?try=yes' : ''}`, archive, BACKUP_TIMEOUT_MS);
  return settled(answer) as RestoreReport;
}
