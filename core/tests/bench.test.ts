// Nobody runs the benchmarks but on purpose: what they take out of core has to be there all the same.
import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { expect, it } from 'vitest';
import { comparison } from '../../scripts/bench/compare.mjs';

const BENCH = fileURLToPath(new URL('../bench', import.meta.url));

it('the benchmarks find what they measure', async () => {
  const entryPoints = readdirSync(BENCH).map((name) => `${BENCH}/${name}`);
  expect(entryPoints.length).toBeGreaterThan(4);
  const { errors, warnings } = await build({
    entryPoints,
    bundle: true,
    write: false,
    outdir: BENCH,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    logLevel: 'silent'
  });
  expect([...errors, ...warnings].map(({ text }) => text)).toEqual([]);
});

it('a run is put beside an earlier one, each figure by its words', () => {
  const before = `Finder, 5 pieces:
  300 parts              40 ms  24.0 × HiGHS
  10 000 parts           1,030 ms

An edit, scripting until it is painted (100 times):
  median                 18.0 ms
The field point (100 times):
  median                 8.0 ms`;
  const beside = comparison(before);
  const now = [
    'Finder, 5 pieces:',
    '  300 parts              20 ms  24.0 × HiGHS',
    '  10 000 parts           1,133 ms',
    '  a line nobody knew      3 ms',
    'The field point (100 times):',
    '  median                 8.0 ms',
    'An edit, scripting until it is painted (100 times):',
    '  median                 9.0 ms'
  ].map((line) => beside(line).trimEnd());
  expect(now.map((line) => /×[\d.]+(?: ×[\d.]+)*$/.exec(line)?.[0])).toEqual([
    undefined,
    '×0.50',
    '×1.10',
    undefined,
    undefined,
    undefined,
    undefined,
    '×0.50'
  ]);
});
