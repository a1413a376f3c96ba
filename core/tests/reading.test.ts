import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { assemblySheet, doubtReading, readAt, readingOperation } from '../src/assembly/index.ts';
import { apply, readTrainText, type Train } from '../src/train/index.ts';
import { assess, checkTrain } from '../src/check/index.ts';

const longTom = ((): Train => {
  const reading = readTrainText(readFileSync(new URL('../../demo/long-tom.json', import.meta.url), 'utf8'));
  if (!reading.ok) throw new Error('the demo must be valid');
  return reading.document;
})();

const CALIPER = { instrument: 'Caliper', errorMm: 0.02 };

describe('a reading at the bench', () => {
  const measure = { from: 'guider', to: 'wheel', expectedMm: 39, uncertaintyMm: 0.16 };

  it('is asked about where it is off by more than the larger of 5 U, 0.5 mm and 5 %', () => {
    // 5 % of 39 is 1.95.
    expect(doubtReading(40.9, measure)).toBeUndefined();
    expect(doubtReading(40.96, measure)).toMatchObject({ offMm: expect.closeTo(1.96, 9) });
    const short = { ...measure, expectedMm: 2, uncertaintyMm: 0.02 };
    expect(doubtReading(2.5, short)).toBeUndefined();
    expect(doubtReading(2.51, short)).toBeDefined();
    expect(doubtReading(2.9, { ...short, uncertaintyMm: 0.2 })).toBeUndefined();
  });

  it('knows inches and a slipped point when it sees them', () => {
    expect(doubtReading(1.535, measure)).toMatchObject({ meantMm: 38.989 });
    expect(doubtReading(389.9, measure)).toMatchObject({ meantMm: 38.99 });
    expect(doubtReading(3.9, measure)).toMatchObject({ meantMm: 39 });
    expect(doubtReading(12, measure)).toMatchObject({ meantMm: undefined });
  });

  it('counts: of a stack in place of its parts, and of smaller stacks inside it', () => {
    const before = checkTrain(longTom);
    const steps = assemblySheet(longTom, 'mm', 'camera');
    const [wheel, stack] = steps.flatMap(({ measure: each }) => each ?? []);
    expect([wheel!.from, wheel!.to]).toEqual(['wheel', 'wheel']);
    const one = apply(longTom, readingOperation(longTom, wheel!, 20.5, CALIPER));
    expect(readAt(one, wheel!)).toBe(20.5);
    expect(checkTrain(one).residualMm! - before.residualMm!).toBeCloseTo(0.1, 9);
    const two = apply(one, readingOperation(one, stack!, 39.2, CALIPER));
    expect(readAt(two, stack!)).toBe(39.2);
    // 18.6 and 20.4 came to 39.0: now 0.2 more, however the wheel alone was read.
    expect(checkTrain(two).residualMm! - before.residualMm!).toBeCloseTo(0.2, 9);
    const larger = { from: 'ring-a', to: 'wheel', expectedMm: 44.84, uncertaintyMm: 0.2 };
    const three = apply(two, readingOperation(two, larger, 45, CALIPER));
    expect(three.groups).toHaveLength(1);
    expect(assess(three).findings.some(({ code }) => code === 'group-unused')).toBe(false);
    // Read again, it replaces what was read before.
    expect(apply(three, readingOperation(three, larger, 45.1, CALIPER)).groups).toMatchObject([{ lengthMm: 45.1 }]);
    // What is known gets narrower.
    expect(checkTrain(three).uncertainty.standardMm).toBeLessThan(before.uncertainty.standardMm);
  });
});
