import { createReadStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import { reasonOf } from '$lib/api/reason.ts';
import type { BackupSchedule, KeptBackup, KeptBackups } from '$lib/api/backup.ts';
import { asOwner, readAs } from '../database.ts';
import { Gate } from '../gate.ts';
import { LOCAL_OWNER } from '../owner.ts';
import { Archive } from './archive.ts';
import { writeBackup } from './write.ts';

/** One is written, or read, at a time: it takes the disk and a connection for as long. */
export const backupGate = new Gate('backups', { atOnce: 1, waiting: 4 });

/** What was written is read again, all of it: a backup that cannot be read is none. */
export async function verifyBackup(path: string): Promise<void> {
  const archive = await Archive.open(path);
  try {
    await archive.verify();
  } finally {
    archive.close();
  }
}

/** Archives that are made here have their moment in their name; others were put into the folder by somebody. */
const OWN = /^lodestone-(\d{4}-\d{2}-\d{2})T(\d{2})-(\d{2})-(\d{2})Z\.zip$/;
const nameAt = (at: Date): string => `lodestone-${at.toISOString().slice(0, 19).replaceAll(':', '-')}Z.zip`;

/** Written half, it is no backup yet. */
const HALF = '.half';

/** So old, nobody is writing it any more, ms. */
const LEFT_MS = 24 * 3_600_000;

/** An hour after one that failed it is tried again. */
const RETRY_AFTER = '1 hour';

/** Where those of further owners are: each has a folder, and sees no other. */
const OF_OWNERS = 'owners';

/** Folder for an owner’s backups on the server; undefined where whoever started it wants none. */
export function backupsFolder(owner: string): string | undefined {
  const { LODESTONE_BACKUPS: folder } = process.env;
  if (!folder) return undefined;
  if (owner === LOCAL_OWNER) return folder;
  if (!/^[\w-]+$/.test(owner)) throw new Error('An owner whose id cannot name a folder has no backups.');
  return join(folder, OF_OWNERS, owner);
}

/** Makes the folder of a further owner; the one they are all in has to be there. */
async function ensureFolder(folder: string): Promise<void> {
  const above = dirname(folder);
  if (basename(above) !== OF_OWNERS) return;
  for (const each of [above, folder]) {
    await mkdir(each, { mode: 0o700 }).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EEXIST') throw error;
    });
  }
}

async function listKept(folder: string): Promise<KeptBackup[]> {
  await ensureFolder(folder);
  const names = (await readdir(folder)).filter((name) => name.endsWith('.zip') && !name.startsWith('.'));
  const kept = await Promise.all(
    names.map(async (name): Promise<KeptBackup> => {
      const { size, mtime } = await stat(join(folder, name));
      const own = OWN.exec(name);
      const at = own ? `${own[1]!}T${own[2]!}:${own[3]!}:${own[4]!}Z` : mtime.toISOString();
      return { name, bytes: size, madeAt: at, isOwn: own !== null };
    })
  );
  return kept.sort((a, b) => b.madeAt.localeCompare(a.madeAt));
}

/** Takes away what was left half when a server was killed over it. */
async function dropLeft(folder: string): Promise<void> {
  for (const name of await readdir(folder)) {
    if (!name.endsWith(HALF)) continue;
    const { mtimeMs } = await stat(join(folder, name));
    if (Date.now() - mtimeMs > LEFT_MS) await rm(join(folder, name), { force: true });
  }
}

async function scheduleOf(owner: string): Promise<BackupSchedule & { failure: string | null }> {
  const { rows } = await readAs(owner, (on) =>
    on.query<BackupSchedule & { failure: string | null }>(
      'select backup_days as days, backup_keep as keep, backup_failure as failure from setting where owner = $1',
      [owner]
    )
  );
  return rows[0] ?? { days: null, keep: 8, failure: null };
}

/** The schedule, and the backups that are kept here, the newest first. */
export async function keptBackups(owner: string): Promise<KeptBackups> {
  const folder = backupsFolder(owner);
  const { failure, ...schedule } = await scheduleOf(owner);
  if (folder === undefined) return { folder: null, list: [], schedule, failure };
  try {
    return { folder, list: await listKept(folder), schedule, failure };
  } catch (error) {
    return { folder, list: [], schedule, failure: `${folder} cannot be read: ${reasonOf(error)}` };
  }
}

export async function setSchedule(owner: string, { days, keep }: BackupSchedule): Promise<void> {
  await asOwner(owner, (on) =>
    on.query(
      `insert into setting (owner, backup_days, backup_keep) values ($1, $2, $3)
       on conflict (owner) do update
          set backup_days = excluded.backup_days, backup_keep = excluded.backup_keep, backup_failure = null`,
      [owner, days, keep]
    )
  );
}

/** Makes a backup in the folder, reads it back, and lets the oldest of its own go. @returns its name */
export async function keepBackup(owner: string, folder: string, keep: number, at = new Date()): Promise<string> {
  const name = nameAt(at);
  const half = join(folder, `.${name}${HALF}`);
  await ensureFolder(folder);
  try {
    await dropLeft(folder);
    await rm(half, { force: true });
    await writeBackup(owner, half, false);
    await verifyBackup(half);
    await rename(half, join(folder, name));
  } catch (error) {
    await rm(half, { force: true });
    throw error;
  }
  const own = (await listKept(folder)).filter(({ isOwn }) => isOwn);
  for (const old of own.slice(keep)) await rm(join(folder, old.name), { force: true });
  return name;
}

/** Ids of the owners whose backup is due. */
export const ownersWithBackupDue = (): Promise<string[]> =>
  readAs('', async (on) => {
    const { rows } = await on.query<{ id: string }>('select owners_with_backup_due() as id');
    return rows.map(({ id }) => id);
  });

/**
 * Makes the backup that is due, where one is. Of several servers one does; where it is killed in the middle, another
 * does in an hour. @returns its name
 */
export async function backUpWhereDue(owner: string): Promise<string | undefined> {
  const folder = backupsFolder(owner);
  if (folder === undefined) return undefined;
  const { rows } = await asOwner(owner, (on) =>
    on.query<{ keep: number }>(
      `update setting set backup_at = now() - make_interval(days => backup_days) + $2::interval
        where owner = $1
          and backup_days is not null
          and (backup_at is null or backup_at <= now() - make_interval(days => backup_days))
        returning backup_keep as keep`,
      [owner, RETRY_AFTER]
    )
  );
  const [due] = rows;
  if (!due) return undefined;
  try {
    const name = await backupGate.run(() => keepBackup(owner, folder, due.keep));
    await asOwner(owner, (on) =>
      on.query('update setting set backup_at = now(), backup_failure = null where owner = $1', [owner])
    );
    return name;
  } catch (error) {
    const reason = reasonOf(error).slice(0, 500);
    await asOwner(owner, (on) => on.query('update setting set backup_failure = $2 where owner = $1', [owner, reason]));
    throw error;
  }
}

/** Path of an owner’s backup that is kept; undefined where there is none of that name. */
export async function pathOfKept(owner: string, name: string): Promise<string | undefined> {
  const folder = backupsFolder(owner);
  if (folder === undefined) return undefined;
  const names = await readdir(folder).catch((): string[] => []);
  return names.includes(name) ? join(folder, name) : undefined;
}

export const dropKept = (path: string): Promise<void> => rm(path, { force: true });

/** An archive as a download. @param onclose once it was sent, or whoever wanted it has left */
export function archiveResponse(path: string, name: string, onclose?: () => void): Response {
  const file = createReadStream(path);
  if (onclose) file.once('close', onclose);
  return new Response(Readable.toWeb(file) as ReadableStream<Uint8Array>, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': `attachment; filename="${name}"`,
      'cache-control': 'no-store'
    }
  });
}
