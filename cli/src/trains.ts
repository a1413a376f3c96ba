import { assess, screwFault } from '@lodestone/core/check';
import { readTrainText } from '@lodestone/core/train';
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
import { changeOverText, sheetText } from './assembly.ts';
import { findJson, findText, togetherJson, togetherText } from './find.ts';
import { GOOD, InputError, NOT_GOOD, USAGE, parsed, parsedFiles, readDocument, whole } from './input.ts';
import { focusText, ledgerText } from './ledgerText.ts';

export async function check(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { json: { type: 'boolean' } });
  const train = await readDocument(file, readTrainText);
  const assessment = assess(train);
  process.stdout.write(values.json ? `${JSON.stringify(assessment.report, null, 2)}\n` : ledgerText(assessment));
  return assessment.isGood ? GOOD : NOT_GOOD;
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

export async function find(words: readonly string[]): Promise<number> {
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
    cornerLight,
    unit: 'mm' as const
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

export async function sheet(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { from: { type: 'string' }, json: { type: 'boolean' } });
  const { from = 'camera' } = values;
  if (from !== 'camera' && from !== 'telescope' && from !== 'parts') {
    throw new InputError(`--from takes camera, telescope or parts, not “${from}”; ${USAGE}`);
  }
  const train = await readDocument(file, readTrainText);
  const assessment = assess(train);
  const fault = screwFault(train, assessment.facts.joints);
  if (fault) {
    const { id, path } = fault.at;
    const pointer = ['elements', train.elements.findIndex((element) => element.id === id), ...path].join('/');
    throw new InputError(`${file}: /${pointer}: no order reaches every screw: ${fault.words}`);
  }
  const steps = assemblySheet(train, 'mm', from, assessment.facts);
  process.stdout.write(values.json ? `${JSON.stringify({ steps }, null, 2)}\n` : sheetText(train, steps));
  return assessment.isGood ? GOOD : NOT_GOOD;
}

export async function focus(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { json: { type: 'boolean' } });
  const { points, backlashSteps, maxPosition } = await readDocument(file, readFocusRunText);
  const answer = readFocusRun(points, backlashSteps, maxPosition);
  process.stdout.write(values.json ? `${JSON.stringify(answer, null, 2)}\n` : focusText(answer));
  return answer.enough ? GOOD : NOT_GOOD;
}

export async function changeover(words: readonly string[]): Promise<number> {
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
  // Which element is which belongs to pictures.
  const { taken: _taken, ...told } = change;
  process.stdout.write(values.json ? `${JSON.stringify(told, null, 2)}\n` : changeOverText(from, to, change));
  return GOOD;
}
