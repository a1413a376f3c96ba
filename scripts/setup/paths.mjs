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
