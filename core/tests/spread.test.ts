import jstat from 'jstat';
import { describe, expect, it } from 'vitest';
import { Spread, assess, chanceInWords, checkTrain, narrowings, normalCdf, type Doubt } from '../src/index.ts';
import { coverageFactor } from '../src/drawer/index.ts';
import { seeded } from '../bench/drawers.ts';
import { camera, corrector, part, train } from './trains.ts';

const { jStat } = jstat as { jStat: { normal: { cdf: Cdf }; studentt: { inv: (p: number, dof: number) => number } } };
type Cdf = (x: number, mean: number, sd: number) => number;

const rectangular = (halfWidthMm: number): Doubt => ({
  id: 'x',
  of: 'length',
  halfWidthMm,
  standardMm: halfWidthMm / Math.sqrt(3),
  kind: 'stated',
  shape: 'rectangular',
  shared: undefined
});
const normal = (standardMm: number): Doubt => ({
  ...rectangular(0),
  halfWidthMm: 2 * standardMm,
  standardMm,
  kind: 'measured',
  shape: 'normal'
});

/** Distribution function of the sum of n uniform numbers from 0 to 1 (Irwin 1927, Hall 1927; from memory). */
function irwinHall(n: number, x: number): number {
  let sum = 0;
  let binomial = 1;
  for (let k = 0; k <= Math.floor(Math.min(x, n)); k++) {
    sum += (k % 2 === 0 ? 1 : -1) * binomial * (x - k) ** n;
    binomial = (binomial * (n - k)) / (k + 1);
  }
  let factorial = 1;
  for (let each = 2; each <= n; each++) factorial *= each;
  return sum / factorial;
}

describe('how a sum of errors spreads', () => {
  it('of up to ten equal rectangular parts follows Irwin–Hall within 0.01', () => {
    for (let n = 1; n <= 10; n++) {
      const spread = new Spread(Array.from({ length: n }, () => rectangular(0.1)));
      for (let within = 0.02; within < 0.1 * n; within += 0.02) {
        const exact = irwinHall(n, n / 2 + within / 0.2) - irwinHall(n, n / 2 - within / 0.2);
        expect(Math.abs(spread.between(-within, within) - exact)).toBeLessThan(0.01);
      }
    }
  });

  it('one part ±0.10: half within ±0.05, all within ±0.10 (a calculation)', () => {
    const at = (toleranceMm: number) =>
      checkTrain(train([corrector({ backFocusMm: 55, toleranceMm }), camera(55, { toleranceMm: 0.1 })])).uncertainty;
    expect(at(0.05).probabilityInTolerance).toBeCloseTo(0.5, 9);
    expect(at(0.1).probabilityInTolerance).toBe(1);
  });

  it('of rectangular and normal parts follows sampling within 0.01', () => {
    const random = seeded(7);
    const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    for (const [widths, sd, offMm, within] of [
      [[0.1, 0.05, 0.02, 0.3], 0, 0.05, 0.2],
      [[0.1, 0.1, 0.05], 0.03, 0.02, 0.15],
      [[0.02], 0.1, 0.04, 0.1],
      [Array.from({ length: 15 }, () => 0.1), 0.05, 0.1, 0.3]
    ] as const) {
      const spread = new Spread([...widths.map(rectangular), ...(sd > 0 ? [normal(sd)] : [])]);
      const SAMPLES = 200_000;
      let inside = 0;
      for (let sample = 0; sample < SAMPLES; sample++) {
        let sum: number = offMm;
        for (const width of widths) sum += width * (2 * random() - 1);
        if (sd > 0) sum += sd * gauss();
        if (Math.abs(sum) <= within) inside++;
      }
      expect(Math.abs(spread.between(-within - offMm, within - offMm) - inside / SAMPLES)).toBeLessThan(0.01);
    }
  });

  it('95 % never lie wider than the worst case', () => {
    for (const widths of [[0.1], [0.1, 0.1], [0.3, 0.02, 0.02]]) {
      const spread = new Spread(widths.map(rectangular));
      expect(spread.halfWidth95Mm).toBeLessThanOrEqual(spread.worstCaseMm);
      expect(spread.between(-spread.halfWidth95Mm, spread.halfWidth95Mm)).toBeCloseTo(0.95, 3);
    }
    expect(new Spread([rectangular(0.1)]).halfWidth95Mm).toBeCloseTo(0.095, 5);
  });

  it('says more than 99 % of what is nearly certain, and certainly only of what is', () => {
    expect(chanceInWords(0.9995)).toBe('more than 99 % likely');
    expect(chanceInWords(1)).toBe('certainly');
    expect(chanceInWords(0.976)).toBe('98 % likely');
  });
});

describe('what readings of one instrument share', () => {
  const measured = (id: string, instrument: string | undefined) =>
    part(id, 8, {
      measured: {
        lengthMm: 8,
        uncertaintyMm: (2 * 0.02) / Math.sqrt(3),
        ...(instrument === undefined ? {} : { instrument, instrumentErrorMm: 0.02 })
      }
    });
  const standard = (instruments: (string | undefined)[]) =>
    checkTrain(
      train([
        corrector({ backFocusMm: 55 }),
        ...instruments.map((instrument, index) => measured(`ring ${index}`, instrument)),
        camera(7, { toleranceMm: 0 })
      ])
    ).uncertainty.standardMm;

  it('adds up: six readings at ±0.02 from one caliper are u = 0.07, not 0.03 (handbook §8)', () => {
    expect(standard(Array.from({ length: 6 }, () => 'caliper'))).toBeCloseTo((6 * 0.02) / Math.sqrt(3), 9);
    expect(standard(Array.from({ length: 6 }, () => undefined))).toBeCloseTo((Math.sqrt(6) * 0.02) / Math.sqrt(3), 9);
    // Three from each of two: each three together, the two independent.
    const three = (3 * 0.02) / Math.sqrt(3);
    expect(standard(['a', 'a', 'a', 'b', 'b', 'b'])).toBeCloseTo(Math.SQRT2 * three, 9);
  });

  it('is counted once: U contains it', () => {
    expect(standard(['caliper'])).toBeCloseTo(0.02 / Math.sqrt(3), 9);
  });
});

describe('what is asked for is not known exactly either', () => {
  it('the back focus with its own uncertainty, which a tuned value does not have', () => {
    const at = (more: object) =>
      checkTrain(train([corrector({ backFocusMm: 55, uncertaintyMm: 0.3, ...more }), camera(55, { toleranceMm: 0 })]))
        .uncertainty.worstCaseMm;
    expect(at({})).toBeCloseTo(0.3, 12);
    expect(at({ tunedMm: 55 })).toBe(0);
  });

  it('glass with what its thickness makes of the shift, t (1 − 1/n) (handbook §2)', () => {
    const filter = part('f', 10, { toleranceMm: 0, glass: [{ thicknessMm: 3, toleranceMm: 0.1, index: 1.5 }] });
    const made = train([corrector({ backFocusMm: 55 }), filter, camera(46, { toleranceMm: 0 })]);
    expect(checkTrain(made).uncertainty.worstCaseMm).toBeCloseTo(0.1 / 3, 12);
  });

  it('loose shims count as shims do', () => {
    const made = train([
      corrector({ backFocusMm: 55 }),
      part('ring', 10, { toleranceMm: 0, seat: { shimsMm: [0.2, 0.1] } }),
      { id: 's', kind: 'shim', name: 's', lengthMm: 0.5 },
      camera(44, { toleranceMm: 0 })
    ]);
    expect(assess(made).facts.doubts.map(({ halfWidthMm }) => halfWidthMm)).toEqual([0.02, 0.02, 0, 0.02, 0]);
  });
});

describe('functions that are also in a library (jStat)', () => {
  it('the normal distribution', () => {
    for (let z = -4; z <= 4; z += 0.25) expect(normalCdf(z)).toBeCloseTo(jStat.normal.cdf(z, 0, 1), 6);
  });

  it('Student’s t for 95.45 %, as the Guide tabulates it, to its second decimal', () => {
    for (const dof of [1, 2, 3, 5, 10, 20, 50]) {
      expect(Math.abs(coverageFactor(dof) - jStat.studentt.inv(0.5 + 0.9545 / 2, dof))).toBeLessThan(0.006);
    }
  });
});

describe('which reading narrows most', () => {
  const of = (id: string, halfWidthMm: number): Doubt => ({ ...rectangular(halfWidthMm), id });

  it('is the least well known part, by its share of the variance (JCGM 100:2008 §4.3.7, §5.1.2)', () => {
    // ±0.2 and ±0.1, both rectangular: variances 0.04/3 and 0.01/3; a caliper reading leaves (0.03/2)² of one of them.
    const doubts = [of('wheel', 0.2), of('guider', 0.1)];
    const [first, second] = narrowings(doubts);
    expect([first!.id, second!.id]).toEqual(['wheel', 'guider']);
    const total = 0.04 / 3 + 0.01 / 3;
    expect(first!.share).toBeCloseTo((0.04 / 3 - 0.015 ** 2) / total, 12);
    expect(second!.share).toBeCloseTo((0.01 / 3 - 0.015 ** 2) / total, 12);
    expect(first!.halfWidth95Mm).toBeLessThan(new Spread(doubts).halfWidth95Mm);
  });

  it('offers nothing that is measured as well as that already', () => {
    expect(narrowings([{ ...normal(0.01), id: 'ring' }])).toEqual([]);
    expect(narrowings([])).toEqual([]);
  });
});
