import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  formatLength,
  formatTolerance,
  formatWithin,
  fromUnit,
  plainMm,
  residualInWords,
  toUnit,
  verdictInWords
} from '../src/why/index.ts';

describe('lengths in words (handbook §1)', () => {
  it.each([
    [0.2, '0.20 mm long'],
    [-2.5, '2.50 mm short'],
    [0.0004, 'exact'],
    [-0.0004, 'exact'],
    [0.004, '0.004 mm long'],
    [-0.009, '0.009 mm short']
  ])('a residual of %d is “%s”: never a bare sign', (residualMm, words) => {
    expect(residualInWords(residualMm, 'mm')).toBe(words);
  });

  it.each([
    [7.625, 0.004, '7.625 ±0.004 mm'],
    [7.6, 0.05, '7.60 ±0.05 mm'],
    [7.625, 0.05, '7.63 ±0.05 mm'],
    [7.625, 0.02, '7.625 ±0.020 mm'],
    [58.98, 0, '58.98 ±0.00 mm']
  ])('%d within %d has the decimals its tolerance needs', (lengthMm, toleranceMm, words) => {
    expect(formatWithin(lengthMm, toleranceMm, 'mm')).toBe(words);
  });

  it('whatever is rounded away is no more than a tenth of the tolerance, in either unit', () => {
    const tolerance = fc.double({ min: 1e-3, max: 10, noNaN: true });
    const units = fc.constantFrom('mm' as const, 'in' as const);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 500, noNaN: true }), tolerance, units, (lengthMm, toleranceMm, unit) => {
        const [length, within] = formatWithin(lengthMm, toleranceMm, unit).split(' ±');
        expect(Math.abs(fromUnit(Number(length), unit) - lengthMm)).toBeLessThanOrEqual(0.101 * toleranceMm);
        const told = Number(within!.split(' ')[0]);
        expect(Math.abs(fromUnit(told, unit) - toleranceMm)).toBeLessThanOrEqual(0.101 * toleranceMm);
        expect(Number(formatTolerance(toleranceMm, unit).split(' ')[0])).toBeGreaterThan(0);
      })
    );
  });

  it('inches are a way to show millimetres', () => {
    expect(residualInWords(-25.4, 'in')).toBe('1.0000 in short');
    expect(formatLength(146.05, 'in')).toBe('5.7500 in');
    fc.assert(
      fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), fc.constantFrom('mm', 'in' as const), (mm, unit) => {
        expect(fromUnit(toUnit(mm, unit), unit)).toBeCloseTo(mm, 9);
      })
    );
  });

  it.each([
    ['short', -2.5, '2.50 mm short'],
    ['long', 0.2, '0.20 mm long'],
    ['on-spec', 0.05, 'Within tolerance: 0.05 mm long'],
    ['on-spec', 0, 'Within tolerance, exactly'],
    ['free', null, 'No back focus required']
  ] as const)('the verdict %s with %s says “%s”', (verdict, residualMm, words) => {
    expect(verdictInWords(verdict, residualMm, 'mm')).toBe(words);
  });

  it('a third decimal only where it says something, a true minus, and no negative zero', () => {
    expect([17.2, 17.205, 17.2049, 0].map(plainMm)).toEqual(['17.20', '17.205', '17.205', '0.00']);
    expect(plainMm(-0.0001)).toBe('0.00');
    expect(formatLength(-0.001, 'mm')).toBe('0.00 mm');
    expect(formatLength(-1.5, 'mm')).toBe('−1.50 mm');
  });
});
