import { describe, expect, it } from 'vitest';
import type { Part } from '../src/drawer/index.ts';
import { obstaclesOf } from '../src/finder/index.ts';
import type { Train } from '../src/train/index.ts';
import { drawer, male } from './drawer.ts';
import { oneGap } from './gaps.ts';
import { camera, corrector, part, train } from './trains.ts';

describe('what stands in the finder’s way', () => {
  const parts = drawer({ partId: 'R-1' });
  const messages = (train: Train, parts: readonly Part[]): string[] =>
    obstaclesOf(train, parts, 'mm').map(({ message }) => message);

  it('nothing, where faces are known and the drawer has rings', () => {
    expect(obstaclesOf(oneGap(55), parts, 'mm')).toEqual([]);
  });

  it('faces beside a gap that are not known, or do not parse', () => {
    const gap = { id: 'gap', kind: 'gap' as const, name: 'gap' };
    const blind = train([
      corrector({ backFocusMm: 55 }),
      gap,
      part('guider', 17),
      { ...gap, id: 'second' },
      camera(17.5)
    ]);
    expect(obstaclesOf(blind, parts, 'mm').map(({ at }) => at)).toEqual(['corrector', 'guider', 'guider', 'camera']);
    expect(messages(blind, parts)[1]).toMatch(/sky-side connection of guider/);
    const odd = train([corrector({ backFocusMm: 55 }, { camera: male('M42') }), gap, camera(17.5)]);
    expect(obstaclesOf(odd, parts, 'mm').map(({ at }) => at)).toEqual(['corrector', 'camera']);
    const bare = train([gap, camera(17.5)]);
    expect(obstaclesOf({ ...bare, host: { ...bare.host, camera: male('M42') } }, parts, 'mm')[0]).toMatchObject({
      at: 'host',
      message: expect.stringMatching(/^The camera-side connection of host is not stated/) as string
    });
  });

  it('a drawer without rings, and a train too long already', () => {
    expect(messages(oneGap(55), [])).toEqual([expect.stringMatching(/no ring, adapter or shim/)]);
    expect(messages(oneGap(55), drawer({ partId: 'W', kind: 'filter-wheel' }))).toHaveLength(1);
    expect(messages(oneGap(15), parts)).toEqual([
      'The train is 2.50 mm long before anything goes in: something has to come out.'
    ]);
    expect(obstaclesOf(oneGap(15), [], 'mm').map(({ code }) => code)).toEqual(['no-parts', 'too-long']);
    expect(messages(train([corrector({ backFocusMm: 55 }), camera(50)]), [])).toEqual([]);
  });

  it('limits of gaps that leave no room for what is missing (a calculation)', () => {
    // 55 − 17.5 = 37.5 is missing, ±0.1.
    const limited = (minMm: number | undefined, maxMm: number | undefined) => {
      const gap = {
        id: 'gap',
        kind: 'gap' as const,
        name: 'Rings',
        ...(minMm === undefined ? {} : { minMm }),
        ...(maxMm === undefined ? {} : { maxMm })
      };
      return train([
        corrector({ backFocusMm: 55, toleranceMm: 0.1 }, { camera: male('M48x0.75') }),
        gap,
        camera(17.5, { sky: { thread: 'M48x0.75', gender: 'female' } })
      ]);
    };
    expect(messages(limited(undefined, 30), parts)).toEqual([
      '“Rings” may hold 30.00 mm at the most, but 37.40 mm or more is missing: raise the limit.'
    ]);
    expect(messages(limited(40, undefined), parts)).toEqual([
      '“Rings” must hold 40.00 mm at the least, but only 37.60 mm may go in: lower the limit.'
    ]);
    expect(messages(limited(37.6, 37.6), parts)).toEqual([]);
    expect(messages(limited(37.4, 37.4), parts)).toEqual([]);
  });
});
