import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** Debian's own Python, which Debian's packages belong to. */
const PYTHON = '/usr/bin/python3';

/**
 * What a program of somebody else prints.
 *
 * @throws Error with what it complains of, where it ends with anything but 0
 */
export function run(program: string, words: readonly string[], input?: string | Uint8Array): string {
  try {
    return execFileSync(program, words, {
      encoding: 'utf8',
      maxBuffer: 1 << 28,
      stdio: ['pipe', 'pipe', 'pipe'],
      ...(input === undefined ? {} : { input })
    });
  } catch (error) {
    const { stderr = '', stdout = '' } = error as { stderr?: string; stdout?: string };
    throw new Error(`${program} ${words.join(' ')}: ${stderr || stdout || String(error)}`, { cause: error });
  }
}

/** What a script beside this file prints, which is given something to read. */
export const pythonWith = (input: string, script: string, ...words: string[]): string =>
  run(PYTHON, [fileURLToPath(new URL(script, import.meta.url)), ...words], input);

export const python = (script: string, ...words: string[]): string => pythonWith('', script, ...words);
