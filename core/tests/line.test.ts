import { describe, expect, it } from 'vitest';
import { fitLine, fitParabola, zeroCrossing, type LinePoint } from '../src/experiment/line.ts';
import { t95 } from '../src/stats/scatter.ts';
import { dice } from './dice.ts';

/** Digits that agree with a certified value. */
const digits = (value: number, certified: number): number =>
  -Math.log10(Math.abs(value - certified) / Math.abs(certified));

describe('straight lines', () => {
  it('NIST StRD “Norris”: the certified intercept and slope, with their standard deviations', () => {
    // Statistical Reference Datasets, linear regression, lower difficulty; data and certified values from memory.
    const x = [
      0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777, 558.2, 0.4, 0.6, 775.5, 666.9, 338, 447.5, 11.6,
      556, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999, 779, 11.1, 118.3, 229.2, 669.1, 448.9, 0.5
    ];
    const y = [
      0.1, 338.8, 118.1, 888, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3, 448.9, 10.8,
      557.7, 228.3, 998, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888, 998.5, 778.9, 10.2, 117.6, 228.9, 668.4, 449.2, 0.2
    ];
    const line = fitLine(x.map((each, at) => ({ x: each, y: y[at]!, sigmaX: 0, sigmaY: 1 })))!;
    expect(digits(line.intercept, -0.262323073774029)).toBeGreaterThan(10);
    expect(digits(line.slope, 1.00211681802045)).toBeGreaterThan(12);
    const residual = Math.sqrt(line.chiSquare / line.degreesOfFreedom);
    expect(digits(residual, 0.884796396144373)).toBeGreaterThan(10);
    expect(digits(line.interceptStandard * residual, 0.232818234301152)).toBeGreaterThan(9);
    expect(digits(line.slopeStandard * residual, 0.429796848199937e-3)).toBeGreaterThan(9);
  });

  it('Pearson’s data with York’s weights: errors in both coordinates', () => {
    // York (1966), and York et al. (2004), table II; from memory.
    const x = [0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4];
    const y = [5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5];
    const weightX = [1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1];
    const weightY = [1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500];
    const line = fitLine(
      x.map((each, at) => ({
        x: each,
        y: y[at]!,
        sigmaX: 1 / Math.sqrt(weightX[at]!),
        sigmaY: 1 / Math.sqrt(weightY[at]!)
      }))
    )!;
    expect(line.intercept).toBeCloseTo(5.47991022, 7);
    expect(line.slope).toBeCloseTo(-0.480533407, 8);
    expect(line.interceptStandard).toBeCloseTo(0.2919, 2);
    expect(line.slopeStandard).toBeCloseTo(0.0576, 2);
    expect(line.chiSquare / line.degreesOfFreedom).toBeCloseTo(1.4833, 3);
  });

  it('NIST StRD “Pontius”: the certified parabola', () => {
    // Statistical Reference Datasets, linear regression, lower difficulty; data and certified values from memory.
    const first = [
      0.11019, 0.21956, 0.32949, 0.43899, 0.54803, 0.65694, 0.76562, 0.87487, 0.98292, 1.09146, 1.20001, 1.30822,
      1.41599, 1.52399, 1.63194, 1.73947, 1.84646, 1.95392, 2.06128, 2.16844
    ];
    const second = [
      0.11052, 0.22018, 0.32939, 0.43886, 0.54798, 0.65739, 0.76596, 0.87474, 0.983, 1.0915, 1.20004, 1.30818, 1.41613,
      1.52408, 1.63159, 1.73965, 1.84696, 1.95445, 2.06177, 2.16829
    ];
    const points = [first, second].flatMap((deflections) =>
      deflections.map((y, at) => ({ x: 150_000 * (at + 1), y, sigmaX: 0, sigmaY: 1 }))
    );
    const { middle, a, b, c, chiSquare } = fitParabola(points)!;
    expect(digits(c, -0.316081871345029e-14)).toBeGreaterThan(9);
    expect(digits(b - 2 * c * middle, 0.732059160401003e-6)).toBeGreaterThan(9);
    expect(digits(a - b * middle + c * middle ** 2, 0.673565789473684e-3)).toBeGreaterThan(8);
    expect(digits(Math.sqrt(chiSquare / 37), 0.205177424076185e-3)).toBeGreaterThan(8);
  });

  it('points above one another determine none', () => {
    expect(fitLine([1, 2, 3].map((y) => ({ x: 5, y, sigmaX: 0.1, sigmaY: 1 })))).toBeUndefined();
    expect(fitLine([{ x: 1, y: 1, sigmaX: 0, sigmaY: 1 }])).toBeUndefined();
  });
});

describe('the zero crossing', () => {
  it('holds the truth in 95 of 100 series, whatever the slope', () => {
    const { normal } = dice(5);
    const SERIES = 1000;
    for (const slope of [0.1, 0.04, -0.07]) {
      let held = 0;
      for (let series = 0; series < SERIES; series++) {
        const points: LinePoint[] = [54, 55, 55.5, 56.5, 57.5, 58].map((x) => ({
          x: x + 0.05 * normal(),
          y: slope * (x - 56) + 0.02 * normal(),
          sigmaX: 0.05,
          sigmaY: 0.02
        }));
        const crossing = zeroCrossing(fitLine(points)!, 1.96)!;
        if (crossing.from <= 56 && 56 <= crossing.to) held++;
      }
      expect(Math.abs(held / SERIES - 0.95)).toBeLessThan(0.02);
    }
  });

  it('is anywhere where the slope may be none', () => {
    const flat = fitLine([54, 55, 56].map((x, at) => ({ x, y: [0.1, 0.11, 0.101][at]!, sigmaX: 0, sigmaY: 0.02 })))!;
    const crossing = zeroCrossing(flat, t95(1))!;
    expect([crossing.from, crossing.to]).toEqual([-Infinity, Infinity]);
  });
});
