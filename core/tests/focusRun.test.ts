import { describe, expect, it } from 'vitest';
import jStat from 'jstat';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { normalOf, uniformOf } from '../src/stats/random.ts';
import {
  fitCurve,
  measuredBacklash,
  readFocusRun,
  readFocusRunText,
  type Curve,
  type FocusPoint
} from '../src/focus/index.ts';

/** Standard normal numbers, seeded. */
function normals(seed: number): () => number {
  const random = xoroshiro128plus(seed);
  return () => normalOf(() => uniformOf(random));
}
const hfr = (x: number, x0 = 3000, a = 2.2, c = 0.012): number => Math.hypot(a, c * (x - x0));
const positions = (from: number, to: number, count: number): number[] =>
  Array.from({ length: count }, (_, at) => from + ((to - from) * at) / (count - 1));
/** A run whose points are known unequally well. */
const uneven = (seed: number): FocusPoint[] => {
  const noise = normals(seed);
  return positions(2650, 3350, 15).map((position, at) => {
    const standardPx = 0.06 + 0.05 * (at % 4);
    return { position, hfrPx: Math.max(0.2, hfr(position) + standardPx * noise()), standardPx };
  });
};
/** A run outward with noise of so many pixels. */
const run = (x: readonly number[], sigma: number, seed: number, x0 = 3000, stated = true): FocusPoint[] => {
  const noise = normals(seed);
  return x.map((position) => ({
    position,
    hfrPx: Math.max(0.2, hfr(position, x0) + sigma * noise()),
    ...(stated ? { standardPx: sigma } : {})
  }));
};

/** What SciPy 1.17 makes of the runs of these seeds. */
const SCIPY = [
  { seed: 1, x0: 2997.21019, standard: 3.035107 },
  { seed: 2, x0: 2999.629482, standard: 3.022515 },
  { seed: 3, x0: 2997.800038, standard: 3.01128 },
  { seed: 4, x0: 3001.904899, standard: 2.890961 },
  { seed: 5, x0: 3000.359405, standard: 3.165732 },
  { seed: 6, x0: 3007.882567, standard: 3.188217 },
  { seed: 7, x0: 2999.677492, standard: 2.996637 },
  { seed: 8, x0: 3003.284461, standard: 3.076164 },
  { seed: 9, x0: 3000.688954, standard: 3.14149 },
  { seed: 10, x0: 2999.70206, standard: 3.054727 },
  { seed: 11, x0: 3002.517723, standard: 3.119941 },
  { seed: 12, x0: 2999.76359, standard: 3.07681 }
];

describe('the solver, against certified values of NIST StRD (nonlinear regression; from memory, to the digits given)', () => {
  const exponential: Curve = {
    at: ([b1, b2], x) => b1! * (1 - Math.exp(-b2! * x)),
    slopes: ([b1, b2], x) => [1 - Math.exp(-b2! * x), b1! * x * Math.exp(-b2! * x)]
  };

  // Misra1a (Misra 1978, dental research): both published starting points, certified parameters, deviations and residuals.
  it.each([
    ['start 1', [500, 0.0001]],
    ['start 2', [250, 0.0005]]
  ])('Misra1a from its %s', (_, start) => {
    const x = [77.6, 114.9, 141.1, 190.8, 239.9, 289, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760];
    const y = [10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.4, 75.47, 81.78];
    const { parameters, chiSquare, covariance, degreesOfFreedom } = fitCurve({ x, y }, exponential, start);
    expect(parameters[0]! / 2.3894212918e2 - 1).toBeCloseTo(0, 9);
    expect(parameters[1]! / 5.5015643181e-4 - 1).toBeCloseTo(0, 9);
    expect(chiSquare / 1.2455138894e-1 - 1).toBeCloseTo(0, 9);
    const scale = chiSquare / degreesOfFreedom;
    expect(Math.sqrt(covariance![0]![0]! * scale) / 2.7070075241 - 1).toBeCloseTo(0, 8);
    expect(Math.sqrt(covariance![1]![1]! * scale) / 7.2668688436e-6 - 1).toBeCloseTo(0, 8);
  });
});

describe('a focus run', () => {
  it('without noise is the hyperbola it was made of (handbook §10)', () => {
    const answer = readFocusRun(run(positions(2600, 3400, 9), 0, 1, 3012, false));
    expect(answer.bestPosition).toBeCloseTo(3012, 6);
    expect(answer.minHfrPx).toBeCloseTo(2.2, 6);
    expect(answer.curve!.perStepPx).toBeCloseTo(0.012, 9);
  });

  it('covers the truth as often as it says: ±2 u in 95.45 % of 1000 seeded runs, within 3 %', () => {
    let within = 0;
    for (let seed = 1; seed <= 1000; seed++) {
      const { bestPosition, standard } = readFocusRun(run(positions(2650, 3350, 15), 0.15, seed));
      if (Math.abs(bestPosition! - 3000) <= 2 * standard!) within++;
    }
    expect(Math.abs(within / 1000 - 0.9545)).toBeLessThan(0.03);
  });

  it('leaves another star out: of two stars the one with more points counts (handbook §10)', () => {
    const own = run(positions(2700, 3300, 7), 0, 1, 3000, false).map((point) => ({ ...point, star: 'A' }));
    const other = run([2900, 3100], 0, 2, 3500, false).map((point) => ({ ...point, star: 'B' }));
    const answer = readFocusRun(
      [...own.slice(0, 3), other[0]!, ...own.slice(3), other[1]!].map((point) => ({
        ...point,
        direction: 'out' as const
      }))
    );
    expect(answer.left.map(({ index }) => index)).toEqual([3, 8]);
    expect(answer.bestPosition).toBeCloseTo(3000, 3);
  });

  it('never mixes the two ways, and leaves what lies within the backlash after a reversal', () => {
    const out = run(positions(2700, 3300, 7), 0, 1, 3000, false);
    // On the way back the counter stands 150 steps ahead of the tube (measured on one belt drive, handbook §10).
    const back = positions(3200, 2900, 4).map((position) => ({ position, hfrPx: hfr(position, 2850) }));
    const answer = readFocusRun([...out, ...back], 150);
    expect(answer.direction).toBe('out');
    expect(answer.bestPosition).toBeCloseTo(3000, 6);
    expect(answer.left.map(({ index }) => index)).toEqual([7, 8, 9, 10]);
    expect(answer.left[0]!.why).toContain('backlash');
    expect(answer.left[3]!.why).toContain('other side');
  });

  it('measures the backlash from an out-and-in pair', () => {
    const pair = [
      ...run(positions(2700, 3300, 9), 0, 1, 3000, false),
      ...positions(3250, 2600, 9).map((position) => ({ position, hfrPx: hfr(position, 2850) }))
    ];
    expect(measuredBacklash(pair)!.steps).toBeCloseTo(150, 6);
    expect(measuredBacklash(run(positions(2700, 3300, 9), 0, 1, 3000, false))).toBeUndefined();
  });

  it('leaves a saturated or blended star out, and says so', () => {
    const points = run(positions(2700, 3300, 11), 0.05, 4);
    points[6] = { ...points[6]!, hfrPx: 7.5 };
    const answer = readFocusRun(points);
    expect(answer.left).toMatchObject([{ index: 6, why: expect.stringContaining('outlier') }]);
    expect(Math.abs(answer.bestPosition! - 3000)).toBeLessThan(4 * answer.standard!);
  });

  it.each([
    ['nothing', [], /no points/],
    ['one point', [{ position: 1, hfrPx: 3 }], /one position/],
    ['two points', run([2900, 3100], 0, 1, 3000, false), /too few/],
    [
      'one position many times',
      Array.from({ length: 9 }, (_, at) => ({ position: 5, hfrPx: 3 + at / 10 })),
      /one position/
    ],
    ['no minimum in it', run(positions(2000, 2400, 9), 0, 1, 3000, false), /outside|one direction/]
  ])('with %s says what is missing, and where to go', (_, points, why) => {
    const answer = readFocusRun(points as FocusPoint[]);
    expect(answer.bestPosition).toBeNull();
    expect(answer.enough).toBe(false);
    expect(answer.why).toMatch(why);
  });

  it('goes on downhill while there is no minimum, about half of the way that is left, and past noise', () => {
    const on = (x: readonly number[]) => readFocusRun(run(x, 0, 1, 3000, false)).nextPosition!;
    expect(on([2000, 2100, 2200])).toBeGreaterThan(2400);
    expect(on([2000, 2100, 2200])).toBeLessThan(3000);
    expect(on([4000, 3900, 3800])).toBeLessThan(3600);
    expect(on([4000, 3900, 3800])).toBeGreaterThan(3000);
    // It grew at once: the other way.
    expect(on([3500, 3600])).toBeLessThan(3500);
    // Alike within noise: on, twice as far.
    expect(readFocusRun([0, 100].map((position) => ({ position, hfrPx: 40 + position / 1000 }))).nextPosition).toBe(
      300
    );
  });

  it('sees two minima, and decides nothing', () => {
    const x = positions(2000, 4000, 21);
    const answer = readFocusRun(
      x.map((position) => ({ position, hfrPx: Math.min(hfr(position, 2500), hfr(position, 3500)) }))
    );
    expect(answer.bestPosition).toBeNull();
    expect(answer.why).toContain('two positions');
  });

  it('says enough when another frame cannot help, and before that where one helps most', () => {
    const rough = readFocusRun(run(positions(2800, 3200, 5), 0.5, 3));
    expect(rough.enough).toBe(false);
    expect(rough.nextPosition).not.toBeNull();
    const fine = readFocusRun(run(positions(2650, 3350, 15), 0.05, 3));
    expect(fine.enough).toBe(true);
    expect(fine.nextPosition).toBe(Math.round(fine.bestPosition!));
    // A simulated owner who always goes where it says is there within a dozen frames.
    const noise = normals(9);
    const points: FocusPoint[] = run([2600, 2700, 2800], 0.08, 5);
    let answer = readFocusRun(points);
    while (!answer.enough && points.length < 14) {
      const position = answer.nextPosition!;
      points.push({ position, hfrPx: hfr(position) + 0.08 * noise(), standardPx: 0.08, direction: 'out' });
      answer = readFocusRun(points.map((point) => ({ ...point, direction: 'out' as const })));
    }
    expect(answer.enough).toBe(true);
    expect(Math.abs(answer.bestPosition! - 3000)).toBeLessThan(30);
  });

  it('is the same however the focuser counts: shifted, stretched, turned round', () => {
    const points = run(positions(2700, 3300, 11), 0.1, 8);
    const plain = readFocusRun(points);
    const turned = readFocusRun(points.map((point) => ({ ...point, position: -10 * point.position - 7 })));
    expect(turned.bestPosition).toBeCloseTo(-10 * plain.bestPosition! - 7, 4);
    expect(turned.standard).toBeCloseTo(10 * plain.standard!, 4);
  });

  // SciPy 1.17, scipy.optimize.curve_fit (method lm, absolute_sigma), run once on these very points; its figures beside it.
  it('agrees with SciPy to a thousandth of a step', () => {
    for (const { seed, x0, standard } of SCIPY) {
      const answer = readFocusRun(uneven(seed));
      expect(answer.left).toEqual([]);
      expect(Math.abs(answer.bestPosition! - x0)).toBeLessThan(1e-3);
      // SciPy's is what the stated deviations make of it; ours is what the points tell of them, for ±2 u of 95 in 100.
      const { x0: at, aPx, perStepPx } = answer.curve!;
      const points = uneven(seed);
      const chiSquare = points.reduce(
        (sum, { position, hfrPx, standardPx }) =>
          sum + ((hfrPx! - Math.hypot(aPx, perStepPx * (position - at))) / standardPx!) ** 2,
        0
      );
      const t = jStat.studentt.inv(0.975, points.length - 3);
      expect(answer.standard! / standard / ((t / 2) * Math.sqrt(chiSquare / (points.length - 3)))).toBeCloseTo(1, 3);
    }
  });

  const at = (points: readonly (readonly [number, number])[]): FocusPoint[] =>
    points.map(([position, hfrPx]) => ({ position, hfrPx }));

  it('between stars that are larger on either side goes between: 10.05, 7.81, 8.5 (handbook §10)', () => {
    // The vertex of their squares.
    expect(
      readFocusRun(
        at([
          [2400, 10.05],
          [2600, 7.81],
          [3000, 8.5]
        ])
      ).nextPosition
    ).toBe(2763);
  });

  it('says no best position on a slope that scatters, and nothing is enough on four points', () => {
    const slope = readFocusRun(
      at([
        [2000, 12.2],
        [2200, 9.6],
        [2400, 7.5],
        [2500, 7.3],
        [2600, 7.4]
      ])
    );
    expect(slope).toMatchObject({ bestPosition: null, enough: false });
    const four = readFocusRun(run([2700, 2900, 3100, 3300], 0.01, 1));
    expect(four.enough).toBe(false);
    expect(four.bestPosition).toBeCloseTo(3000, -1);
  });

  it('a value at the ceiling is a bound, told or seen by its standing still', () => {
    const told: FocusPoint[] = [
      { position: 0, hfrPx: 900, ceiling: true },
      { position: 2000, hfrPx: 900, ceiling: true },
      { position: 4500, hfrPx: 210 },
      { position: 5000, hfrPx: 95 },
      { position: 5800, hfrPx: 92 },
      { position: 6500, hfrPx: 255 },
      { position: 9000, hfrPx: 900, ceiling: true }
    ];
    const answer = readFocusRun(told);
    expect(answer.left.map(({ index }) => index)).toEqual([0, 1, 6]);
    expect(answer.left[0]!.why).toContain('larger than can be measured');
    // Alike, where nobody said that it is a ceiling.
    const untold = readFocusRun(told.map(({ ceiling: _ceiling, ...point }) => point));
    expect(untold.left.map(({ index }) => index)).toEqual([0, 1, 6]);
    expect(untold.nextPosition).toEqual(answer.nextPosition);
    // Two ceilings only: on, and nothing is told of a best.
    const only = readFocusRun(told.slice(0, 2), 0, 12_000);
    expect(only).toMatchObject({ bestPosition: null, enough: false });
    expect(only.nextPosition).toBeGreaterThan(2000);
    expect(only.nextPosition).toBeLessThanOrEqual(12_000);
  });

  it('larger, smaller, the same and not seen show the way', () => {
    const smaller = readFocusRun([
      { position: 0, seen: 'nothing' },
      { position: 1000, hfrPx: 300 },
      { position: 2000, seen: 'smaller' }
    ]);
    expect(smaller.nextPosition).toBeGreaterThan(2000);
    const past = readFocusRun([
      { position: 1000, hfrPx: 300 },
      { position: 2000, seen: 'smaller' },
      { position: 3000, seen: 'larger' }
    ]);
    expect(past.nextPosition).toBeGreaterThan(1500);
    expect(past.nextPosition).toBeLessThan(2500);
    expect(past.left.map(({ why }) => why)).toEqual([
      expect.stringContaining('seen by eye'),
      expect.stringContaining('seen by eye')
    ]);
  });

  it('never asks for a position beyond an end stop, and says when the travel is used up', () => {
    const out = (points: FocusPoint[], last: number) => readFocusRun(points, 0, last);
    expect(
      out(
        at([
          [0, 300],
          [4000, 200]
        ]),
        6000
      ).nextPosition
    ).toBe(6000);
    const spent = out(
      at([
        [0, 300],
        [4000, 200],
        [5900, 152.5],
        [6000, 150]
      ]),
      6000
    );
    expect(spent).toMatchObject({
      bestPosition: null,
      nextPosition: null,
      why: expect.stringContaining('extension tube')
    });
    const grows = out(
      at([
        [0, 100],
        [30, 101.2],
        [60, 104],
        [120, 112],
        [1000, 300]
      ]),
      6000
    );
    expect(grows).toMatchObject({ bestPosition: null, nextPosition: null, why: expect.stringContaining('fully in') });
    // What stands beyond the stop was not taken there.
    expect(
      out(
        at([
          [-50, 3],
          [0, 4],
          [100, 5]
        ]),
        6000
      ).left
    ).toMatchObject([{ index: 0, why: expect.stringContaining('end stop') }]);
  });

  it('gives up after two dozen frames that tell nothing, with what to check', () => {
    const noise = normals(3);
    const points = Array.from({ length: 24 }, (_, index): FocusPoint => ({
      position: 1000 + 10 * index,
      hfrPx: 8 + 0.5 * noise()
    }));
    expect(readFocusRun(points)).toMatchObject({
      enough: false,
      nextPosition: null,
      why: expect.stringContaining('dew')
    });
  });

  it('of a file is read with the place of what is wrong', () => {
    expect(readFocusRunText('{"lodestone":"focus-run/1","points":[{"position":1,"hfrPx":2}]}').ok).toBe(true);
    const bad = readFocusRunText('{"lodestone":"focus-run/1",\n"points":[{"position":1,"hfrPx":-2}]}');
    expect(bad.ok || bad.complaints[0]).toMatchObject({ line: 2, pointer: '/points/0/hfrPx' });
    const silent = readFocusRunText('{"lodestone":"focus-run/1",\n"points":[{"position":1}]}');
    expect(silent.ok || silent.complaints[0]).toMatchObject({ pointer: '/points/0' });
    for (const text of [
      '',
      '[]',
      '{"lodestone":"focus-run/1","points":[]}',
      '{"lodestone":"focus-run/2","points":[1]}'
    ]) {
      expect(readFocusRunText(text).ok).toBe(false);
    }
  });
});
