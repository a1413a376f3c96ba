import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { spread } from './spread.ts';

const ascending = fc
  .array(fc.double({ min: -50, max: 850, noNaN: true }), { minLength: 1, maxLength: 30 })
  .map((places) => places.sort((a, b) => a - b));

const cost = (wanted: readonly number[], got: readonly number[]): number =>
  wanted.reduce((sum, at, index) => sum + (at - got[index]!) ** 2, 0);

describe('places that keep apart', () => {
  it('stay where they are while they have room', () => {
    expect(spread([20, 60, 100], 24, 12, 800)).toEqual([20, 60, 100]);
  });

  it('share the room round what they want', () => {
    expect(spread([100, 100, 100], 24, 12, 800)).toEqual([76, 100, 124]);
  });

  it('stand inside, and as far apart as there is room for', () => {
    expect(spread([0, 0], 24, 12, 800)).toEqual([12, 36]);
    expect(spread([0, 50, 100], 24, 0, 30)).toEqual([0, 15, 30]);
  });

  it('never come nearer than asked, and none of many tries moves them less', () => {
    fc.assert(
      fc.property(ascending, fc.infiniteStream(fc.double({ min: -6, max: 6, noNaN: true })), (wanted, noise) => {
        const got = spread(wanted, 24, 0, 800);
        got.slice(1).forEach((at, index) => expect(at - got[index]!).toBeGreaterThanOrEqual(24 - 1e-9));
        expect(got[0]).toBeGreaterThanOrEqual(0);
        expect(got.at(-1)).toBeLessThanOrEqual(800 + 1e-9);
        const other = got.map((at) => at + noise.next().value);
        const allowed = other.every(
          (at, index) => at >= 0 && at <= 800 && (index === 0 || at - other[index - 1]! >= 24)
        );
        if (allowed) expect(cost(wanted, other)).toBeGreaterThanOrEqual(cost(wanted, got) - 1e-6);
      })
    );
  });
});
