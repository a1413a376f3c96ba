// Which nights need which filters: a wheel is changed from afar, a drawer is not (handbook §8, common practice).
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { filterKey, filterNights, MOST_NIGHTS } from '../src/sky/index.ts';

const hours = (filter: string, count: number) => ({ filter, count, seconds: 3600 });
const names = (of: ReturnType<typeof filterNights>) =>
  of.nights.map(({ shares }) => shares.map(({ filter, minutes }) => `${filter} ${minutes / 60}`).join(', '));
const visits = (of: ReturnType<typeof filterNights>) => of.nights.map(({ putIn }) => putIn);

describe('nights by filter', () => {
  const narrow = [hours('Ha', 6), hours('OIII', 4), hours('SII', 2)];

  it('of a wheel that has them all need nobody there', () => {
    const plan = filterNights(narrow, 1, { slots: 7, standing: ['L', 'SII', 'Hydrogen alpha', 'OIII 3 nm'] }, 300);
    // Seven slots, three filters: 12 h in nights of 5.
    expect(plan).toMatchObject({ count: 3, visits: 0 });
    expect(names(plan)).toEqual(['Ha 5', 'Ha 1, OIII 4', 'SII 2']);
  });

  it('of a drawer take one filter a night, and a visit for each that is not in it', () => {
    const plan = filterNights(narrow, 1, { slots: 1, standing: ['OIII'] }, 300);
    expect(names(plan)).toEqual(['OIII 4', 'Ha 5', 'Ha 1', 'SII 2']);
    expect(visits(plan)).toEqual([[], ['Ha'], [], ['SII']]);
    expect(plan.visits).toBe(2);
    expect(filterNights(narrow, 1, undefined, 300).visits).toBe(3);
  });

  it('of a wheel that takes fewer go in sets, those that are in it first; panels count as often as they are', () => {
    const plan = filterNights(
      [hours('L', 1), hours('R', 1), hours('G', 1), hours('B', 1), hours('Ha', 2)],
      2,
      { slots: 3, standing: ['R', 'G', 'B'] },
      6 * 60
    );
    expect(names(plan)).toEqual(['R 2, G 2, B 2', 'L 2, Ha 4']);
    expect(visits(plan)).toEqual([[], ['L', 'Ha']]);
  });

  it('gives every filter its whole time, no night more than it has, and lists no more than can be read', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            filter: fc.constantFrom('L', 'R', 'Ha', 'Duo'),
            count: fc.integer({ min: 0, max: 40 }),
            seconds: fc.constantFrom(60, 300)
          }),
          { maxLength: 8 }
        ),
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 30, max: 600 }),
        (exposures, slots, nightMinutes) => {
          const plan = filterNights(exposures, 1, { slots, standing: ['Ha'] }, nightMinutes);
          const sum = plan.nights.flatMap(({ shares }) => shares).reduce((all, { minutes }) => all + minutes, 0);
          const asked = exposures.reduce((all, { count, seconds }) => all + (count * seconds) / 60, 0);
          if (plan.count <= MOST_NIGHTS) expect(sum).toBeCloseTo(asked, 6);
          for (const { shares } of plan.nights) {
            expect(shares.reduce((all, { minutes }) => all + minutes, 0)).toBeLessThanOrEqual(nightMinutes + 1e-6);
            expect(new Set(shares.map(({ filter }) => filterKey(filter))).size).toBeLessThanOrEqual(slots);
          }
        }
      )
    );
    const long = filterNights([hours('L', 10_000)], 1, undefined, 60);
    expect([long.count, long.nights.length]).toEqual([10_000, MOST_NIGHTS]);
    expect(filterNights([], 1, undefined, 300)).toEqual({ nights: [], count: 0, visits: 0 });
  });
});
