import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dialOf, settle, stretchesOf, type Dial } from '../src/length/settle.ts';
import { toMm, toUnits, wholeUm } from '../src/units.ts';
import { checkTrain } from '../src/check/index.ts';
import { camera, corrector, train } from './trains.ts';

const units = (most: number) => fc.integer({ min: 0, max: most }).map((hundredths) => hundredths * 100);
const anyDial: fc.Arbitrary<Dial> = fc
  .record({ min: units(200), travel: units(400), step: fc.constantFrom(0, 500, 1000, 2500) })
  .map(({ min, travel, step }) => ({ min, max: min + travel, step }));

/** Every setting of a dial, a continuous one in steps fine enough to find the best. */
function settings({ min, max, step }: Dial): number[] {
  const found = [min, max];
  const fine = step === 0 ? 100 : step;
  for (let at = min; at <= max; at += fine) found.push(at);
  return found;
}

describe('dials', () => {
  it('one dial is set as the check sets it', () => {
    const adjust = fc
      .record({
        min: fc.integer({ min: 0, max: 30 }),
        travel: fc.integer({ min: 0, max: 150 }),
        step: fc.constantFrom(undefined, 0.1, 0.25)
      })
      .map(({ min, travel, step }) => ({
        minMm: min / 10,
        maxMm: (min + travel) / 10,
        setMm: min / 10,
        ...(step === undefined ? {} : { stepMm: step })
      }));
    fc.assert(
      fc.property(adjust, fc.integer({ min: 0, max: 2000 }), (made, hundredths) => {
        const flangeMm = 40 + hundredths / 100;
        const report = checkTrain(train([corrector({ backFocusMm: 50 }, { adjust: made }), camera(flangeMm)]));
        const { set, miss } = settle([dialOf(made)], toUnits(50) - toUnits(flangeMm));
        expect(toMm(set[0]!)).toBeCloseTo(report.dial!.setMm, 4);
        expect(toMm(miss)).toBeCloseTo(report.dial!.missMm, 4);
      })
    );
  });

  it('several are set together as near as any settings come', () => {
    fc.assert(
      fc.property(fc.array(anyDial, { minLength: 1, maxLength: 2 }), units(1200), (dials, wanted) => {
        const { set, miss } = settle(dials, wanted);
        expect(set.reduce((sum, each) => sum + each, 0) - wanted).toBeCloseTo(miss, 6);
        set.forEach((each, index) => {
          expect(each).toBeGreaterThanOrEqual(dials[index]!.min);
          expect(each).toBeLessThanOrEqual(dials[index]!.max);
        });
        const sums = dials.reduce<number[]>(
          (all, dial) => all.flatMap((sum) => settings(dial).map((at) => sum + at)),
          [0]
        );
        const nearest = Math.min(...sums.map((sum) => Math.abs(sum - wanted)));
        // All but the last are sampled where they turn freely: within half a step of the best.
        const coarsest = Math.max(...dials.map(({ step }) => step), 100);
        expect(Math.abs(miss)).toBeLessThanOrEqual(nearest + coarsest / 2 + 1e-6);
      })
    );
  });

  it('its stretches hold every sum the settings make, apart from each other and in order', () => {
    fc.assert(
      fc.property(fc.array(anyDial, { maxLength: 2 }), (dials) => {
        const stretches = stretchesOf(dials);
        stretches.forEach(([from, to], index) => {
          expect(from).toBeLessThanOrEqual(to);
          if (index > 0) expect(from).toBeGreaterThan(stretches[index - 1]![1]);
        });
        const sums = dials.reduce<number[]>(
          (all, dial) => all.flatMap((sum) => settings(dial).map((at) => sum + at)),
          [0]
        );
        for (const sum of sums) expect(stretches.some(([from, to]) => sum >= from && sum <= to)).toBe(true);
      })
    );
  });

  it('very many settings, or very many dials, are no trap', () => {
    const fine = dialOf({ minMm: 0, maxMm: 10_000, setMm: 0, stepMm: 0.0001 });
    expect(stretchesOf([fine])).toEqual([[0, toUnits(10_000)]]);
    expect(stretchesOf([fine, fine])).toEqual([[0, toUnits(20_000)]]);
    expect(settle([fine, fine], toUnits(37.5)).miss).toBeCloseTo(0, 6);
    fc.assert(
      fc.property(
        fc.array(anyDial, { minLength: 4, maxLength: 9 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (dials, share) => {
          const [least, most] = [0, 1].map((end) =>
            dials.reduce((sum, { min, max }) => sum + (end === 0 ? min : max), 0)
          ) as [number, number];
          const wanted = Math.round(least + share * (most - least));
          const { set, miss } = settle(dials, wanted);
          expect(set.reduce((sum, each) => sum + each, 0) - wanted).toBeCloseTo(miss, 6);
          const coarsest = Math.max(...dials.map(({ step }) => step), 1);
          expect(Math.abs(miss)).toBeLessThanOrEqual(coarsest * dials.length);
        }
      ),
      { numRuns: 60 }
    );
  });

  it('no dial adds nothing', () => {
    expect(stretchesOf([])).toEqual([[0, 0]]);
    expect(settle([], 70)).toEqual({ set: [], miss: -70 });
  });
});

describe('the finder’s units', () => {
  it('carry a tenth of a micrometre and compare in whole ones', () => {
    expect(toUnits(7.8633)).toBe(78_633);
    expect(toMm(78_633)).toBe(7.8633);
    expect([0, 4, 5, -14, 15, 26].map(wholeUm)).toEqual([0, 0, 1, 1, 2, 3]);
  });
});
