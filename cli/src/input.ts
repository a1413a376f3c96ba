import { resolve } from 'node:path';
import { readFile } from 'node:fs/promises';
import { parseArgs, type ParseArgsConfig } from 'node:util';
import { complaintLine } from '@lodestone/core/complain';
import type { Reading } from '@lodestone/core/train';

/** Exit codes of the command. */
export const GOOD = 0;
export const NOT_GOOD = 1;
export const BAD_INPUT = 2;

export const USAGE =
  'usage: lodestone check FILE|- [--json] | find FILE|- --drawer FILE|- [--shop FILE] [--prefer closest|fewest|likeliest] [--max-pieces N] [--corner-light PERCENT] [--limit N] [--with FILE [--share apart|changeover]] [--json] | sheet FILE|- [--from camera|telescope|parts] [--json] | changeover FROM TO [--drawer FILE] [--json] | focus FILE|- [--json] | frame FILE... [--stars] [--picture N] [--json] | tune FILE|- [--drawer FILE] [--json] | simulate FILE|- --out FRAME.fits [--seed N] [--binning N] [--wants MM] [--sense 1|-1] [--tilt UM] [--tilt-direction DEG] [--defocus UM] [--coma UM] [--coma-direction DEG] [--drift PX] [--drift-direction DEG] [--seeing PX]';

/** Something the user wrote, or a file of theirs, is wrong. */
export class InputError extends Error {}

async function readStdin(): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of process.stdin) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}

/** A path as the user meant it: relative to where they stood. */
export const pathOf = (file: string): string => resolve(process.env.INIT_CWD ?? process.cwd(), file);

/** Why a file could not be opened, in words. */
export function fileTrouble(error: unknown): string {
  const reason = error instanceof Error && 'code' in error ? String(error.code) : String(error);
  const words: Record<string, string> = { ENOENT: 'no such file', EISDIR: 'is a folder', EACCES: 'may not be read' };
  return words[reason] ?? reason;
}

/** Reads UTF-8 text from a file, relative to where the user stood, or from standard input for `-`. */
async function readInput(file: string): Promise<string> {
  let bytes: Buffer;
  try {
    bytes = file === '-' ? await readStdin() : await readFile(pathOf(file));
  } catch (error) {
    throw new InputError(`${file}: ${fileTrouble(error)}`);
  }
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new InputError(`${file}: (whole document): the document is not UTF-8 text`);
  }
}

/** Reads a document, or says in one line what is wrong with the first place that is. */
export async function readDocument<T>(file: string, read: (text: string) => Reading<T>): Promise<T> {
  const reading = read(await readInput(file));
  if (reading.ok) return reading.document;
  const [first, ...rest] = reading.complaints;
  const others = rest.length === 0 ? '' : ` (and ${rest.length} more)`;
  throw new InputError(`${file}: ${first ? complaintLine(first) : 'cannot be read'}${others}`);
}

type Options = NonNullable<ParseArgsConfig['options']>;

/** Options and the files of a command. */
export function parsedFiles<O extends Options>(words: readonly string[], count: number | 'many', options: O) {
  try {
    const { values, positionals } = parseArgs({ args: [...words], options, allowPositionals: true, strict: true });
    if (count === 'many' ? positionals.length === 0 : positionals.length !== count) throw new InputError(USAGE);
    return { files: positionals, values };
  } catch (error) {
    if (error instanceof InputError) throw error;
    const unknown = /^Unknown option '([^']+)'/.exec(error instanceof Error ? error.message : '');
    const reason = unknown ? `unknown option ${unknown[1]}` : error instanceof Error ? error.message : String(error);
    throw new InputError(`${reason}; ${USAGE}`);
  }
}

/** Options and the one file of a command. */
export function parsed<O extends Options>(words: readonly string[], options: O) {
  const { files, values } = parsedFiles(words, 1, options);
  return { file: files[0]!, values };
}

/** A whole number of an option, within its limits. */
export function whole(name: string, text: string | undefined, otherwise: number, least: number, most: number): number {
  if (text === undefined) return otherwise;
  const number = Number(text);
  if (!/^\d+$/.test(text) || number < least || number > most) {
    throw new InputError(`--${name} takes a whole number from ${least} to ${most}, not “${text}”; ${USAGE}`);
  }
  return number;
}
