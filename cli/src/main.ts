import { resolve } from 'node:path';
import { readFile } from 'node:fs/promises';
import { parseArgs, type ParseArgsConfig } from 'node:util';
import { assess, complaintLine, readTrainText, type Reading } from '@lodestone/core';
import { assemblySheet, changeOver } from '@lodestone/core/assembly';
import { readDrawerText } from '@lodestone/core/drawer';
import { readFocusRun, readFocusRunText } from '@lodestone/core/focus';
import {
  DEFAULT_LIMIT,
  DEFAULT_MAX_PIECES,
  adviseOn,
  findStacks,
  findTogether,
  type FindOptions
} from '@lodestone/core/finder';
import { findJson, findText, togetherJson, togetherText } from './find.ts';
import { changeOverText, sheetText } from './assembly.ts';
import { focusText, ledgerText } from './ledgerText.ts';

/** Exit codes of the command. */
export const GOOD = 0;
export const NOT_GOOD = 1;
export const BAD_INPUT = 2;

const USAGE =
  'usage: lodestone check FILE|- [--json] | find FILE|- --drawer FILE|- [--shop FILE] [--prefer closest|fewest|likeliest] [--max-pieces N] [--corner-light PERCENT] [--limit N] [--with FILE [--share apart|changeover]] [--json] | sheet FILE|- [--from camera|telescope|parts] [--json] | changeover FROM TO [--drawer FILE] [--json] | focus FILE|- [--json]';

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

/** Reads a document, or says in one line what is wrong with the first place that is. */
async function readDocument<T>(file: string, read: (text: string) => Reading<T>): Promise<T> {
  const reading = read(await readInput(file));
  if (reading.ok) return reading.document;
  const [first, ...rest] = reading.complaints;
  const others = rest.length === 0 ? '' : ` (and ${rest.length} more)`;
  throw new InputError(`${file}: ${first ? complaintLine(first) : 'cannot be read'}${others}`);
}

type Options = NonNullable<ParseArgsConfig['options']>;

/** Options and the files of a command. */
function parsedFiles<O extends Options>(words: readonly string[], count: number, options: O) {
  try {
    const { values, positionals } = parseArgs({ args: [...words], options, allowPositionals: true, strict: true });
    if (positionals.length !== count) throw new InputError(USAGE);
    return { files: positionals, values };
  } catch (error) {
    if (error instanceof InputError) throw error;
    const unknown = /^Unknown option '([^']+)'/.exec(error instanceof Error ? error.message : '');
    const reason = unknown ? `unknown option ${unknown[1]}` : error instanceof Error ? error.message : String(error);
    throw new InputError(`${reason}; ${USAGE}`);
  }
}

/** Options and the one file of a command. */
function parsed<O extends Options>(words: readonly string[], options: O) {
  const { files, values } = parsedFiles(words, 1, options);
  return { file: files[0]!, values };
}

async function check(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { json: { type: 'boolean' } });
  const train = await readDocument(file, readTrainText);
  const assessment = assess(train);
  process.stdout.write(values.json ? `${JSON.stringify(assessment.report, null, 2)}\n` : ledgerText(assessment));
  return assessment.isGood ? GOOD : NOT_GOOD;
}

/** A whole number of an option, within its limits. */
function whole(name: string, text: string | undefined, otherwise: number, least: number, most: number): number {
  if (text === undefined) return otherwise;
  const number = Number(text);
  if (!/^\d+$/.test(text) || number < least || number > most) {
    throw new InputError(`--${name} takes a whole number from ${least} to ${most}, not “${text}”; ${USAGE}`);
  }
  return number;
}

/** A percentage of an option as a share; undefined where it is not given. */
function percentOf(name: string, text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const number = Number(text);
  if (!/^\d+(\.\d+)?$/.test(text) || number > 100) {
    throw new InputError(`--${name} takes a number from 0 to 100, not “${text}”; ${USAGE}`);
  }
  return number / 100;
}

const MOST_PIECES = 12;
const MOST_LISTED = 1000;

async function find(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, {
    drawer: { type: 'string' },
    shop: { type: 'string' },
    prefer: { type: 'string' },
    'max-pieces': { type: 'string' },
    'corner-light': { type: 'string' },
    limit: { type: 'string' },
    with: { type: 'string', multiple: true },
    share: { type: 'string' },
    json: { type: 'boolean' }
  });
  if (values.drawer === undefined) throw new InputError(`--drawer is needed; ${USAGE}`);
  const { prefer = 'closest' } = values;
  if (prefer !== 'closest' && prefer !== 'fewest' && prefer !== 'likeliest') {
    throw new InputError(`--prefer takes closest, fewest or likeliest, not “${prefer}”; ${USAGE}`);
  }
  if ([file, values.drawer, values.shop].filter((each) => each === '-').length > 1) {
    throw new InputError(`standard input can be read only once; ${USAGE}`);
  }
  const maxPieces = whole('max-pieces', values['max-pieces'], DEFAULT_MAX_PIECES, 0, MOST_PIECES);
  const cornerLight = percentOf('corner-light', values['corner-light']);
  const limit = whole('limit', values.limit, DEFAULT_LIMIT, 1, MOST_LISTED);
  const train = await readDocument(file, readTrainText);
  const drawer = await readDocument(values.drawer, readDrawerText);
  // Whatever the shop's list says: what stands in it is not owned.
  const shop = values.shop === undefined ? [] : await readDocument(values.shop, readDrawerText);
  const taken = new Set(drawer.map(({ partId }) => partId));
  const twice = shop.find(({ partId }) => taken.has(partId));
  if (twice)
    throw new InputError(`${values.shop}: /parts: “${twice.partId}” is the number of a part of the drawer too`);
  const limits = {
    parts: [...drawer, ...shop.map((part) => ({ ...part, owned: false }))],
    maxPieces,
    cornerLight
  };
  const { share = 'apart' } = values;
  if (share !== 'apart' && share !== 'changeover') {
    throw new InputError(`--share takes apart or changeover, not “${share}”; ${USAGE}`);
  }
  if (values.with) {
    const others = [];
    for (const other of values.with) others.push(await readDocument(other, readTrainText));
    const together = findTogether([train, ...others], limits, share);
    process.stdout.write(values.json ? togetherJson(together) : togetherText([train, ...others], together));
    return together.best && together.collisions.length === 0 ? GOOD : NOT_GOOD;
  }
  const options: FindOptions = { ...limits, prefer, limit };
  const result = findStacks(train, options);
  const advice = adviseOn(train, options, result);
  // Gaps are not mated, so whatever is an error stands outside of them, and no stack mends it.
  const assessment = assess(train);
  process.stdout.write(values.json ? findJson(result, advice) : findText(assessment, result, advice, prefer));
  return result.solutions[0]?.inTolerance && assessment.errors.length === 0 ? GOOD : NOT_GOOD;
}

async function sheet(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { from: { type: 'string' }, json: { type: 'boolean' } });
  const { from = 'camera' } = values;
  if (from !== 'camera' && from !== 'telescope' && from !== 'parts') {
    throw new InputError(`--from takes camera, telescope or parts, not “${from}”; ${USAGE}`);
  }
  const train = await readDocument(file, readTrainText);
  const steps = assemblySheet(train, from);
  process.stdout.write(values.json ? `${JSON.stringify({ steps }, null, 2)}\n` : sheetText(train, steps));
  return assess(train).isGood ? GOOD : NOT_GOOD;
}

async function focus(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { json: { type: 'boolean' } });
  const { points, backlashSteps } = await readDocument(file, readFocusRunText);
  const answer = readFocusRun(points, backlashSteps);
  process.stdout.write(values.json ? `${JSON.stringify(answer, null, 2)}\n` : focusText(answer));
  return answer.enough ? GOOD : NOT_GOOD;
}

async function changeover(words: readonly string[]): Promise<number> {
  const { files, values } = parsedFiles(words, 2, { drawer: { type: 'string' }, json: { type: 'boolean' } });
  const [fromFile, toFile] = files as [string, string];
  if ([fromFile, toFile, values.drawer].filter((each) => each === '-').length > 1) {
    throw new InputError(`standard input can be read only once; ${USAGE}`);
  }
  const from = await readDocument(fromFile, readTrainText);
  const to = await readDocument(toFile, readTrainText);
  const drawer = values.drawer === undefined ? [] : await readDocument(values.drawer, readDrawerText);
  const locations = new Map(drawer.map(({ partId, location }) => [partId, location]));
  const change = changeOver(from, to, (partId) => locations.get(partId) || null);
  process.stdout.write(values.json ? `${JSON.stringify(change, null, 2)}\n` : changeOverText(from, to, change));
  return GOOD;
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
    if (command === 'find') return await find(rest);
    if (command === 'sheet') return await sheet(rest);
    if (command === 'changeover') return await changeover(rest);
    if (command === 'focus') return await focus(rest);
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
