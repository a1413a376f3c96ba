import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  DRAWS,
  EXPANSIONS,
  Spread,
  drawErrors,
  histogramOf,
  shareBetween,
  shrinkingOf,
  type Doubt
} from '../src/doubt/index.ts';
import { assess } from '../src/check/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const error = (shape: Doubt['shape'], halfWidthMm: number, more: Partial<Doubt> = {}): Doubt => ({
  id: 'x',
  of: 'length',
  halfWidthMm,
  standardMm:
    shape === 'rectangular'
      ? halfWidthMm / Math.sqrt(3)
      : shape === 'triangular'
        ? halfWidthMm / Math.sqrt(6)
        : halfWidthMm / 2,
  kind: 'stated',
  shape,
  shared: undefined,
  ...more
});

/** Irwin–Hall: distribution function of the sum of n uniform (0, 1) errors (Hall, Biometrika 19 (1927)). */
function irwinHall(n: number, x: number): number {
  const factorial = (k: number): number => (k < 2 ? 1 : k * factorial(k - 1));
  let sum = 0;
  for (let k = 0; k <= Math.floor(x); k++) {
    sum += ((-1) ** k * factorial(n) * (x - k) ** n) / (factorial(k) * factorial(n - k));
  }
  return sum / factorial(n);
}

const COUNT = 200_000;
/** Five standard deviations of a share of so many draws. */
const SCATTER = (5 * 0.5) / Math.sqrt(COUNT);

describe('errors drawn at random', () => {
  it.each([2, 3, 5, 8])('of %i equal rectangular parts spread as Irwin and Hall say', (n) => {
    const draws = drawErrors(
      Array.from({ length: n }, () => error('rectangular', 0.5)),
      COUNT,
      7
    );
    for (const x of [0.25, 0.5, 1, n / 2, n - 0.5]) {
      expect(Math.abs(shareBetween(draws, -n, x - n / 2) - irwinHall(n, x))).toBeLessThan(SCATTER);
    }
  });

  it('add up as normal errors do: √Σσ² (JCGM 100:2008 §5.1.2)', () => {
    const draws = drawErrors([error('normal', 0.06), error('normal', 0.08)], COUNT, 3);
    expect(draws.standardMm).toBeCloseTo(0.05, 3);
    expect(shareBetween(draws, -0.05, 0.05)).toBeCloseTo(0.6827, 2);
    expect(Math.abs(draws.meanMm)).toBeLessThan((5 * 0.05) / Math.sqrt(COUNT));
  });

  it('of a triangular part have u = a/√6 (JCGM 100:2008 §4.3.9), and its own distribution', () => {
    const draws = drawErrors([error('triangular', 0.6)], COUNT, 5);
    expect(Math.abs(draws.standardMm - 0.6 / Math.sqrt(6))).toBeLessThan(0.0016);
    // Within half its half-width lie 1 − (1/2)² of it.
    expect(Math.abs(shareBetween(draws, -0.3, 0.3) - 0.75)).toBeLessThan(SCATTER);
    expect(new Spread([error('triangular', 0.6)]).between(-0.3, 0.3)).toBeCloseTo(0.75, 3);
  });

  it('of one instrument go the same way in all its readings: six at ±0.02 are u = 0.07 (handbook §8)', () => {
    const shared = { instrument: 'calipers', halfWidthMm: 0.02 };
    const readings = Array.from({ length: 6 }, () =>
      error('normal', 0.02, { standardMm: 0.02 / Math.sqrt(3), shared })
    );
    expect(drawErrors(readings, COUNT, 11).standardMm).toBeCloseTo(0.0693, 3);
  });

  it('that only part of is the instrument’s: the rest of each reading is its own (JCGM 100 §5.2)', () => {
    const shared = { instrument: 'calipers', halfWidthMm: 0.03 };
    const readings = Array.from({ length: 4 }, () => error('normal', 0.08, { standardMm: 0.04, shared }));
    const own = 4 * (0.04 ** 2 - 0.03 ** 2 / 3);
    const together = (4 * 0.03) ** 2 / 3;
    expect(drawErrors(readings, COUNT, 13).standardMm).toBeCloseTo(Math.sqrt(own + together), 3);
  });

  it('agree with the convolution, whatever the parts', () => {
    const any = fc.array(
      fc.record({
        shape: fc.constantFrom<Doubt['shape'][]>('rectangular', 'triangular', 'normal'),
        halfWidthMm: fc.integer({ min: 2, max: 300 }).map((um) => um / 1000)
      }),
      { minLength: 1, maxLength: 12 }
    );
    fc.assert(
      fc.property(any, fc.integer({ min: 1, max: 1000 }), (parts, seed) => {
        const doubts = parts.map(({ shape, halfWidthMm }) => error(shape, halfWidthMm));
        const spread = new Spread(doubts);
        const draws = drawErrors(doubts, 20_000, seed);
        for (const share of [0.5, 1, 2]) {
          const bound = share * spread.standardMm;
          expect(Math.abs(shareBetween(draws, -bound, bound) - spread.between(-bound, bound))).toBeLessThan(0.025);
        }
      }),
      { numRuns: 25 }
    );
  });

  it('are the same for the same seed, and no others; a histogram holds them all', () => {
    const doubts = [error('rectangular', 0.1), error('normal', 0.05)];
    const [one, same, other] = [4, 4, 5].map((seed) => drawErrors(doubts, 1000, seed));
    expect(one!.sorted).toEqual(same!.sorted);
    expect(one!.sorted).not.toEqual(other!.sorted);
    const bars = histogramOf(one!, -1, 1, 40);
    expect(bars.reduce((sum, bar) => sum + bar, 0)).toBeCloseTo(1, 12);
  });

  it('refuses a number of draws nobody has the memory for', () => {
    expect(() => drawErrors([], DRAWS.most + 1, 1)).toThrow(RangeError);
    expect(() => drawErrors([], 1.5, 1)).toThrow(RangeError);
    expect(() => drawErrors([], NaN, 1)).toThrow(RangeError);
  });
});

describe('length in the cold', () => {
  it('shrinks by α L ΔT (ASM Metals Handbook Desk Edition for aluminium, from memory)', () => {
    const made = train([corrector({ backFocusMm: 100 }), part('ring', 80, { material: 'aluminium' }), camera(20)]);
    const { changeMm, assumed, standardMm } = shrinkingOf(made, assess(made).ledger, -10);
    expect(changeMm).toBeCloseTo(100 * 23.6e-6 * -30, 9);
    expect(assumed).toEqual([]);
    expect(standardMm).toBeCloseTo((100 * 30 * 1e-6) / Math.sqrt(3), 9);
  });

  it('goes by each part’s own material, and says whose is not stated', () => {
    const made = train([
      corrector({ backFocusMm: 100 }, { material: 'steel' }),
      part('printed', 50, { material: 'printed-plastic' }),
      part('untold', 30),
      camera(20)
    ]);
    const { changeMm, assumed } = shrinkingOf(made, assess(made).ledger, 0);
    const { 'printed-plastic': printed, aluminium } = EXPANSIONS;
    // The corrector’s own length is behind its datum.
    expect(changeMm).toBeCloseTo(-20e-6 * (50 * printed.ppmPerK + 50 * aluminium.ppmPerK), 9);
    expect(assumed).toEqual(['untold']);
  });
});
