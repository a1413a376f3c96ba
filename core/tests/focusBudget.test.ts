import { describe, expect, it } from 'vitest';
import { attemptBound, glassOffsets, steppingFor, tubeWays } from '../src/focus/index.ts';
import { apply, type Train } from '../src/train/index.ts';
import { assess, checkTrain } from '../src/check/index.ts';
import { drawer, female, male } from './drawer.ts';
import { camera, corrector, part, train } from './trains.ts';
import { demoDrawer, readDemo } from './demo.ts';

/** A ray: height and slope, mm and radians. */
type Ray = readonly [number, number];
const drift = ([y, u]: Ray, mm: number): Ray => [y + u * mm, u];
const lens = ([y, u]: Ray, focalMm: number): Ray => [y, u - y / focalMm];

const behind = (elements: Parameters<typeof train>[0], focuser: object, more: object = {}): Train => {
  const made = train(elements, { glassRule: 'paraxial', ...more });
  return { ...made, host: { ...made.host, focuser } };
};

describe('the draw tube’s budget', () => {
  it('without a corrector is b₀ + Σ glass shift − T (handbook §10)', () => {
    const made = behind(
      [
        part('tube', 60),
        part('filter', 10, { kind: 'filter', glass: [{ thicknessMm: 3, index: 1.5, role: 'filter' }] }),
        camera(20)
      ],
      { travelMm: 80, focusFromRackedInMm: 130 }
    );
    // T = 90, shift 3 (1 − 1/1.5) = 1.
    expect(checkTrain(made).focus!.extensionMm).toBeCloseTo(130 + 1 - 90, 9);
    expect(checkTrain(made).focus).toMatchObject({ verdict: 'reaches', travelMm: 80, tubeMm: null });
  });

  it('with a reducer is where paraxial rays meet on the sensor (ray transfer matrices, Kogelnik & Li 1966, from memory)', () => {
    for (const [magnification, spacing] of [
      [0.8, 60],
      [0.72, 91],
      [1, 55],
      [1.5, 80]
    ] as const) {
      const made = behind(
        [
          corrector({ backFocusMm: spacing, magnification, toleranceMm: 0.5 }, { lengthMm: 40 }),
          part('rest', spacing - 17.5),
          camera(17.5)
        ],
        { travelMm: 200, focusFromRackedInMm: 170 }
      );
      const { extensionMm } = checkTrain(made).focus!;
      const F = made.host.focalLengthMm;
      // The host as a thin lens whose focus lies 170 mm behind the racked-in face; the reducer’s shoulder 40 mm behind it.
      const focal = magnification === 1 ? Infinity : spacing / (1 - magnification);
      let ray: Ray = [10, -10 / F];
      ray = drift(ray, F - 170 + extensionMm! + 40);
      ray = drift(lens(ray, focal), spacing);
      expect(ray[0]).toBeCloseTo(0, 6);
    }
  });

  it('glass behind a reducer moves the draw tube by Δ/m² (handbook §10)', () => {
    const of = (thicknessMm: number) =>
      checkTrain(
        behind(
          [
            corrector({ backFocusMm: 60, magnification: 0.8, toleranceMm: 0.5 }),
            part('wheel', 20, { kind: 'filter-wheel', glass: [{ thicknessMm, index: 1.5, role: 'filter' }] }),
            part('rest', 22.5),
            camera(17.5)
          ],
          { travelMm: 200, focusFromRackedInMm: 170 }
        )
      ).focus!.extensionMm!;
    const small = 0.03;
    // A small change, so that m does not change with it: dΔ = t (1 − 1/1.5).
    expect((of(small) - of(0)) / (small / 3)).toBeCloseTo(1 / 0.8 ** 2, 2);
  });

  it('says when the tube cannot go in, or come out, far enough, and what would bring it to the middle', () => {
    const with_ = (focusFromRackedInMm: number) =>
      checkTrain(behind([part('tube', 80), camera(20)], { travelMm: 50, focusFromRackedInMm })).focus!;
    expect(with_(90)).toMatchObject({ verdict: 'no-inward', tubeMm: null });
    expect(with_(160).verdict).toBe('no-outward');
    expect(with_(160).tubeMm).toBeCloseTo(60 - 25, 9);
    expect(with_(125).verdict).toBe('reaches');
    // Where nothing is known of it, nothing is said; a lens focuses inside itself.
    expect(checkTrain(train([camera(20)])).focus).toBeNull();
    expect(checkTrain(readDemo('dormouse.json')).focus).toBeNull();
    expect(checkTrain(behind([camera(20)], { travelMm: 50 })).focus).toMatchObject({
      verdict: 'unknown',
      extensionMm: null
    });
  });

  it('attempts bound it: fully out is not enough, with the 50 mm tube fully in is too far (handbook §10)', () => {
    // T = 100, travel 80: b₀ > 180; with the tube b₀ < 150 + 50 … here T + 50 = 150, so b₀ lies nowhere: contradiction.
    const elements = [part('tube', 80), camera(20)];
    const made = behind(elements, { travelMm: 80 });
    const budget = assess(made).facts.focus!;
    expect(attemptBound(budget, 'out', 0)).toBeCloseTo(180, 9);
    expect(attemptBound(budget, 'in', 50)).toBeCloseTo(150, 9);
    const tried = (attempts: object[]) => checkTrain({ ...made, focusing: { attempts } } as Train);
    const open = tried([{ tube: 'out', boundMm: 180 }]);
    expect(open.focus).toMatchObject({ verdict: 'no-outward', extensionMm: null, rangeMm: null });
    const between = tried([
      { tube: 'out', boundMm: 180 },
      { tube: 'in', tubeMm: 100, boundMm: 200 }
    ]).focus!;
    expect(between.extensionMm).toBeCloseTo(90, 9);
    expect(between.rangeMm![0]).toBeLessThanOrEqual(80);
    expect(between.verdict).toBe('no-outward');
    const wrong = tried([
      { tube: 'out', boundMm: 180 },
      { tube: 'in', tubeMm: 50, boundMm: 150 }
    ]);
    expect(wrong.focus!.verdict).toBe('unknown');
    expect(wrong.problems.some(({ code }) => code === 'focus-contradicts')).toBe(true);
  });
});

describe('extension tubes', () => {
  it('Heron, closed, with focus 34 mm farther out, needs a 35 mm tube where the drawer holds a 50 and a 35', () => {
    const demo = readDemo('heron.json');
    const heron: Train = {
      ...demo,
      host: { ...demo.host, focuser: { ...demo.host.focuser, focusFromRackedInMm: 170 } }
    };
    const parts = demoDrawer();
    const ring = parts.find(({ partId }) => partId === 'R-03')!;
    const closed = apply(heron, {
      op: 'replace',
      id: 'rings',
      element: { ...(ring.element as object), id: 'rings', partId: 'R-03' } as Train['elements'][number]
    });
    const assessment = assess(closed);
    expect(assessment.facts.focus!.report.verdict).toBe('no-outward');
    const [best, next] = tubeWays(closed, assessment.facts.focus!, parts);
    expect(best!.parts.map(({ partId }) => partId)).toEqual(['TUBE-35']);
    expect(next!.parts.map(({ partId }) => partId)).toEqual(['TUBE-50']);
    // What is offered was tried: it reaches, and nothing else is wrong.
    const after = assess(apply(closed, best!.operation));
    expect(after.report.focus!.verdict).toBe('reaches');
    expect(after.errors).toEqual([]);
    expect(after.report.focus!.extensionMm).toBeCloseTo(best!.extensionMm[0], 9);
    // The corrector’s spacing is what it was.
    expect(after.ledger.residualMm).toBeCloseTo(assessment.ledger.residualMm!, 12);
  });

  it('agree with trying every pair of tubes that screws together', () => {
    const faces = { sky: male('M48x0.75'), camera: female('M48x0.75'), kind: 'extension-tube' };
    const parts = drawer(
      { partId: 'T-20', lengthMm: 20, quantity: 2, ...faces },
      { partId: 'T-35', lengthMm: 35, ...faces },
      { partId: 'T-M42', lengthMm: 30, ...faces, camera: female('M42x0.75') }
    );
    const made = behind([part('body', 40, { sky: male('M48x0.75') } as never), camera(20)], {
      travelMm: 30,
      focusFromRackedInMm: 130
    });
    const document: Train = { ...made, host: { ...made.host, camera: female('M48x0.75') } };
    const ways = tubeWays(document, assess(document).facts.focus!, parts);
    // 70 is needed: none 70, 20 leaves 50, 35 leaves 35, two of 20 leave 30, 20 and 35 leave 15.
    expect(ways.map(({ extensionMm: [mm] }) => Math.round(mm)).sort((a, b) => a - b)).toEqual([15, 15, 30, 35, 50, 70]);
    // Nothing asks for a length: of those that reach the shortest, 40 mm of tubes.
    expect(ways[0]!.lengthMm).toBe(40);
    expect(ways[0]!.verdict).toBe('reaches');
  });
});

describe('the focuser’s steps', () => {
  it('follow from the depth of focus: ±2 λ N² at f/7 is 54 µm, 11 steps of 4.8 µm (Born & Wolf, from memory)', () => {
    const { depthSteps, step } = steppingFor(7, 4.8);
    expect(depthSteps).toBeCloseTo((2 * 0.55 * 49) / 4.8, 9);
    expect(step).toBe(Math.round(2 * depthSteps));
    expect(steppingFor(2, 1000).step).toBe(1);
  });

  it('filters of another thickness have offsets: t (1 − 1/n), over m² behind a reducer', () => {
    const plates = [
      { name: 'L', thicknessMm: 2, index: 1.5 },
      { name: 'Ha', thicknessMm: 3, index: 1.5 }
    ];
    expect(glassOffsets(plates, 1)).toEqual([
      { name: 'L', steps: 0 },
      { name: 'Ha', steps: 333 }
    ]);
    expect(glassOffsets(plates, 1, 0.5)[1]!.steps).toBe(Math.round(1000 / 3 / 0.25));
    expect(glassOffsets([], 1)).toEqual([]);
  });
});
