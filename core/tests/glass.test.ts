import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { GLASSES, marginalHalfAngle, namedGlass, plateShift, sellmeierIndex } from '../src/length/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const bk7 = GLASSES['N-BK7']!;
const silica = GLASSES['fused-silica']!;

describe('Sellmeier equation', () => {
  // SCHOTT data sheet for N-BK7, Malitson 1965 for fused silica; both from memory, by way of handbook §2
  it.each([
    ['N-BK7', bk7, 0.5875618, 1.5168],
    ['N-BK7', bk7, 0.4861327, 1.52238],
    ['N-BK7', bk7, 0.6562725, 1.51432],
    ['fused silica', silica, 0.5875618, 1.45846]
  ])('%s at its published line', (_name, glass, wavelengthUm, index) => {
    expect(sellmeierIndex(glass, wavelengthUm)).toBeCloseTo(index, 5);
  });

  it('knows glasses in any usual spelling and no others', () => {
    expect(namedGlass('n-bk7')).toBe(bk7);
    expect(namedGlass('BK7')).toBe(bk7);
    expect(namedGlass('Fused Silica')).toBe(silica);
    expect(namedGlass('window glass')).toBeUndefined();
    expect(namedGlass('constructor')).toBeUndefined();
  });
});

describe('plate shift', () => {
  // Smith, Modern Optical Engineering, plane-parallel plates (from memory): 2·(1 − 1/1.5168) by hand
  it('is t (1 − 1/n) on the axis', () => {
    expect(plateShift(2, 1.5168)).toBeCloseTo(0.68143, 5);
    expect(plateShift(3, 1.5)).toBeCloseTo(1, 12);
  });

  it('grows with the ray’s angle and meets the paraxial value at zero (Snell’s law, traced here)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 20, noNaN: true }),
        fc.double({ min: 1.01, max: 2.5, noNaN: true }),
        fc.double({ min: 0.001, max: 1.2, noNaN: true }),
        (thickness, index, angle) => {
          const inside = Math.asin(Math.sin(angle) / index);
          const sideways = thickness * (Math.tan(angle) - Math.tan(inside));
          const traced = sideways / Math.tan(angle);
          expect(plateShift(thickness, index, angle)).toBeCloseTo(traced, 9);
          expect(plateShift(thickness, index, angle)).toBeGreaterThan(plateShift(thickness, index));
        }
      )
    );
  });

  it('refuses what is no plate', () => {
    expect(() => plateShift(-1, 1.5)).toThrow(RangeError);
    expect(() => plateShift(1, 0.9)).toThrow(RangeError);
    expect(() => plateShift(1, 1.5, Math.PI / 2)).toThrow(RangeError);
    expect(() => plateShift(Number.NaN, 1.5)).toThrow(RangeError);
  });
});

describe('glass in a train', () => {
  const wheel = (more: object) =>
    train([corrector({ backFocusMm: 55, magnification: 0.5 }), part('wheel', 20, more), camera(35)]);

  it('counts by the marginal ray of the reduced beam when asked to', () => {
    // f/7 host with a 0.5× reducer: f/3.5
    const shift = plateShift(2, 1.5, marginalHalfAngle(3.5));
    const report = checkTrain({ ...wheel({ glass: [{ thicknessMm: 2, index: 1.5 }] }), glassRule: 'marginal' });
    expect(report.required.glassMm).toBeCloseTo(shift, 12);
  });

  it('adds what is always in the beam, and takes one of the alternatives', () => {
    const report = checkTrain(
      wheel({
        glass: [
          { thicknessMm: 1, index: 1.5 },
          { slot: 1, name: 'thick', thicknessMm: 3, index: 1.5 },
          { slot: 2, name: 'thin', thicknessMm: 1.5, index: 1.5 },
          { slot: 3, name: 'thin too', thicknessMm: 1.5, index: 1.5 }
        ]
      })
    );
    expect(report.required.totalMm).toBeCloseTo(55 + 1 / 3 + 0.5, 12);
    expect(report.slots.map(({ slot, requiredMm }) => [slot, requiredMm])).toEqual([
      [1, expect.closeTo(55 + 1 / 3 + 1, 12)],
      [2, expect.closeTo(55 + 1 / 3 + 0.5, 12)],
      [3, expect.closeTo(55 + 1 / 3 + 0.5, 12)]
    ]);
    expect(report.slots[0]?.residualMm).toBeCloseTo(-1 / 3 - 1, 12);
  });

  it('takes the design slot over the commonest glass', () => {
    const glass = [1, 2, 3].map((slot) => ({ slot, thicknessMm: slot === 1 ? 3 : 1.5, index: 1.5 }));
    expect(checkTrain(wheel({ glass, designSlot: 1 })).required.glassMm).toBeCloseTo(1, 12);
  });

  it('leaves out what the maker counted, and a camera’s window unless told otherwise', () => {
    expect(checkTrain(wheel({ glass: [{ thicknessMm: 2, counted: true }] })).required.glassMm).toBe(0);
    const window = (counted?: boolean) =>
      train([
        corrector({ backFocusMm: 55 }),
        camera(55, { glass: [{ thicknessMm: 3, index: 1.5, ...(counted === undefined ? {} : { counted }) }] })
      ]);
    expect(checkTrain(window()).required.glassMm).toBe(0);
    expect(checkTrain(window(false)).required.glassMm).toBeCloseTo(1, 12);
  });

  it('leaves out a filter on the sky side of the corrector', () => {
    const filter = part('filter', 6, { kind: 'filter', glass: [{ thicknessMm: 2 }] });
    const ahead = train([filter, corrector({ backFocusMm: 55 }), camera(55)]);
    expect(checkTrain(ahead).required.glassMm).toBe(0);
    expect(checkTrain(ahead).verdict).toBe('on-spec');
  });
});

describe('the slot the length is made for', () => {
  const plate = (slot: number, thicknessMm: number) => ({ slot, name: `slot ${slot}`, thicknessMm });
  const required = (glass: ReturnType<typeof plate>[]) =>
    checkTrain(
      train([
        corrector({ backFocusMm: 55, toleranceMm: 0.3 }),
        part('wheel', 20, { kind: 'filter-wheel', glass }),
        camera(35)
      ])
    ).required.totalMm;

  it('is the glass most slots share; empty places are no glass, however many there are (handbook §2)', () => {
    // 2·(1 − 1/1.5168) by hand.
    expect(required([1, 2, 3, 4, 5].map((slot) => plate(slot, slot < 3 ? 2 : 0)))).toBeCloseTo(55.68143, 5);
  });

  it('is an empty one only where all are empty', () => {
    expect(required([1, 2].map((slot) => plate(slot, 0)))).toBeCloseTo(55, 9);
  });
});

it('a beam steeper than any telescope makes has an answer, and no error', () => {
  const made = train([corrector({ backFocusMm: 55 }), part('window', 10, { glass: [{ thicknessMm: 2 }] }), camera(45)]);
  const steep = { ...made, glassRule: 'marginal' as const, host: { ...made.host, focalLengthMm: 5e-324 } };
  expect(checkTrain(steep).required.glassMm).toBeGreaterThan(0.68);
  expect(checkTrain(steep).required.glassMm).toBeLessThan(2);
});
