import { describe, expect, it } from 'vitest';
import {
  combineMeasurements,
  coverageFactor,
  disagreement,
  isWild,
  measuredOf,
  readCaliperLine
} from '../src/drawer/index.ts';
import { drawer } from './drawer.ts';

const readings = (instrument: string, maxErrorMm: number, ...lengths: number[]) =>
  lengths.map((lengthMm) => ({ lengthMm, instrument, maxErrorMm }));

describe('what a part’s reading keeps of its instrument', () => {
  const made = (...instruments: (string | undefined)[]) =>
    measuredOf({
      partId: 'R',
      element: { id: 'R', kind: 'spacer', name: 'R', lengthMm: 5 },
      quantity: 1,
      owned: true,
      location: '',
      state: 'spare',
      measurements: instruments.map((instrument, at) => ({
        lengthMm: 5 + at / 100,
        maxErrorMm: 0.02,
        ...(instrument === undefined ? {} : { instrument })
      }))
    });

  it('is its name and the limit all its readings share, where there is one instrument with a name', () => {
    expect(made('caliper', 'caliper')).toMatchObject({ instrument: 'caliper', instrumentErrorMm: 0.02 });
    expect(made('caliper', 'micrometer')).not.toHaveProperty('instrument');
    expect(made(undefined)).not.toHaveProperty('instrument');
  });
});

describe('a series of readings (JCGM 100:2008, from memory)', () => {
  it('one reading is as good as its instrument: u = a/√3 (§4.3.7)', () => {
    const one = combineMeasurements(readings('caliper', 0.03, 17.2))!;
    expect(one.standardMm).toBeCloseTo(0.03 / Math.sqrt(3), 9);
    expect(one.expandedMm).toBeCloseTo((2 * 0.03) / Math.sqrt(3), 4);
    expect(one.degreesOfFreedom).toBe(Infinity);
  });

  it('repeats reduce their own scatter, never the instrument’s error (§4.2.3, §5.1.2)', () => {
    // s = 0.01 of three: s²/n = 3.3333e-5; a²/3 = 1.3333e-4; u² = 1.6667e-4 (a calculation)
    const three = combineMeasurements(readings('caliper', 0.02, 17.2, 17.22, 17.21))!;
    expect(three.lengthMm).toBeCloseTo(17.21, 9);
    expect(three.standardMm).toBeCloseTo(Math.sqrt(1e-4 / 3 + 4e-4 / 3), 9);
    // Welch–Satterthwaite (§G.4.1): (1.6667e-4)² / ((3.3333e-5)² / 2) = 50
    expect(three.degreesOfFreedom).toBeCloseTo(50, 6);
    expect(three.expandedMm).toBeCloseTo(2.05 * three.standardMm, 4);
  });

  it('two instruments weigh by 1/u² (common practice: weighted mean)', () => {
    const both = combineMeasurements([...readings('caliper', 0.03, 10.03), ...readings('micrometer', 0.01, 10)])!;
    // Weights 1 : 9.
    expect(both.lengthMm).toBeCloseTo(10.003, 9);
    expect(both.standardMm).toBeCloseTo(1 / Math.sqrt(3 / 0.03 ** 2 + 3 / 0.01 ** 2), 9);
  });

  it.each([
    [1, 13.97],
    [2, 4.53],
    [10, 2.28],
    [22.9, 2.13],
    [1000, 2.025],
    [Infinity, 2]
  ])('covers 95.45 %% at ν = %f with %f (Table G.2)', (nu, factor) => {
    expect(coverageFactor(nu)).toBe(factor);
  });

  it('an instrument without error, or none at all, divides by nothing', () => {
    expect(combineMeasurements(readings('gauge', 0, 5, 5))).toMatchObject({ lengthMm: 5, standardMm: 0 });
    expect(combineMeasurements([])).toBeUndefined();
  });
});

describe('published against measured', () => {
  const measured = (lengthMm: number) =>
    drawer({ partId: 'R-1', lengthMm: 10, measurements: readings('caliper', 0.03, lengthMm) })[0]!;

  it('is flagged beyond 2U, and not before', () => {
    // U = 0.0346
    expect(disagreement(measured(10.06))).toBeUndefined();
    expect(disagreement(measured(10.08))).toBeCloseTo(0.08, 9);
    expect(disagreement(measured(9.9))).toBeCloseTo(-0.1, 9);
  });

  it('the series wins over a figure entered as a whole', () => {
    const [part] = drawer({
      partId: 'R-1',
      measured: { lengthMm: 9, uncertaintyMm: 0.5 },
      measurements: readings('caliper', 0.03, 10.1)
    });
    expect(measuredOf(part!)?.lengthMm).toBe(10.1);
  });
});

describe('readings that do not agree', () => {
  it('instruments that contradict each other widen the uncertainty (Birge ratio, from memory)', () => {
    const series = [
      { lengthMm: 2.5, instrument: 'one', maxErrorMm: 0.03 },
      { lengthMm: 2.51, instrument: 'one', maxErrorMm: 0.03 },
      { lengthMm: 3.5, instrument: 'two', maxErrorMm: 0.03 }
    ];
    const apart = combineMeasurements(series)!;
    expect(apart.contradicts).toBe(true);
    // Both lie inside what is then said.
    expect(apart.lengthMm - apart.expandedMm).toBeLessThan(2.5);
    expect(apart.lengthMm + apart.expandedMm).toBeGreaterThan(3.4);
    const agree = combineMeasurements(series.map((each) => ({ ...each, lengthMm: 2.5 })))!;
    expect(agree.contradicts).toBe(false);
    expect(agree.expandedMm).toBeLessThan(0.04);
  });

  it.each([
    [172, 17.2, 0.1, true],
    [100, 4, 0.1, true],
    [0, 4.49, 0.02, true],
    [17.28, 17.2, 0.03, false],
    [7.9, 7.5, 0.1, false],
    [0.9, 0.5, 0.02, true],
    [0.21, 0.2, 0.02, false]
  ])('%d for a part of %d ±%d: asked about %s', (read, known, expanded, wild) => {
    expect(isWild(read, known, expanded)).toBe(wild);
  });
});

describe('a line from a caliper (common practice, no source)', () => {
  it.each([
    ['12.34', 12.34],
    ['01A+00012.34', 12.34],
    ['+0012,34 mm', 12.34],
    ['0.5 in', 12.7],
    ['-0.02', -0.02],
    ['READY', undefined],
    ['', undefined],
    ['1234567890.5', undefined]
  ])('%s', (line, mm) => {
    expect(readCaliperLine(line)).toBe(mm);
  });
});
