import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import trainSchema from '../../core/src/train/train.schema.json' with { type: 'json' };
import { readCsv, splitCsv, writeCsv } from '../../core/src/drawer/csv.ts';
import { readDrawer, servedDrawerSchema, type Part } from '../../core/src/drawer/index.ts';
import { readTrain, type Complaint } from '../../core/src/train/index.ts';
import { dice } from '../../core/src/stats/random.ts';
import { python, pythonWith } from './tools.ts';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-interop-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

type Json = Record<string, unknown>;
const demo = (name: string): Json =>
  JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')) as Json;

const { uniform } = dice(Number(process.env.LODESTONE_SEED ?? 20261130));
const below = (most: number): number => Math.floor(uniform() * most);
const pick = <T>(from: readonly T[]): T => from[below(from.length)]!;

/** What a document may not have, and what it may, at whatever place. */
const ODD: readonly unknown[] = [
  ...[null, true, -1, 0, 1.5, 1e9, '', '   ', 'Ring', 'M48x0.75', 'x'.repeat(5000), 'a\u001b[31mb', 'female', 'male'],
  ...[[], {}, { thread: 'M48x0.75', gender: 'female' }, [1, 2], { lengthMm: 3 }, 'spacer', 'drawer/2', '2026-02-30']
];

/** A document with one to three things in it changed, taken out or added. */
function bent(document: Json): Json {
  const copy = structuredClone(document);
  for (let times = 1 + below(3); times > 0; times--) {
    let node = copy;
    for (let depth = below(6); depth > 0; depth--) {
      const inner = Object.values(node).filter((each): each is Json => typeof each === 'object' && each !== null);
      if (inner.length === 0) break;
      node = pick(inner);
    }
    const keys = Object.keys(node);
    const action = below(4);
    if (action === 0 && keys.length > 0) Reflect.deleteProperty(node, pick(keys));
    else if (action === 1 && !Array.isArray(node))
      node[pick(['lengthMm', 'id', 'copy', 'massG', 'kind', 'odd'])] = structuredClone(pick(ODD));
    else if (keys.length > 0) node[pick(keys)] = structuredClone(pick(ODD));
  }
  return copy;
}

/** What the schema language has no words for: values that must agree with each other, or be known. */
const BEYOND_SCHEMA =
  /must state one of|already the number of|contradicts|is not in the calendar|must lie between|must run from|is said of a (?:fe)?male thread|is below the lower end/;

function compare(
  schema: object,
  documents: readonly Json[],
  ours: (each: Json) => { ok: true } | { ok: false; complaints: Complaint[] }
) {
  const [schemaFile, lines] = [join(folder, 'schema.json'), join(folder, 'documents.jsonl')];
  writeFileSync(schemaFile, JSON.stringify(schema));
  writeFileSync(lines, documents.map((each) => JSON.stringify(each)).join('\n'));
  const theirs = JSON.parse(python('documents.py', schemaFile, lines)) as (true | string)[];
  const counts = { both: 0, neither: 0 };
  const [laxer, stricter]: [string[], string[]] = [[], []];
  for (const [index, document] of documents.entries()) {
    const reading = ours(document);
    const allowed = theirs[index]!;
    if (reading.ok && allowed === true) counts.both++;
    else if (!reading.ok && allowed !== true) counts.neither++;
    else if (reading.ok) laxer.push(String(allowed));
    else stricter.push(...reading.complaints.map(({ place, message }) => `${place} ${message}`).slice(0, 1));
  }
  return { counts, laxer, stricter };
}

describe('documents against the schemas that are served, by python3-jsonschema', () => {
  it('trains', () => {
    const trains = ['heron', 'long-tom', 'dormouse', 'avocet'].map(demo);
    const documents = [...trains, ...Array.from({ length: 400 }, () => bent(pick(trains)))];
    const { counts, laxer, stricter } = compare(trainSchema, documents, readTrain);
    expect(counts.both).toBeGreaterThan(20);
    expect(counts.neither).toBeGreaterThan(100);
    expect(laxer).toEqual([]);
    expect(stricter.filter((each) => !BEYOND_SCHEMA.test(each))).toEqual([]);
  });

  it('drawers: the schema checks every part', () => {
    const drawer = demo('drawer') as { parts: Json[] } & Json;
    const documents = Array.from({ length: 400 }, () =>
      bent({ ...drawer, parts: Array.from({ length: 3 }, () => pick(drawer.parts)) })
    ).map((each, index) => {
      // Numbers are unique: three of the same part are told by nobody but the reader.
      const parts = Array.isArray(each.parts) ? (each.parts as unknown[]) : [];
      for (const [place, part] of parts.entries())
        if (
          typeof part === 'object' &&
          part !== null &&
          typeof (part as Json).partId === 'string' &&
          (part as Json).partId !== '' &&
          index % 7 > 0
        )
          (part as Json).partId = `${(part as Json).partId as string}${place}`;
      return each;
    });
    const { counts, laxer, stricter } = compare(servedDrawerSchema(), [drawer, ...documents], readDrawer);
    expect(counts.both).toBeGreaterThan(20);
    expect(counts.neither).toBeGreaterThan(100);
    expect(laxer).toEqual([]);
    expect(stricter.filter((each) => !BEYOND_SCHEMA.test(each))).toEqual([]);
  });
});

describe('tables and Python’s csv module', () => {
  const reading = readDrawer(demo('drawer'));
  const parts: Part[] = reading.ok ? reading.document : [];
  const back = (text: string) => readCsv(splitCsv(text)).parts;

  it('what is written is read there cell by cell', () => {
    const file = join(folder, 'drawer.csv');
    writeFileSync(file, writeCsv(parts));
    const rows = JSON.parse(python('rows.py', 'read', file)) as string[][];
    expect(rows).toHaveLength(parts.length + 1);
    expect(new Set(rows.map(({ length }) => length)).size).toBe(1);
    expect(rows.slice(1).map(([partId]) => partId)).toEqual(parts.map(({ partId }) => partId));
  });

  it.each([',', ';', '\t'])('what is written there with “%s” is read as the same parts', (delimiter) => {
    const rows = splitCsv(writeCsv(parts));
    const file = join(folder, 'theirs.csv');
    pythonWith(
      JSON.stringify([rows.header, ...rows.rows.map(({ cells }) => cells)]),
      'rows.py',
      'write',
      file,
      delimiter
    );
    expect(back(readFileSync(file, 'utf8'))).toEqual(parts);
    expect(parts.length).toBeGreaterThan(20);
  });
});
