import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkTrain } from '../src/check/index.ts';
import type { Glass, Pickoff, Train } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const sensor = { widthMm: 23.4, heightMm: 15.6, pixelUm: 3.8 };

interface Made {
  pickoff?: Partial<Pickoff>;
  filter?: Glass;
  window?: Glass;
  imageCircleMm?: number;
  host?: Partial<Train['host']>;
}

/** Guider 17 mm long right behind a flattener, 20 mm of wheel, a camera of 18 mm: its prism 5 mm behind the shoulder. */
function guided({ pickoff = {}, filter, window, imageCircleMm, host }: Made = {}): Train {
  return {
    ...train([
      corrector({ backFocusMm: 55, magnification: 1, ...(imageCircleMm === undefined ? {} : { imageCircleMm }) }),
      part('guider', 17, {
        kind: 'off-axis-guider',
        pickoff: {
          fromSkyMm: 5,
          sideMm: 8,
          index: 1.5,
          innerEdgeMm: 14,
          guideFocus: { minMm: 30, maxMm: 45 },
          guideCamera: { flangeMm: 12.5 },
          ...pickoff
        }
      }),
      part('wheel', 20, { kind: 'filter-wheel', ...(filter ? { glass: [filter] } : {}) }),
      camera(18, { sensor, ...(window ? { glass: [window] } : {}) })
    ]),
    host: {
      name: 'h',
      kind: 'other',
      apertureMm: 200,
      focalLengthMm: 1600,
      camera: { slip: '2in', gender: 'female' },
      ...host
    }
  } as Train;
}

/** Where a paraxial ray through slabs meets the axis, mm: each slab bends it in and out (Snell, small angles). */
function crossing(aheadMm: number, slabs: readonly { airMm: number; thicknessMm: number; index: number }[]): number {
  // Height 1 at the start, aimed at a focus so far ahead.
  let height = 1;
  const angle = -1 / aheadMm;
  let at = 0;
  for (const { airMm, thicknessMm, index } of slabs) {
    height += angle * airMm + (angle / index) * thicknessMm;
    at += airMm + thicknessMm;
  }
  return at - height / angle;
}

describe('the guide camera sees the same focus', () => {
  it('as a ray finds it that is traced through the glass of both arms', () => {
    const mm = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(
        mm(0, 4),
        mm(1.4, 1.8),
        mm(1, 12),
        mm(1.4, 1.8),
        fc.boolean(),
        (thicknessMm, index, sideMm, own, mirror) => {
          const filter = { thicknessMm, index, fromSkyMm: 8 };
          const { guide } = checkTrain(guided({ filter, pickoff: { sideMm, index: own, mirror } }));
          // Main arm: from the reflecting point through the filter to the sensor, 55 behind the shoulder.
          const toFilter = 17 + 8 - 5 - sideMm / 2;
          const reachesMm = 55 - 5 - sideMm / 2;
          // The ray is aimed so that it comes to the sensor through the filter.
          const aheadMm = reachesMm - (crossing(1000, [{ airMm: toFilter, thicknessMm, index }]) - 1000);
          expect(crossing(aheadMm, [{ airMm: toFilter, thicknessMm, index }])).toBeCloseTo(reachesMm, 9);
          const guideArm = mirror ? [] : [{ airMm: 0, thicknessMm: sideMm, index: own }];
          expect(guide!.requiredMm).toBeCloseTo(crossing(aheadMm, guideArm), 9);
        }
      )
    );
  });

  it('does not take off what the maker has counted, and adds what stands before the guide sensor', () => {
    const plain = checkTrain(guided()).guide!.requiredMm;
    // 55 − 9 to the sensor, and the prism's own 8 (1 − 1/1.5).
    expect(plain).toBeCloseTo(46 + 8 / 3, 9);
    const window: Glass = { thicknessMm: 3, index: 1.5, fromSkyMm: 4 };
    expect(checkTrain(guided({ window })).guide!.requiredMm).toBeCloseTo(plain, 9);
    expect(checkTrain(guided({ window: { ...window, counted: false } })).guide!.requiredMm).toBeCloseTo(plain - 1, 9);
    // A guide camera's own window is counted as every window is; a filter before it is not (handbook §2).
    const withGlass = (more: Partial<Glass>): number => {
      const guideCamera = { flangeMm: 12.5, glass: [{ thicknessMm: 3, index: 1.5, ...more }] };
      return checkTrain(guided({ pickoff: { guideCamera } })).guide!.requiredMm;
    };
    expect(withGlass({})).toBeCloseTo(plain, 9);
    expect(withGlass({ counted: false })).toBeCloseTo(plain + 1, 9);
    expect(withGlass({ role: 'filter' })).toBeCloseTo(plain + 1, 9);
  });
});

describe('whether the guide camera gets there', () => {
  // 48.667 to the sensor, 12.5 of it inside the camera, the point itself 18 from the axis.
  const atMm = 46 + 8 / 3 - 12.5 + 18;

  it.each([
    [{ minMm: 30, maxMm: 60 }, 'reaches', 0],
    [{ minMm: 30, maxMm: 45 }, 'short', atMm - 45],
    [{ minMm: 58, maxMm: 70 }, 'long', atMm - 58]
  ] as const)('with a range of %o: %s', (guideFocus, verdict, missMm) => {
    const { guide } = checkTrain(guided({ pickoff: { guideFocus } }));
    expect(guide).toMatchObject({ verdict, rangeMm: [guideFocus.minMm, guideFocus.maxMm] });
    expect(guide!.atMm).toBeCloseTo(atMm, 9);
    expect(guide!.missMm).toBeCloseTo(missMm, 9);
  });

  it('is not known while something is not stated, and says what', () => {
    for (const missing of ['guideCamera', 'innerEdgeMm', 'guideFocus'] as const) {
      const { guide, problems } = checkTrain(guided({ pickoff: { [missing]: undefined } }));
      expect(guide).toMatchObject({ verdict: 'unknown', missMm: 0 });
      expect(problems.some(({ code, at }) => code === 'guide-unknown' && at === 'guider')).toBe(true);
    }
    expect(checkTrain(train([corrector({ backFocusMm: 55 }), camera(55, { sensor })])).guide).toBeNull();
  });

  it('one that does not reach is told with the tube it lacks', () => {
    const { problems } = checkTrain(guided({ pickoff: { guideFocus: { minMm: 30, maxMm: 45 } } }));
    const told = problems.find(({ code }) => code === 'guide-focus');
    expect(told).toMatchObject({ severity: 'warning', at: 'guider' });
    expect(told!.message).toMatch(/9\.17 mm/);
  });
});

describe('what the prism takes, and what it gets', () => {
  it('shades nothing where it stays outside ρ ≥ s(1 − z/E) + z/2N (handbook §6)', () => {
    // z = 55 − 5 = 50 at f/8: 3.125 more than the half-height over which it stands.
    const clear = 15.6 / 2 + 50 / 16;
    expect(checkTrain(guided({ pickoff: { innerEdgeMm: clear + 0.01 } })).guide!.shadow!.edge).toBe(0);
    const close = checkTrain(guided({ pickoff: { innerEdgeMm: clear - 1 } })).guide!.shadow!;
    expect(close.edge).toBeGreaterThan(0);
    expect(close.edge).toBeLessThan(0.5);
    // Over the short side the longer half-dimension faces it.
    const aside = checkTrain(guided({ pickoff: { innerEdgeMm: clear + 0.01, atDeg: 0 } })).guide!.shadow!;
    expect(aside.edge).toBeGreaterThan(0.5);
  });

  it('catches all of a guide star, or its square of the cone', () => {
    // The cone is z/N = 46/8 = 5.75 mm wide where the prism of 8 mm reflects it.
    expect(checkTrain(guided()).guide!.starLight).toBe(1);
    const small = checkTrain(guided({ pickoff: { sideMm: 3, fromSkyMm: 7.5 } })).guide!;
    expect(small.starLight).toBeCloseTo(9 / (Math.PI * (46 / 16) ** 2), 2);
  });

  it('looks so far off the axis, inside the image circle or not', () => {
    const { guide } = checkTrain(guided());
    // Telecentric: 14 + 4 mm at 1600 mm.
    expect(guide!.offAxisDeg).toBeCloseTo((Math.atan(18 / 1600) * 180) / Math.PI, 9);
    expect(guide!.inImageCircle).toBeNull();
    expect(checkTrain(guided({ imageCircleMm: 44 })).guide!.inImageCircle).toBe(true);
    expect(checkTrain(guided({ imageCircleMm: 35 })).guide!.inImageCircle).toBe(false);
  });
});
