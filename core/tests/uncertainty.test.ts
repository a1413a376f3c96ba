import { describe, expect, it } from 'vitest';
import { Spread, normalCdf, rectangularStandard, uncertaintyOf, type Doubt } from '../src/doubt/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const doubt = (halfWidthMm: number, standardMm: number): Doubt => ({
  id: 'x',
  halfWidthMm,
  standardMm,
  kind: 'stated'
});

describe('uncertainty of the sum', () => {
  // JCGM 100:2008 §4.3.7: a rectangular ±a has u = a/√3; §5.1.2: independent terms add in quadrature
  it('is rectangular for a published tolerance and U/2 for a measurement', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { toleranceMm: 9 }),
      part('published', 10, { toleranceMm: 0.3 }),
      part('measured', 20, { measured: { lengthMm: 20, uncertaintyMm: 0.04 } }),
      camera(25, { toleranceMm: 0 })
    ]);
    const { worstCaseMm, standardMm } = checkTrain(made).uncertainty;
    expect(worstCaseMm).toBeCloseTo(0.34, 12);
    expect(standardMm).toBeCloseTo(Math.hypot(0.3 / Math.sqrt(3), 0.02), 12);
  });

  it('a part of unknown tolerance counts as ±0.1 and is listed (common practice, no source)', () => {
    const { toleranceMm: _, ...untold } = part('ring', 30);
    const report = checkTrain(train([corrector({ backFocusMm: 55 }), untold, camera(25, { toleranceMm: 0 })]));
    expect(report.uncertainty.worstCaseMm).toBeCloseTo(0.1, 12);
    expect(report.problems).toContainEqual(expect.objectContaining({ code: 'tolerance-assumed', at: 'ring' }));
  });

  // Standard normal table, from memory
  it.each([
    [0, 0.5],
    [1, 0.841345],
    [1.959964, 0.975],
    [-2.575829, 0.005],
    [0.81, 0.79103]
  ])('normal distribution at %f', (z, area) => {
    expect(normalCdf(z)).toBeCloseTo(area, 5);
  });

  it('gives the chance of being inside the tolerance', () => {
    // architecture.md's example: residual −0.381, tolerance 0.3, u = 0.1 gives 0.21
    expect(uncertaintyOf(new Spread([doubt(0.25, 0.1)]), -0.381, 0.3).probabilityInTolerance).toBeCloseTo(0.21, 2);
    expect(uncertaintyOf(new Spread([]), 0.3, 0.3).probabilityInTolerance).toBe(1);
    expect(uncertaintyOf(new Spread([]), 0.301, 0.3).probabilityInTolerance).toBe(0);
    expect(uncertaintyOf(new Spread([doubt(1, 1)]), null, null).probabilityInTolerance).toBeNull();
  });

  // JCGM 100:2008 §4.3.7, example 1: copper, 16.52 × 10⁻⁶ ± 0.40 × 10⁻⁶ per °C gives u² = 53.3 × 10⁻¹⁵, u = 0.23 × 10⁻⁶.
  it('a figure of a handbook known to ±a is the GUM’s 0.23', () => {
    expect(rectangularStandard(0.4)).toBeCloseTo(0.23, 2);
    expect(rectangularStandard(0.4) ** 2).toBeCloseTo(0.0533, 4);
  });

  // JCGM 100:2008 §5.2.2, example: ten resistors of 1000 Ω, each compared with one standard of u = 100 mΩ, in series have
  // u = 1 Ω, where independent errors would give 0.32 Ω.
  it('ten readings against one standard add linearly: the GUM’s resistors in series', () => {
    const shared = { instrument: 'standard', halfWidthMm: 0.1 * Math.sqrt(3) };
    const each: Doubt = { ...doubt(0.2, 0.1), of: 'length', kind: 'measured', shape: 'normal', shared };
    expect(new Spread(Array.from({ length: 10 }, () => each)).standardMm).toBeCloseTo(1, 9);
    const alone: Doubt = { ...each, shared: undefined };
    expect(new Spread(Array.from({ length: 10 }, () => alone)).standardMm).toBeCloseTo(0.32, 2);
  });
});
