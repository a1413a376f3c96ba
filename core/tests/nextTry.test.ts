import { describe, expect, it } from 'vitest';
import { assess } from '../src/check/index.ts';
import { apply, readTrain } from '../src/train/index.ts';
import { nextTry, spacingOf } from '../src/experiment/index.ts';
import { demoDrawer, readDemo } from './demo.ts';

const parts = demoDrawer().filter((part) => part.owned);

describe('the next try from the drawer', () => {
  const longTom = readDemo('long-tom.json');
  const now = spacingOf(longTom)!;

  it('gives what was asked for with as few joints opened as can be, and nothing else of the train is touched', () => {
    const next = nextTry(longTom, now + 0.3, { unit: 'mm', parts })!;
    expect(Math.abs(next.offMm)).toBeLessThanOrEqual(0.1 + 1e-9);
    expect(spacingOf(apply(longTom, next.operation))).toBeCloseTo(now + 0.3 + next.offMm, 9);
    expect(next.change.joints).toBe(1);
    expect(next.train.elements[0]).toEqual(longTom.elements[0]);
  });

  it('every train it makes is a valid one, its joints close, and its tuned value stays as it was', () => {
    let made = 0;
    for (const by of [-0.8, 0.3, 1, 3]) {
      const next = nextTry(longTom, now + by, { unit: 'mm', parts });
      if (!next) continue;
      made++;
      const reading = readTrain(next.train);
      if (!reading.ok) throw new Error(reading.complaints[0]!.message);
      const before = assess(longTom).findings.filter(({ level, place }) => level === 'error' && place.kind === 'joint');
      const after = assess(reading.document).findings.filter(
        ({ level, place }) => level === 'error' && place.kind === 'joint'
      );
      expect(after.length).toBeLessThanOrEqual(before.length);
      expect(Math.abs(next.spacingMm - now)).toBeGreaterThan(Math.abs(by) / 2);
      expect(assess(next.train).ledger.required.tunedMm).toBe(86.4);
    }
    expect(made).toBeGreaterThan(1);
  });

  it('offers nothing where the drawer has nothing, or the spacing is not known', () => {
    expect(nextTry(longTom, now + 1, { unit: 'mm', parts: [] })).toBeUndefined();
    expect(nextTry(longTom, now, { unit: 'mm', parts })).toBeUndefined();
    expect(nextTry(readDemo('heron.json'), 60, { unit: 'mm', parts })).toBeUndefined();
  });
});
