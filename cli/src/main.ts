import { resolve } from 'node:path';
import { readFile } from 'node:fs/promises';
import { checkTrain, complaintLine, isGood, readTrainText } from '@lodestone/core';
import { ledgerText } from './ledgerText.ts';

/** Exit codes of the command. */
export const GOOD = 0;
export const NOT_GOOD = 1;
export const BAD_INPUT = 2;

const USAGE = 'usage: lodestone check FILE|- [--json]';

class InputError extends Error {}

async function readStdin(): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of process.stdin) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}

/** Reads UTF-8 text from a file, relative to where the user stood, or from standard input for `-`. */
async function readInput(file: string): Promise<string> {
  let bytes: Buffer;
  try {
    bytes = file === '-' ? await readStdin() : await readFile(resolve(process.env.INIT_CWD ?? process.cwd(), file));
  } catch (error) {
    const reason = error instanceof Error && 'code' in error ? String(error.code) : String(error);
    const words: Record<string, string> = { ENOENT: 'no such file', EISDIR: 'is a folder', EACCES: 'may not be read' };
    throw new InputError(`${file}: ${words[reason] ?? reason}`);
  }
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new InputError(`${file}: (whole document): the document is not UTF-8 text`);
  }
}

async function check(words: readonly string[]): Promise<number> {
  const files = words.filter((word) => word === '-' || !word.startsWith('-'));
  const unknown = words.find((word) => word.startsWith('-') && word !== '-' && word !== '--json');
  if (unknown !== undefined) throw new InputError(`unknown option ${unknown}; ${USAGE}`);
  const [file, ...more] = files;
  if (file === undefined || more.length > 0) throw new InputError(USAGE);

  const reading = readTrainText(await readInput(file));
  if (!reading.ok) {
    const [first, ...rest] = reading.complaints;
    const others = rest.length === 0 ? '' : ` (and ${rest.length} more)`;
    throw new InputError(`${file}: ${first ? complaintLine(first) : 'cannot be read'}${others}`);
  }
  const report = checkTrain(reading.document);
  const text = words.includes('--json') ? `${JSON.stringify(report, null, 2)}\n` : ledgerText(reading.document, report);
  process.stdout.write(text);
  return isGood(report) ? GOOD : NOT_GOOD;
}

/**
 * The `lodestone` command.
 *
 * @param words arguments after the program's name
 * @returns the exit code: 0 good, 1 a real answer that is not good, 2 wrong input
 */
export async function main(words: readonly string[]): Promise<number> {
  const [command, ...rest] = words;
  try {
    if (command === 'check') return await check(rest);
    if (command === '--help' || command === 'help') {
      process.stdout.write(`${USAGE}\n`);
      return GOOD;
    }
    throw new InputError(command === undefined ? USAGE : `unknown command ${command}; ${USAGE}`);
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    process.stderr.write(`lodestone: ${error.message.replaceAll(/\s*\n\s*/g, ' ')}\n`);
    return BAD_INPUT;
  }
}
