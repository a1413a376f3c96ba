// The drawer's own reckoning, with ten thousand parts beside a hundred: what grows, and how.
import { readCsv, splitCsv, writeCsv } from '../src/drawer/csv.ts';
import { indexDrawer, partsThatFit, searchParts } from '../src/drawer/index.ts';
import type { Port } from '../src/train/index.ts';
import { randomDrawer } from './drawers.ts';

const SIZES = [100, 10_000] as const;
const ROUNDS = 7;
const above: Port = { thread: 'M48x0.75', gender: 'male', lengthMm: 4 };
const below: Port = { thread: 'M48x0.75', gender: 'female', lengthMm: 5 };

const best = (work: () => void): number => {
  let fastest = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const began = performance.now();
    work();
    fastest = Math.min(fastest, performance.now() - began);
  }
  return fastest;
};

const drawers = SIZES.map((size) => randomDrawer(size, 1));
const row = (words: string, work: (index: number) => () => void): void => {
  const [small, large] = drawers.map((_parts, index) => best(work(index)));
  console.log(
    `  ${words.padEnd(44)} ${small!.toFixed(2).padStart(8)} ms ${large!.toFixed(2).padStart(9)} ms  ${(large! / small!).toFixed(0).padStart(5)}×`
  );
};

console.log('\nDrawer, reckoning alone (best of 7):                  100 parts    10 000 parts');
const indices = drawers.map((parts) => indexDrawer(parts));
const tables = drawers.map((parts) => writeCsv(parts));
row('prepare it for searching, new', (index) => () => void indexDrawer(drawers[index]!.map((part) => ({ ...part }))));
row('the same after one part has changed', (index) => () => {
  const [first, ...rest] = drawers[index]!;
  indexDrawer([{ ...first! }, ...rest]);
});
row('search, “m48 f 16.5”', (index) => () => void searchParts(indices[index]!, 'm48 f 16.5'));
row('what fits here?', (index) => () => void partsThatFit(drawers[index]!, above, below, 7.5));
row('read its CSV', (index) => () => void readCsv(splitCsv(tables[index]!)));
row('write its CSV', (index) => () => void writeCsv(drawers[index]!));
