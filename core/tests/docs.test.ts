import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { CSV_COLUMNS } from '../src/drawer/csv.ts';
import { readDrawerText } from '../src/drawer/index.ts';
import { CHECKS, SNAPSHOT_CODES, checkTrain } from '../src/check/index.ts';
import { readTrainText } from '../src/train/index.ts';

const docs = readFileSync(new URL('../../docs/train-document.md', import.meta.url), 'utf8');

describe('docs/train-document.md', () => {
  it('shows a document that is valid and on spec', () => {
    const example = /```json\n(.*?)```/s.exec(docs)?.[1] ?? '';
    const reading = readTrainText(example);
    expect(reading.ok && checkTrain(reading.document).verdict).toBe('on-spec');
  });

  it('names every code a finding may have', () => {
    const codes = [...CHECKS.flatMap((check) => check.codes), ...SNAPSHOT_CODES];
    expect(new Set(codes).size).toBe(codes.length);
    expect(codes.filter((code) => !docs.includes(`\`${code}\``))).toEqual([]);
  });

  it('names every key of the format', () => {
    const schema = readFileSync(new URL('../src/train/train.schema.json', import.meta.url), 'utf8');
    const keys = new Set<string>();
    JSON.parse(schema, (key, node: unknown) => {
      if (key === 'properties') Object.keys(node as object).forEach((each) => keys.add(each));
      return node;
    });
    const unnamed = [...keys].filter((key) => !docs.includes(key));
    expect(unnamed).toEqual([]);
  });
});

describe('docs/drawer-document.md', () => {
  const drawerDocs = readFileSync(new URL('../../docs/drawer-document.md', import.meta.url), 'utf8');

  it('shows a drawer that is valid', () => {
    const reading = readDrawerText(/```json\n(.*?)```/s.exec(drawerDocs)?.[1] ?? '');
    expect(reading.ok && reading.document.map(({ partId }) => partId)).toEqual(['R-07', 'S-01']);
  });

  it('names every key that only a part has, and every column', () => {
    const schema = readFileSync(new URL('../src/drawer/drawer.schema.json', import.meta.url), 'utf8');
    const keys = new Set<string>(CSV_COLUMNS);
    JSON.parse(schema, (key, node: unknown) => {
      if (key === 'properties') Object.keys(node as object).forEach((each) => keys.add(each));
      return node;
    });
    expect([...keys].filter((key) => key !== 'name' && !drawerDocs.includes(key))).toEqual([]);
  });
});

describe('the pictures', () => {
  const at = (path: string): URL => new URL(`../../${path}`, import.meta.url);
  const text = (path: string): string => readFileSync(at(path), 'utf8');
  const there = readdirSync(at('docs/screenshots'))
    .map((name) => name.replace(/\.png$/, ''))
    .sort();
  const taken = text('scripts/pictures.mjs');

  it('are those that are taken, each linked from the README, and fewer than twenty', () => {
    const names = [...taken.matchAll(/^\s+(?:\{ )?name: '([\w-]+)'/gm)].map(([, name]) => name!).sort();
    expect(there).toEqual(names);
    expect(there.length).toBeLessThan(20);
    const linked = new Set(
      [...text('README.md').matchAll(/docs\/screenshots\/([\w-]+)\.png/g)].map(([, name]) => name!)
    );
    expect([...linked].sort()).toEqual(there);
  });

  it('show every stage of a train, the drawer, measuring, the start and the comparison', () => {
    const stages = [...text('src/lib/stages.ts').matchAll(/id: '([\w-]+)'/g)].map(([, id]) => id!);
    expect(stages.length).toBeGreaterThan(5);
    for (const stage of stages) expect(taken, stage).toMatch(new RegExp(`path: '${stage}'|/${stage}\``));
    for (const page of ["'/'", "'/drawer'", '/measure', "'/new'", '/compare']) expect(taken).toContain(page);
  });
});
