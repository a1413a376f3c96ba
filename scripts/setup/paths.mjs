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

/** A failure that is told in a sentence, without a stack. */
export class SetupError extends Error {}

/** A port as the environment names it; undefined where it names none. */
export function portFrom(text) {
  if (text === undefined || text === '') return undefined;
  const port = Number(text);
  if (/^\d+$/.test(text) && port <= 65535) return port;
  throw new SetupError(`PORT must be a whole number from 0 to 65535, but is “${text}”.`);
}
