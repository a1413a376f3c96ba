import type { BackupSchedule, KeptBackups, RestoreReport } from '$lib/api/backup.ts';
import type { Room } from '$lib/api/room.ts';
import { ask, settled } from '$lib/api/ask.ts';

/** @param frameLimit room for the pixels of test frames, bytes */
export const setFrameLimit = async (frameLimit: number): Promise<Room> =>
  settled(await ask('PUT', '/api/room', { frameLimit })) as Room;

/** An archive takes long on its way, and to be read or written, ms. */
const BACKUP_TIMEOUT_MS = 15 * 60_000;

const tried = (isTry: boolean): string => (isTry ? '?try=yes' : '');

/** What a backup would bring, or, where it is not only tried, has brought. */
export async function sendBackup(archive: Blob, isTry: boolean): Promise<RestoreReport> {
  const answer = await ask('POST', `/api/backup${tried(isTry)}`, archive, BACKUP_TIMEOUT_MS);
  return settled(answer) as RestoreReport;
}

export const keptPath = (name: string): string => `/api/backups/${encodeURIComponent(name)}`;

/** The same of a backup that lies in the server's folder. */
export const restoreKept = async (name: string, isTry: boolean): Promise<RestoreReport> =>
  settled(await ask('POST', `${keptPath(name)}${tried(isTry)}`, undefined, BACKUP_TIMEOUT_MS)) as RestoreReport;

export const makeKept = async (): Promise<KeptBackups> =>
  settled(await ask('POST', '/api/backups', undefined, BACKUP_TIMEOUT_MS)) as KeptBackups;

export const dropKept = async (name: string): Promise<KeptBackups> =>
  settled(await ask('DELETE', keptPath(name))) as KeptBackups;

export const setSchedule = async (schedule: BackupSchedule): Promise<KeptBackups> =>
  settled(await ask('PUT', '/api/backups', schedule)) as KeptBackups;
