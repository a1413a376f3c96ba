import jstat from 'jstat';
import { describe, expect, it } from 'vitest';
import { Spread, chanceInWords, chanceWithinInWords, narrowings, normalCdf, type Doubt } from '../src/doubt/index.ts';
import { assess, checkTrain } from '../src/check/index.ts';
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

/**
 * Distribution function of Σ Uᵢ, Uᵢ even on ±aᵢ: Σ over all signs s of (Π −sᵢ) (x + Σ sᵢ aᵢ)₊ⁿ, over n! Π 2aᵢ, signs
 * counted so that it rises (Irwin–Hall of unequal widths: Bradley and Gupta 2002, from memory).
 */
function generalIrwinHall(widths: readonly number[], x: number): number {
  const n = widths.length;
  let sum = 0;
  for (let signs = 0; signs < 1 << n; signs++) {
    let [at, sign] = [x, 1];
    for (let part = 0; part < n; part++) {
      const plus = (signs >> part) & 1;
      at += plus ? widths[part]! : -widths[part]!;
      if (!plus) sign = -sign;
    }
    if (at > 0) sum += sign * at ** n;
  }
  return sum / widths.reduce((product, a, index) => product * 2 * a * (index + 1), 1);
}

describe('how a sum of errors spreads', () => {
  it('of two to six ordinary tolerances follows the generalised Irwin–Hall sum, 4 000 sets within 0.001', () => {
    const random = seeded(23);
    const ordinary = [0.01, 0.02, 0.03, 0.05, 0.07, 0.1, 0.15, 0.2, 0.25, 0.3];
    let worst = 0;
    for (let set = 0; set < 4000; set++) {
      const widths = Array.from({ length: 2 + (set % 5) }, () => ordinary[Math.floor(random() * ordinary.length)]!);
      const total = widths.reduce((sum, each) => sum + each, 0);
      const [offMm, within] = [(2 * random() - 1) * total, random() * total];
      const exact = generalIrwinHall(widths, offMm + within) - generalIrwinHall(widths, offMm - within);
      const told = new Spread(widths.map(rectangular)).between(offMm - within, offMm + within);
      worst = Math.max(worst, Math.abs(told - exact));
    }
    expect(worst).toBeLessThan(0.001);
  });

  it('the case that a staircase got wrong by 2.4 points: 24.4 % (a calculation)', () => {
    const spread = new Spread([0.1, 0.05, 0.1, 0.05, 0.15, 0.1].map(rectangular));
    expect(spread.between(-0.05 - 0.07, 0.05 - 0.07)).toBeCloseTo(
      generalIrwinHall([0.1, 0.05, 0.1, 0.05, 0.15, 0.1], -0.02) -
        generalIrwinHall([0.1, 0.05, 0.1, 0.05, 0.15, 0.1], -0.12),
      6
    );
    expect(spread.between(-0.12, -0.02)).toBeCloseTo(0.244, 3);
  });

  it('with a normal part however narrow it is the mean of normal curves over the rectangles, within 0.001', () => {
    const random = seeded(5);
    const cdf = jStat.normal.cdf;
    for (let set = 0; set < 60; set++) {
      const widths = Array.from({ length: 1 + (set % 4) }, () => 0.02 + 0.2 * random());
      const sd = 10 ** (-4 + 3 * random());
      const x = (2 * random() - 1) * 0.3;
      // Density of the rectangles by differences of the sum above, weighed with the normal curve.
      const total = widths.reduce((sum, each) => sum + each, 0);
      const CELLS = 4000;
      let exact = 0;
      for (let cell = 0; cell < CELLS; cell++) {
        const [low, high] = [cell, cell + 1].map((edge) => -total + (2 * total * edge) / CELLS) as [number, number];
        const share = generalIrwinHall(widths, high) - generalIrwinHall(widths, low);
        exact += share * cdf(x - (low + high) / 2, 0, sd);
      }
      const told = new Spread([...widths.map(rectangular), normal(sd)]).between(-10, x);
      expect(Math.abs(told - exact)).toBeLessThan(0.001);
    }
  });

  it('many parts, and parts of very different widths, follow sampling within 0.003', () => {
    const random = seeded(11);
    for (const widths of [
      [1, ...Array.from({ length: 30 }, () => 0.01)],
      Array.from({ length: 40 }, () => 0.1),
      [0.5, 0.4, 0.012, 0.011, 0.009]
    ]) {
      const total = widths.reduce((sum, each) => sum + each, 0);
      const SAMPLES = 400_000;
      const bound = 0.55 * total * (widths.length > 10 && widths[0] === 0.1 ? 0.2 : 0.8);
      let inside = 0;
      for (let sample = 0; sample < SAMPLES; sample++) {
        let sum = 0;
        for (const width of widths) sum += width * (2 * random() - 1);
        if (Math.abs(sum) <= bound) inside++;
      }
      const told = new Spread(widths.map(rectangular)).between(-bound, bound);
      expect(Math.abs(told - inside / SAMPLES)).toBeLessThan(0.003);
    }
  });

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

  it.each([
    [0, 'certainly not within tolerance'],
    [0.009, 'less than 1 % likely within tolerance'],
    [0.011, '1 % likely within tolerance'],
    [0.989, '99 % likely within tolerance'],
    [0.991, 'more than 99 % likely within tolerance'],
    [1, 'certainly within tolerance']
  ])('%s is %s', (chance, words) => {
    expect(chanceWithinInWords(chance)).toBe(words);
  });

  it.each([
    [true, false, 1, 'more than 99 % likely within the assumed tolerance'],
    [false, true, 1, 'more than 99 % likely within tolerance'],
    [true, true, 0, 'less than 1 % likely within the assumed tolerance'],
    [true, false, 0.5, '50 % likely within the assumed tolerance']
  ])('where tolerance (%s) or lengths (%s) are assumed nothing is certain: %s', (tolerance, lengths, chance, words) => {
    expect(chanceWithinInWords(chance, { tolerance, lengths })).toBe(words);
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
