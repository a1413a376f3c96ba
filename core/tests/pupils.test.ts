import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assess, checkTrain, explain } from '../src/check/index.ts';
import { hostPupil, pupilBehind, twoMirrorPupil } from '../src/light/index.ts';
import type { BodyElement, Host, Train } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

/** Where the pupil is: stated, calculated, or assumed by kind with a range (handbook §5). */

describe('the exit pupil of two mirrors', () => {
  it('is where a chief ray traced through both crosses the axis (paraxial ray transfer)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 200, max: 1500 }),
        fc.integer({ min: 15, max: 60 }),
        fc.integer({ min: 50, max: 300 }),
        (primaryMm, tenths, backMm) => {
          const focalMm = (primaryMm * tenths) / 10;
          // Marginal ray (1, 0): its height at the secondary over F is how far the focus lies behind that.
          const apartMm = (focalMm - backMm) / (1 + focalMm / primaryMm);
          if (apartMm <= 0 || apartMm >= primaryMm) return;
          const height = 1 - apartMm / primaryMm;
          const secondaryMm = height / (1 / primaryMm - 1 / focalMm);
          const focusMm = apartMm + backMm;
          const slope = -1 / primaryMm + height / secondaryMm;
          expect(-height / slope).toBeCloseTo(focusMm, 6);
          // Chief ray (0, 1) from the middle of the primary, the stop.
          const chiefSlope = 1 + apartMm / secondaryMm;
          const crossingMm = -apartMm / chiefSlope;
          expect(twoMirrorPupil(primaryMm, focalMm, backMm)).toBeCloseTo(focusMm - crossingMm, 6);
        }
      ),
      { numRuns: 500 }
    );
  });

  it('is 0.30 F of an f/2 primary made f/10, 0.50 F of a slower one (handbook §5, calculated)', () => {
    expect(twoMirrorPupil(406, 2032, 206)! / 2032).toBeCloseTo(0.3, 2);
    expect(twoMirrorPupil(609, 1624, 250)! / 1624).toBeCloseTo(0.5, 2);
    expect(twoMirrorPupil(1000, 900, 100)).toBeUndefined();
  });

  it('of a refractor behind a reducer lies 389 mm behind the sensor (handbook §5, calculated)', () => {
    expect(pupilBehind(805, 58.3, 277.6)).toBeCloseTo(-389, 0);
  });
});

const host = (kind: Host['kind'], more: Partial<Host> = {}): Host => ({
  ...train([]).host,
  kind,
  apertureMm: 203,
  focalLengthMm: 2032,
  ...more
});

describe('a pupil that nobody states', () => {
  it.each([
    ['refractor', 'reckoned', undefined],
    ['newtonian', 'reckoned', undefined],
    ['schmidt-cassegrain', 'assumed', [0.3 * 2032, 0.5 * 2032]],
    ['two-mirror', 'assumed', [0.3 * 2032, 0.5 * 2032]],
    ['camera-lens', 'assumed', [40, Infinity]],
    ['other', 'telecentric', undefined]
  ] as const)('of a %s is %s', (kind, from, range) => {
    expect(hostPupil(host(kind)).from).toBe(from);
    expect(hostPupil(host(kind)).rangeMm).toEqual(range);
    expect(hostPupil(host(kind, { exitPupilMm: 700 }))).toEqual({ mm: 700, from: 'stated' });
  });

  it('is calculated where the primary is known', () => {
    const known = hostPupil(host('schmidt-cassegrain', { primaryFocalMm: 406, backFromPrimaryMm: 206 }));
    expect(known.from).toBe('reckoned');
    expect(Math.abs(known.mm / 2032 - 0.3)).toBeLessThan(0.01);
  });

  /** A host alone, an opening far ahead of the sensor, and a sensor. */
  const made = (clearMm: number, more: Partial<Host> = {}): Train =>
    ({
      ...train([
        part('tube', 182.5, { clearMm: 80 }),
        camera(17.5, { sensor: { widthMm: 23.4, heightMm: 15.6, pixelUm: 3.8 } })
      ]),
      host: host('schmidt-cassegrain', { openings: [{ name: 'baffle', clearMm, behindFaceMm: 0 }], ...more })
    }) as Train;
  const told = (clearMm: number, more: Partial<Host> = {}) =>
    assess(made(clearMm, more)).findings.find(({ code }) => code === 'corner-light')!;

  it('warns only where every pupil of the range is dark, and says the assumption and its range', () => {
    // z = 200 before the sensor, f/10: 2 · 14.06 (1 − z/E) + 20: 38.9 at 0.3 F, 42.6 at 0.5 F, 48.1 telecentric.
    const good = told(43);
    expect(good.level).toBe('passed');
    expect(good.say('mm')).toContain('exit pupil assumed 610 mm to 1016 mm ahead of the host’s focus');
    const between = told(34);
    expect(between.level).toBe('assumed');
    expect(between.say('mm')).toMatch(/Corner light \d+ % to \d+ %/);
    const dark = told(24);
    expect(dark.level).toBe('warning');
    expect(dark.say('mm')).toContain('at most');
    // Stated, it is one answer.
    expect(told(34, { exitPupilMm: 610 }).say('mm')).not.toContain('assumed');
    const levels = [24, 34, 43].map((clearMm) =>
      [500, 610, 813, 1016].map((exitPupilMm) => told(clearMm, { exitPupilMm }).level)
    );
    expect(levels[0]!.every((level) => level === 'warning')).toBe(true);
    expect(levels[2]!.slice(1).every((level) => level === 'passed')).toBe(true);
  });

  it('prints where it is from and its range, and “why?” shows both', () => {
    const { light } = checkTrain(made(43));
    expect(light).toMatchObject({ exitPupilFrom: 'assumed', exitPupilRangeMm: [0.3 * 2032, 0.5 * 2032] });
    expect(checkTrain(made(43, { exitPupilMm: 700 })).light).toMatchObject({
      exitPupilFrom: 'stated',
      exitPupilRangeMm: null
    });
    const lens = { ...made(43), host: host('camera-lens') } as Train;
    expect(checkTrain(lens).light).toMatchObject({
      exitPupilMm: null,
      exitPupilFrom: 'assumed',
      exitPupilRangeMm: [40, null]
    });
    const lines = explain(assess(made(34)).facts, 'light.corner')!.lines;
    expect(lines.find(({ label }) => label === 'exit pupil assumed')!.source('mm')).toContain('610 mm to 1016 mm');
    const sum = lines.reduce((total, { quantity }) => total + quantity.value, 0);
    expect(sum).toBeCloseTo(100 * assess(made(34)).facts.light!.corner, 6);
  });

  it('at 0, or between sensor and filter, is a number like any other: nothing is infinite or not a number', () => {
    for (const exitPupilMm of [0, 1e-9, 5, 17.5, 20, -3]) {
      const { light } = checkTrain(made(30, { exitPupilMm }));
      for (const share of Object.values(light!.illumination)) expect(share >= 0 && share <= 1).toBe(true);
      for (const { neededMm, zMm } of light!.openings) expect(Number.isFinite(neededMm + zMm)).toBe(true);
    }
  });
});

describe('what stands in the beam, told as it is', () => {
  const sensor = { widthMm: 23.4, heightMm: 15.6, pixelUm: 3.8 };
  const filtered = (plate: object, more: Partial<BodyElement> = {}): Train =>
    train([
      corrector({ backFocusMm: 55 }),
      part('drawer', 37.5, { kind: 'filter-drawer', glass: [{ thicknessMm: 2, ...plate }], ...more }),
      camera(17.5, { sensor })
    ]);
  const said = (made: Train, code: string) => assess(made).findings.find((each) => each.code === code);

  it('a filter off the axis is told as such, with what centring gives', () => {
    const off = said(filtered({ name: 'L', clearMm: 34, decentreMm: [3, 2] }), 'corner-light')!;
    expect(off.say('mm')).toBe(
      'One corner is dark: 49 % of the light, at least 90 % wanted. L in drawer is 3.6 mm off the axis; centred, the corner gets 100 %.'
    );
    const centred = said(filtered({ clearMm: 34, decentreMm: [0, 0] }), 'corner-light')!;
    expect(centred.level).toBe('passed');
  });

  it('says no distance where none will do, and the least that does where one does', () => {
    // 13 mm off the axis: even on the sensor, an opening of 34 leaves a corner dark.
    const never = checkTrain(filtered({ clearMm: 34, decentreMm: [9, 9] })).light!.filter!;
    expect(never.farthestZMm).toBeNull();
    const small = checkTrain(filtered({ clearMm: 30 })).light!.filter!;
    expect(small.farthestZMm).toBeGreaterThan(0);
  });

  it('a format without a clear aperture is told: it takes no light that anybody knows of', () => {
    expect(said(filtered({ format: '36 mm' }), 'clear-unknown')?.say('mm')).toContain('36 mm, has no clear aperture');
    expect(said(filtered({ format: '36 mm', clearMm: 34 }), 'clear-unknown')).toBeUndefined();
    expect(said(filtered({}, { holder: { format: '2in' } }), 'clear-unknown')).toBeDefined();
    expect(said(filtered({}), 'clear-unknown')).toBeUndefined();
  });

  it('infrared is judged slot by slot, and unstated is not none', () => {
    const wheel = (states: readonly (boolean | undefined)[], window: boolean | undefined): Train =>
      train([
        corrector({ backFocusMm: 55 }),
        part('wheel', 20, {
          kind: 'filter-wheel',
          glass: states.map((blocksInfrared, at) => ({
            slot: at + 1,
            name: `F${at + 1}`,
            thicknessMm: 2,
            ...(blocksInfrared === undefined ? {} : { blocksInfrared })
          }))
        }),
        camera(35, {
          sensor: { ...sensor, colour: true },
          glass: [{ thicknessMm: 2, ...(window === undefined ? {} : { blocksInfrared: window }) }]
        })
      ]);
    const codes = (states: readonly (boolean | undefined)[], window: boolean | undefined) =>
      assess(wheel(states, window))
        .findings.filter(({ code }) => code.startsWith('infrared'))
        .map(({ code, say }) => [code, [...say('mm').matchAll(/F\d/g)].map(([name]) => name).join(' ')]);
    expect(codes([true, true], false)).toEqual([]);
    expect(codes([true, false, true], false)).toEqual([['infrared', 'F2']]);
    expect(codes([true, undefined, false], false)).toEqual([
      ['infrared', 'F3'],
      ['infrared-unknown', 'F2']
    ]);
    expect(codes([true, false], undefined)).toEqual([['infrared-unknown', 'F2']]);
    expect(codes([false, false], true)).toEqual([]);
  });
});
