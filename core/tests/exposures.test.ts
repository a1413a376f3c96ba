import { describe, expect, it } from 'vitest';
import { channelOf, colourMinutes, minutesOf, targetTime, withoutReducer } from '../src/sky/index.ts';
import { readTrain } from '../src/train/index.ts';
import { camera, corrector, train } from './trains.ts';

const of = (filter: string, count: number, seconds: number) => ({ filter, count, seconds });

describe('the time for a target', () => {
  it('is panels × filters × exposures: 12 panels of 15 min are 3 h (handbook §5)', () => {
    expect(targetTime([of('L', 3, 180), of('Ha', 2, 180)], 12)).toEqual({
      panelMinutes: 15,
      panels: 12,
      minutes: 180,
      exposures: 60
    });
  });

  it('counts panels that take longer as long as they take, in whole exposures', () => {
    // 2 × 10 min and one of half as long again: 35 min; 10 + 10 + 15 exposures of a minute.
    const time = targetTime([of('L', 10, 60)], 3, [1, 1.5]);
    expect(time.minutes).toBeCloseTo(35, 9);
    expect(time.exposures).toBe(35);
    expect(targetTime([of('L', 5, 60)], 1, [1.5]).exposures).toBe(8);
  });

  it('of an extended object is 2.04 times as long without a reducer of 0.7: f/10 against f/7 (handbook §5)', () => {
    expect(1 / withoutReducer(0.7)).toBeCloseTo(0.49, 9);
  });
});

describe('colour against mono for the same light', () => {
  // By light that is counted here pixel by pixel, over a cell of four: 3 units a minute white, 1 of each colour.
  const light = (minutes: { l: number; r: number; g: number; b: number }) => ({
    red: 4 * minutes.r,
    green: 4 * minutes.g,
    blue: 4 * minutes.b,
    all: 4 * (3 * minutes.l + minutes.r + minutes.g + minutes.b)
  });
  const cell = (minutes: number) => ({ red: minutes, green: 2 * minutes, blue: minutes, all: 4 * minutes });

  it.each([
    { l: 60, r: 20, g: 20, b: 20 },
    { l: 0, r: 30, g: 30, b: 30 },
    { l: 5, r: 60, g: 20, b: 20 },
    { l: 10, r: 10, g: 80, b: 10 }
  ])('$l $r $g $b: as much in each colour and in all, and no shorter time does', (mono) => {
    const { l, r, g, b } = mono;
    const exposures = [of('R', r, 60), of('Green', g, 60), of('b', b, 60), ...(l > 0 ? [of('Lum', l, 60)] : [])];
    const minutes = colourMinutes(exposures)!;
    const enough = (time: number): boolean => {
      const [wanted, had] = [light(mono), cell(time)];
      return (Object.keys(wanted) as (keyof typeof wanted)[]).every((key) => had[key] >= wanted[key] - 1e-9);
    };
    expect(enough(minutes)).toBe(true);
    expect(enough(minutes * 0.99)).toBe(false);
  });

  it('is not told of narrow bands, nor where a colour is missing', () => {
    expect(colourMinutes([of('R', 1, 60), of('G', 1, 60), of('Ha', 1, 60)])).toBeUndefined();
    expect(colourMinutes([of('L', 1, 60), of('R', 1, 60)])).toBeUndefined();
    expect(channelOf('Luminance')).toBe('luminance');
    expect(channelOf('Red 36 mm')).toBeUndefined();
    expect(minutesOf([])).toBe(0);
  });
});

describe('a document', () => {
  const framed = (framing: object) =>
    readTrain({ ...train([corrector({ backFocusMm: 55 }), camera(17.5)]), framing } as unknown);

  it('keeps exposures and panels that differ, and refuses none and panels of no time', () => {
    expect(framed({ exposures: [of('L', 20, 180)], panelTimes: [1, 0.5] }).ok).toBe(true);
    expect(framed({ exposures: [of('L', 0, 180)] }).ok).toBe(false);
    expect(framed({ exposures: [of('L', 20, 0)] }).ok).toBe(false);
    expect(framed({ panelTimes: [0] }).ok).toBe(false);
  });
});
