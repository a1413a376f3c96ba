// Two figures for one thing: an adapter of 16.5 on one page and 16.9 on another. Common practice, no source.
import { describe, expect, it } from 'vitest';
import { assess } from '../src/check/index.ts';
import { readTrain, type Train } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const leaflet = (lengthMm: number) => ({ published: [{ source: 'leaflet', lengthMm }] });
const made = (more: object, plate: object = {}): Train =>
  train([
    corrector({ backFocusMm: 55 }),
    part('adapter', 20, more),
    part('spacer', 17.5, { glass: [{ name: 'Red', thicknessMm: 3, index: 1.5, toleranceMm: 0, ...plate }] }),
    camera(17.5)
  ]);
const told = (document: Train): string[] =>
  assess(document)
    .findings.filter(({ code }) => code === 'figures-differ')
    .map(({ say }) => say('mm'));
const worst = (document: Train): number => assess(document).report.uncertainty.worstCaseMm;

describe('two figures for one length', () => {
  it('are told with their source, and either may be true: both lie within what is not known', () => {
    const conflict = made(leaflet(20.4));
    expect(told(conflict)).toEqual([
      '“leaflet” states 20.40 mm for the length of adapter, 0.40 mm more than the 20.00 mm in use. Measure it: until then either may be true.'
    ]);
    // 0.05 of the part gives way to 0.40.
    expect(worst(conflict) - worst(made({}))).toBeCloseTo(0.35, 9);
  });

  it('are settled by a measurement, and no conflict where they agree within the tolerance', () => {
    const measured = { lengthMm: 20.38, uncertaintyMm: 0.03 };
    expect(told(made({ ...leaflet(20.4), measured }))).toEqual([]);
    expect(told(made(leaflet(20.05)))).toEqual([]);
    expect(worst(made(leaflet(20.05)))).toBeCloseTo(worst(made({})), 9);
  });

  it('of which one is in inches say so', () => {
    expect(told(made(leaflet(0.787)))[0]).toMatch(/0\.79 mm for the length.*25\.4 times\. One of the two is in inches/);
    expect(told(made(leaflet(508)))[0]).toMatch(/One of the two is in inches/);
  });

  it('of glass count by what they shift: a third of a millimetre a millimetre at n = 1.5', () => {
    const conflict = made({}, { published: [{ source: 'the seller', lengthMm: 2 }] });
    expect(told(conflict)[0]).toMatch(/“the seller” states 2\.00 mm for the thickness of Red, 1\.00 mm less/);
    expect(worst(conflict) - worst(made({}))).toBeCloseTo(1 / 3, 9);
  });

  it('of a back focus are both possible until one is tested: as wide as they are apart, from the same plane', () => {
    const asks = (more: object): Train =>
      train([corrector({ backFocusMm: 55, toleranceMm: 0.3, ...more }), part('ring', 37.5), camera(17.5)]);
    const figure = (backFocusMm: number, more: object = {}) => ({
      published: [{ source: 'leaflet', backFocusMm, ...more }]
    });
    const wider = (more: object): number => worst(asks(more)) - worst(asks({}));
    expect(wider(figure(56.2))).toBeCloseTo(1.2, 9);
    expect(wider(figure(53.8))).toBeCloseTo(1.2, 9);
    // The widest of several; the maker’s own ± where that is wider; what agrees from its own plane is no conflict.
    expect(wider({ published: [56.2, 55.4, 52].map((backFocusMm) => ({ source: 'shop', backFocusMm })) })).toBeCloseTo(
      3,
      9
    );
    expect(wider({ ...figure(55.2), uncertaintyMm: 0.5 })).toBeCloseTo(0.5, 9);
    expect(wider(figure(56.5, { datum: 'last-surface', datumOffsetMm: 1.5 }))).toBeCloseTo(0, 9);
    // Tested, or of a table’s row for this host: settled.
    expect(wider({ ...figure(56.2), tunedMm: 55.3 })).toBeCloseTo(0, 9);
    const before = assess(asks({})).report.uncertainty.probabilityInTolerance!;
    expect(assess(asks(figure(56.2))).report.uncertainty.probabilityInTolerance!).toBeLessThan(before / 2);
  });

  it('a document says them, and what is wrong with them', () => {
    expect(readTrain(made(leaflet(20.4))).ok).toBe(true);
    const wrong = readTrain(made({ published: [{ lengthMm: 3 }] }));
    expect(wrong.ok).toBe(false);
  });
});
