import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fewestRings, purchasesFor, reachOf, ringThreads, ringsOf, type RingStock } from '../src/drawer/reach.ts';
import { demoDrawer } from './demo.ts';

const once = (...lengths: number[]): RingStock[] => lengths.map((lengthMm) => ({ lengthMm, count: 1 }));
const whole = (fromMm: number, toMm: number) => ({ fromMm, toMm, stepMm: 1, toleranceMm: 0 });
const made = (rings: readonly RingStock[], asked = whole(0, 45)): number[] =>
  reachOf(rings, asked).flatMap(({ mm, rings: count }) => (count === undefined ? [] : [mm]));

describe('what rings make', () => {
  it('9 8 7 6 5 4, each once, makes every whole number from 4 to 35 and 39, none of 36 to 38 (calculation)', () => {
    const lengths = made(once(9, 8, 7, 6, 5, 4)).filter((mm) => mm > 0);
    expect(lengths).toEqual([...Array.from({ length: 32 }, (_, index) => index + 4), 39]);
  });

  it('agrees with every subset by brute force, and with the fewest rings of it', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            lengthMm: fc.integer({ min: 1, max: 900 }).map((each) => each / 100),
            count: fc.integer({ min: 1, max: 3 })
          }),
          {
            minLength: 1,
            maxLength: 4
          }
        ),
        (rings) => {
          const sums = new Map<number, number>();
          const walk = (at: number, sum: number, used: number): void => {
            if (at === rings.length) {
              sums.set(sum, Math.min(sums.get(sum) ?? Infinity, used));
              return;
            }
            const { lengthMm, count } = rings[at]!;
            for (let copy = 0; copy <= count; copy++)
              walk(at + 1, sum + copy * Math.round(lengthMm * 100), used + copy);
          };
          walk(0, 0, 0);
          const fewest = fewestRings(rings, 60);
          expect([...fewest]).toEqual(Array.from({ length: fewest.length }, (_, at) => sums.get(at) ?? 255));
        }
      )
    );
  });

  it('within a tolerance takes what is near', () => {
    expect(made(once(7.86), { fromMm: 7, toMm: 9, stepMm: 0.5, toleranceMm: 0.2 })).toEqual([8]);
    expect(made(once(7.86), { fromMm: 7, toMm: 9, stepMm: 0.5, toleranceMm: 0.1 })).toEqual([]);
  });

  it.each([
    [{ fromMm: 5, toMm: 4, stepMm: 1, toleranceMm: 0 }],
    [{ fromMm: 0, toMm: 1e9, stepMm: 1, toleranceMm: 0 }],
    [{ fromMm: 0, toMm: 10, stepMm: 0, toleranceMm: 0 }],
    [{ fromMm: 0, toMm: 10, stepMm: Number.NaN, toleranceMm: 0 }]
  ])('%o is refused', (asked) => expect(() => reachOf(once(5), asked)).toThrow(RangeError));
});

describe('what to buy', () => {
  it('is what fills most: a ring of 1 beside rings of two', () => {
    const [first] = purchasesFor([{ lengthMm: 2, count: 10 }], once(1, 2, 4), whole(1, 20));
    expect(first).toMatchObject({ rings: [{ lengthMm: 1 }], fills: 10 });
    expect(purchasesFor([{ lengthMm: 1, count: 20 }], once(3), whole(1, 20))).toEqual([]);
  });

  it('is tried choice by choice: no other one or two of those weighed fill more', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 12 }), { minLength: 1, maxLength: 4 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 12 }), { minLength: 2, maxLength: 5 }),
        (owned, offered) => {
          const asked = whole(1, 30);
          const holes = (rings: number[]): number => 30 - made(once(...rings), asked).length;
          const found = purchasesFor(once(...owned), once(...offered), asked);
          const before = holes(owned);
          const best1 = Math.max(...offered.map((each) => before - holes([...owned, each])));
          expect(found[0]?.fills ?? 0).toBe(best1);
          const pairs = offered.flatMap((one, at) =>
            offered.slice(at + 1).map((other) => before - holes([...owned, one, other]))
          );
          const found2 = found.find(({ rings }) => rings.length === 2);
          if (found2) expect(found2.fills).toBe(Math.max(...pairs));
        }
      ),
      { numRuns: 60 }
    );
  });

  it('of as many fills, the cheaper', () => {
    const offered: RingStock[] = [
      { lengthMm: 5, count: 1, price: 30, partId: 'dear' },
      { lengthMm: 5, count: 1, price: 12, partId: 'cheap' }
    ];
    expect(purchasesFor([], offered, whole(5, 5))[0]!.rings[0]!.partId).toBe('cheap');
  });
});

describe('a drawer', () => {
  it('names the threads its rings chain by, and the rings of each', () => {
    const parts = demoDrawer();
    const threads = ringThreads(parts);
    expect(threads.length).toBeGreaterThan(1);
    for (const { thread, rings } of threads) {
      const { owned } = ringsOf(parts, thread);
      expect(owned.reduce((sum, { count }) => sum + count, 0)).toBe(rings);
    }
    const [{ thread } = { thread: '' }] = threads;
    const [first] = ringsOf(parts, thread).owned;
    const uses = Array.from({ length: first!.count }, () => ({ partId: first!.partId! }));
    expect(ringsOf(parts, thread, uses).owned.map(({ partId }) => partId)).not.toContain(first!.partId);
  });
});
