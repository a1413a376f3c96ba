// The second unit: whoever reads inches reads no millimetres beside them.
import { describe, expect, it } from 'vitest';
import { assemblySheet, packingList } from '../src/assembly/index.ts';
import { COMPARED_ROWS, compared } from '../src/compare/index.ts';
import { adviseOn, findStacks, obstaclesOf, ringChanges } from '../src/finder/index.ts';
import type { Train } from '../src/train/index.ts';
import { demoDrawer, readDemo } from './demo.ts';

const MILLIMETRES = /\d ?mm\b/;
const parts = demoDrawer();
const trains = ['heron.json', 'long-tom.json', 'dormouse.json'].map(readDemo);

/** What people have typed themselves stays as they typed it, and a metric screw and its key are called by their millimetres. */
const withoutNames = (train: Train, sentence: string): string =>
  [train.host, ...train.elements, ...parts.map(({ element }) => element)].reduce(
    (said, { name }) => said.replaceAll(name, ''),
    sentence.replace(/M\d+(\.\d+)?, \d+(\.\d+)? mm long|\d+(\.\d+)? mm hex key/g, '')
  );

describe('in inches', () => {
  it.each(trains.map((train) => [train.name, train] as const))('%s: sheet, packing list and comparison', (_, train) => {
    const sheet = assemblySheet(train, 'in').map((step) => step.do);
    const packing = packingList(train, parts, () => false, 'in').map(({ what }) => what);
    const side = compared(train, parts);
    const rows = COMPARED_ROWS.map((row) => row.cell(side, 'in') ?? '');
    for (const sentence of [...sheet, ...packing, ...rows]) {
      expect(withoutNames(train, sentence)).not.toMatch(MILLIMETRES);
    }
  });

  it('advice, what improves a train, and what stands in the way', () => {
    const said: [Train, string][] = [];
    for (const train of trains) {
      for (const off of [-1.3, 0, 2.4]) {
        const elements = train.elements.map((element) =>
          element.kind === 'wheel' && 'lengthMm' in element
            ? { ...element, lengthMm: element.lengthMm + off, removable: true }
            : element
        ) as Train['elements'];
        const changed: Train = { ...train, elements };
        const options = { parts, unit: 'in' as const, maxPieces: 3 };
        const advice = [
          ...adviseOn(changed, options, findStacks(changed, options)),
          ...ringChanges(changed, options)
        ].map(({ message }) => message);
        const obstacles = obstaclesOf(changed, parts, 'in').map(({ message }) => message);
        said.push(...[...advice, ...obstacles].map((sentence): [Train, string] => [changed, sentence]));
      }
    }
    expect(said.length).toBeGreaterThan(5);
    for (const [train, sentence] of said) expect(withoutNames(train, sentence)).not.toMatch(MILLIMETRES);
  });
});
