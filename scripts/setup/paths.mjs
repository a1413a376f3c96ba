import { chmodSync, mkdirSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(dirname(fileURLToPath(import.meta.url))));

export const isRoot = () => process.getuid?.() === 0;

/** Where everything that must outlive a clone is kept; never inside the source tree. */
export function dataFolder(env = process.env) {
  if (env.LODESTONE_DATA) return resolve(env.LODESTONE_DATA);
  if (isRoot()) return '/var/lib/lodestone';
  return join(env.XDG_DATA_HOME ?? join(homedir(), '.local/share'), 'lodestone');
}

/** A folder others may walk through and not read, whatever the umask says; one that was there keeps its own rules. */
export function makeFolder(folder) {
  const first = mkdirSync(folder, { recursive: true, mode: 0o711 });
  if (first === undefined) return;
  for (let at = folder; ; at = dirname(at)) {
    chmodSync(at, 0o711);
    if (at === first) return;
  }
}

/** What a disk that refuses is told as. */
const DISK = {
  EACCES: 'may not be written by this user',
  EPERM: 'may not be written by this user',
  EROFS: 'lies on a disk that is read-only',
  ENOSPC: 'lies on a disk that is full',
  ENOTDIR: 'goes through a file, where a folder is needed'
};

/** An error in one line, where it is one that somebody can do something about. */
export const inWords = (error) =>
  error instanceof SetupError
    ? error.message
    : error?.path && DISK[error.code]
      ? `${error.path} ${DISK[error.code]}. LODESTONE_DATA names another folder for the data.`
      : undefined;

/** A failure that is told in a sentence, without a stack. */
export class SetupError extends Error {}

/** A port as the environment names it; undefined where it names none. */
export function portFrom(text) {
  if (text === undefined || text === '') return undefined;
  const port = Number(text);
  if (/^\d+$/.test(text) && port <= 65535) return port;
  throw new SetupError(`PORT must be a whole number from 0 to 65535, but is “${text}”.`);
}
