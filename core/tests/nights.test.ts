import fc from 'fast-check';
import jstat from 'jstat';
import { describe, expect, it } from 'vitest';
import {
  apart,
  effectsOf,
  hoursByEvening,
  hoursOf,
  nightsOf,
  nightsOfFrames,
  seasonOf,
  seasonOfTrains
} from '../src/nights/index.ts';
import type { FrameSummary } from '../src/frame/index.ts';
import { readTrain, type Night } from '../src/train/index.ts';
import { camera, train } from './trains.ts';

/** A frame as far as nights ask of it. */
const frame = (header: Record<string, string | number>, hfrPx: number | null = null): FrameSummary =>
  ({ header, field: { hfrPx } }) as unknown as FrameSummary;

describe('nights that frames were taken in', () => {
  const FILTERS = ['Luminance', 'Hydrogen alpha 5 nm', 'Light pollution'];
  const at = (moment: string, more: Record<string, string | number> = {}) =>
    frame({ 'DATE-OBS': moment, EXPTIME: 180, ...more }, 2.5);

  it('are those of their evening, where the telescope stands', () => {
    const some = [at('2026-11-30T22:10:00'), at('2026-12-01T03:40:00.512'), at('2026-12-01T21:00:00')];
    expect(nightsOfFrames(some, [], 0).map(({ on, frames }) => [on, frames])).toEqual([
      ['2026-12-01', 1],
      ['2026-11-30', 2]
    ]);
    // Eleven hours west of Greenwich it is all one evening and one noon later.
    expect(nightsOfFrames([at('2026-12-01T08:00:00')], [], -660)[0]!.on).toBe('2026-11-30');
    expect(nightsOfFrames([at('2026-12-01T08:00:00')], [], 660)[0]!.on).toBe('2026-12-01');
  });

  it('add up by the train’s own filters, whatever a frame calls them', () => {
    const some = [
      at('2026-11-30T22:00:00', { FILTER: 'L' }),
      at('2026-11-30T22:03:00', { FILTER: 'Lum' }),
      at('2026-11-30T22:06:00', { FILTER: 'Ha', EXPTIME: 600 }),
      at('2026-11-30T22:20:00', { FILTER: 'Comet', EXPTIME: 36 }),
      at('2026-11-30T22:22:00')
    ];
    expect(nightsOfFrames(some, FILTERS, 0)[0]!.hours).toEqual({
      Luminance: 0.1,
      'Hydrogen alpha 5 nm': 0.1667,
      Comet: 0.01,
      'No filter': 0.05
    });
  });

  it('have the usual radius and temperature; nothing of what no frame says', () => {
    const cold = (temperature: number, hfrPx: number | null) =>
      frame({ 'DATE-OBS': '2026-11-30T22:00:00', AMBTEMP: temperature }, hfrPx);
    expect(nightsOfFrames([cold(-3.04, 2.1), cold(-2, 2.3), cold(-1, 8), cold(-1, null)], [], 0)).toEqual([
      { on: '2026-11-30', frames: 4, hours: {}, hfrPx: 2.3, temperatureC: -1.5 }
    ]);
    const silent = [frame({}), frame({ 'DATE-OBS': 'yesterday' }), frame({ 'DATE-OBS': '2026-13-45T99:99:99' })];
    expect(nightsOfFrames(silent, FILTERS, 0)).toEqual([]);
  });
});

const night = (on: string, more: Partial<Night> = {}): Night => ({ on, ...more });

describe('nights of a train', () => {
  const document = train([camera(17.5)], {
    nights: {
      'n-1': night('2026-11-02', { hours: { Luminance: 2, Red: 0.5 }, guideRmsArcsec: 0.8 }),
      'n-2': night('2026-11-20', { hours: { Luminance: 1.5 }, wrong: 'Clouds from one o’clock' })
    }
  });

  it('are part of the document, the newest first', () => {
    expect(readTrain(document).ok).toBe(true);
    expect(nightsOf(document).map(({ id }) => id)).toEqual(['n-2', 'n-1']);
    expect(nightsOf(train([camera(17.5)]))).toEqual([]);
  });

  it.each([
    ['a day that is none', { 'n-1': night('2.11.2026') }],
    ['more than a day of hours', { 'n-1': night('2026-11-02', { hours: { Red: 25 } }) }],
    ['a guiding error below nothing', { 'n-1': night('2026-11-02', { guideRmsArcsec: -1 }) }]
  ])('%s is refused with its place', (_what, nights) => {
    const reading = readTrain(train([camera(17.5)], { nights }));
    expect(reading.ok ? undefined : reading.complaints[0]?.pointer).toMatch(/^\/nights\/n-1/);
  });

  it('add up by filter', () => {
    expect(seasonOf(nightsOf(document))).toEqual({
      nights: 2,
      days: ['2026-11-02', '2026-11-20'],
      hours: 4,
      byFilter: [
        ['Luminance', 3.5],
        ['Red', 0.5]
      ]
    });
    expect(seasonOf([])).toMatchObject({ nights: 0, hours: 0, days: undefined });
    expect(hoursOf({})).toBe(0);
  });
});

describe('before and after', () => {
  it('is the difference of the means, its interval by Welch: worked by hand', () => {
    // Means 3 and 6; variances of the mean 2.5/5 and 2.5/5; 8 degrees of freedom: t = 2.306.
    const found = apart([1, 2, 3, 4, 5], [4, 5, 6, 7, 8])!;
    expect(found.difference).toBeCloseTo(3, 12);
    expect(found.halfWidth95).toBeCloseTo(2.306, 3);
  });

  it('agrees with another library where its degrees of freedom are whole', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.2, max: 3, noNaN: true }), { minLength: 4, maxLength: 9 }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (values, shift) => {
          // The same scatter on both sides: ν = 2 (n − 1), as in the pooled test.
          const after = values.map((each) => each + shift);
          const found = apart(values, after)!;
          const standard = jstat.stdev(values, true) * Math.sqrt(2 / values.length);
          const t = jstat.studentt.inv(0.975, 2 * (values.length - 1));
          expect(found.halfWidth95).toBeCloseTo(t * standard, 2);
          expect(found.difference).toBeCloseTo(shift, 9);
        }
      )
    );
  });

  it('of one night says nothing', () => {
    expect(apart([1], [2, 3])).toBeUndefined();
    expect(apart([1, 1], [1, 1])).toMatchObject({ difference: 0, halfWidth95: 0 });
  });

  it('is told of each day of changes, with the nights up to the next', () => {
    const rms = (on: string, guideRmsArcsec: number): Night => night(on, { guideRmsArcsec });
    const nights = [
      rms('2026-11-01', 0.9),
      rms('2026-11-02', 1.1),
      rms('2026-11-05', 0.7),
      rms('2026-11-06', 0.5),
      night('2026-11-07'),
      rms('2026-11-10', 3)
    ];
    const effects = effectsOf(nights, ['2026-11-05', '2026-11-08', '2026-11-05']);
    expect(effects.map(({ on, figure, nights: counts }) => [on, figure, counts])).toEqual([
      ['2026-11-05', 'guideRmsArcsec', [2, 2]]
    ]);
    expect(effects[0]!.difference).toBeCloseTo(-0.4, 9);
  });
});

describe('a season over several trains', () => {
  const two = [
    {
      id: 'a',
      name: 'Reed',
      nights: [
        { on: '2026-10-01', hours: { 'Hydrogen alpha 5 nm': 2, Luminance: 1 } },
        { on: '2026-10-03', hours: { Luminance: 1.5 } }
      ]
    },
    {
      id: 'b',
      name: 'Bittern',
      nights: [
        { on: '2026-10-01', hours: { 'H alpha': 4 } },
        { on: '2026-11-05', hours: { Lum: 1 } },
        { on: '2026-11-05', wrong: 'Cloud from two' }
      ]
    },
    { id: 'c', name: 'Still in its box', nights: [] }
  ];

  it('counts an evening once, and one filter by whatever name', () => {
    const season = seasonOfTrains(two);
    expect([season.nights, season.hours, season.days]).toEqual([3, 9.5, ['2026-10-01', '2026-11-05']]);
    expect(season.byFilter).toEqual([
      ['H alpha', 6],
      ['Luminance', 3.5]
    ]);
    expect(season.trains.map(({ name, season: own }) => [name, own.nights, own.hours])).toEqual([
      ['Bittern', 3, 5],
      ['Reed', 2, 4.5]
    ]);
    expect(hoursByEvening(two[1]!.nights)).toEqual([
      ['2026-10-01', 4],
      ['2026-11-05', 1]
    ]);
  });

  it('ends where it is told to, and may be of nobody', () => {
    expect(seasonOfTrains(two, '2026-10-02', '2026-10-31')).toMatchObject({
      nights: 1,
      hours: 1.5,
      trains: [{ name: 'Reed' }]
    });
    expect(seasonOfTrains([])).toEqual({ nights: 0, days: undefined, hours: 0, byFilter: [], trains: [] });
  });

  it('comes to the same hours however it is cut', () => {
    const night = fc.record({
      on: fc.integer({ min: 1, max: 28 }).map((day) => `2026-10-${String(day).padStart(2, '0')}`),
      hours: fc.dictionary(
        fc.constantFrom('Luminance', 'L', 'OIII', 'O III', 'no name'),
        fc.integer({ min: 0, max: 9 })
      )
    });
    fc.assert(
      fc.property(
        fc.array(fc.array(night, { maxLength: 6 }), { maxLength: 4 }),
        fc.integer({ min: 1, max: 28 }),
        (all, cut) => {
          const trains = all.map((nights, at) => ({ id: String(at), name: `Train ${at}`, nights }));
          const day = (of: number) => `2026-10-${String(of).padStart(2, '0')}`;
          const [whole, early, late] = [
            seasonOfTrains(trains),
            seasonOfTrains(trains, undefined, day(cut)),
            seasonOfTrains(trains, day(cut + 1))
          ];
          expect(early.hours + late.hours).toBe(whole.hours);
          expect(early.nights + late.nights).toBe(whole.nights);
          expect(whole.byFilter.reduce((sum, [, hours]) => sum + hours, 0)).toBe(whole.hours);
        }
      )
    );
  });
});
