import jstat from 'jstat';
import { describe, expect, it } from 'vitest';
import { landings, packingList } from '../src/assembly/index.ts';
import { COMPARED_ROWS, compared } from '../src/compare/index.ts';
import { combineMeasurements } from '../src/drawer/index.ts';
import { ringDrawing } from '../src/drawing/index.ts';
import { tuneFrom, type Experiment } from '../src/experiment/index.ts';
import { halfWidth95, t95 } from '../src/stats/scatter.ts';
import { ringFor, type RingSpec } from '../src/finder/index.ts';
import { shortestRing } from '../src/finder/ring.ts';
import { tubeWays } from '../src/focus/index.ts';
import { measureBackground } from '../src/frame/background.ts';
import { skyLightOf } from '../src/frame/judge/skyLight.ts';
import { Facts, assess, checkTrain } from '../src/check/index.ts';
import { clockingsOf, jointsOf, lockTravel, threadPair } from '../src/joint/index.ts';
import { layoutOf } from '../src/shape/index.ts';
import type { BodyElement, Element, Port, Train } from '../src/train/index.ts';
import { plateFront } from '../src/length/axis.ts';
import { plateScaleOf } from '../src/frame/solved.ts';
import { dice } from './dice.ts';
import { drawer, female, male } from './drawer.ts';
import { camera, corrector, part, train } from './trains.ts';

/** Facts that a changed line once broke without any test noticing: each is named, and asked by itself. */

const { jStat } = jstat as unknown as { jStat: { studentt: { inv: (p: number, dof: number) => number } } };
const gap: Element = { id: 'gap', kind: 'gap', name: 'gap' };
const m48 = { sky: female('M48x0.75'), camera: male('M48x0.75') } as Partial<BodyElement>;

describe('rings made to measure', () => {
  const specFor = (face: Port): RingSpec =>
    ringFor(
      train([
        corrector({ backFocusMm: 55 }, { camera: face }),
        gap,
        camera(17.5, { sky: female('M48x0.75') as never })
      ]),
      'gap',
      { unit: 'mm', parts: [] }
    )!.spec;

  it('get a male half a millimetre shorter than its hole is deep, and six turns where the hole goes through', () => {
    expect(specFor(female('M48x0.75', 3))).toMatchObject({ sky: { gender: 'male', lengthMm: 2.5 } });
    const through = { ...(female('M48x0.75', 3) as object), through: true } as Port;
    expect(specFor(through)).toMatchObject({ sky: { gender: 'male', lengthMm: 4.5 } });
  });

  it('with two holes: as deep as the deeper where one goes on inside the other, else as both together', () => {
    expect(shortestRing(female('M54x0.75', 5), female('M48x0.75', 4))).toBe(5);
    expect(shortestRing(female('M54x0.75', 5), female('M48.5x0.75', 4))).toBe(9);
  });

  it('get an undercut only where 0.8 mm of wall are left under it', () => {
    const undercuts = (clearMm: number): number => {
      const spec: RingSpec = {
        lengthMm: 10,
        toleranceMm: 0.02,
        sky: female('M48x0.75', 4.5),
        camera: male('M48x0.75', 4),
        clearMm,
        outerMm: 54
      };
      return ringDrawing(spec, 'Ring').shapes.filter(
        (shape) => shape.kind === 'text' && shape.text.startsWith('undercut')
      ).length;
    };
    // The undercut is 46.8 across: 45.2 leaves 0.8 of wall, 45.3 leaves 0.75.
    expect(undercuts(45.1)).toBe(1);
    expect(undercuts(45.4)).toBe(0);
  });
});

describe('threads', () => {
  it('a plain lead at the tip of a lock-ring thread takes from its travel: 12 mm of M68×1 with 1 of it plain go to 8', () => {
    const long = { thread: 'M68x1', gender: 'male', lengthMm: 12, lockRing: true, reliefMm: 1 } as const;
    expect(lockTravel(threadPair(long, female('M68x1', 13)), 0)).toEqual({ minMm: 0, maxMm: 8 });
  });

  it('what is turned behind a joint of unknown start stays assumed, whatever joints follow', () => {
    const known = { startDeg: 0 };
    const made = train([
      part('a', 10, { sky: male('M63x1'), camera: male('M48x0.75') }),
      part('b', 10, {
        sky: { ...(female('M48x0.75') as object), ...known } as Port,
        camera: { bayonet: 'x', gender: 'male' }
      }),
      camera(20, { sky: { bayonet: 'x', gender: 'female' } as never })
    ]);
    const turned = clockingsOf(made, jointsOf(made));
    expect(turned.get('b')!.assumed).toBe(true);
    // A bayonet is known; what it hangs on is not.
    expect(turned.get('camera')!.assumed).toBe(true);
  });
});

describe('lengths', () => {
  it('the thickness of glass counts by what it shifts: 0.1 of n = 1.6 is 0.0375, by the rule of thumb a third', () => {
    const doubt = (glassRule: Train['glassRule']): number =>
      new Facts(
        train(
          [
            corrector({ backFocusMm: 55 }),
            part('drawer', 20, { kind: 'filter-drawer', glass: [{ thicknessMm: 2, toleranceMm: 0.1, index: 1.6 }] }),
            camera(35)
          ],
          { glassRule }
        )
      ).doubts.find(({ of }) => of === 'glass')!.halfWidthMm;
    expect(doubt('paraxial')).toBeCloseTo(0.1 * (1 - 1 / 1.6), 12);
    expect(doubt('third')).toBeCloseTo(0.1 / 3, 12);
  });

  it('a window of no stated place stands in the front third of a camera, any other plate in the middle', () => {
    expect(plateFront('camera', 17.5, { thicknessMm: 2 })).toBeCloseTo(0.35 * 15.5, 12);
    expect(plateFront('filter-drawer', 17.5, { thicknessMm: 2 })).toBeCloseTo(0.5 * 15.5, 12);
  });

  it('a ring without a stated diameter is drawn 2.5 mm wider than its thread on either side', () => {
    const made = train([part('ring', 10, m48), camera(20)]);
    expect(layoutOf(made, new Facts(made).ledger).items[0]!.outerRadiusMm).toBe(24 + 2.5);
  });

  it('instruments that contradict each other widen u by the Birge ratio over k − 1 (Birge 1932, from memory)', () => {
    const error = 0.02;
    const reading = (instrument: string, lengthMm: number) =>
      ({ lengthMm, instrument, instrumentErrorMm: error, takenAt: '2026-01-01' }) as never;
    const combined = combineMeasurements([reading('a', 10), reading('b', 10.2), reading('c', 10.1)])!;
    const variance = error ** 2 / 3;
    const birge = Math.sqrt((0.1 ** 2 + 0.1 ** 2) / variance / 2);
    expect(combined.standardMm).toBeCloseTo(Math.sqrt(variance / 3) * birge, 9);
  });

  it('a shim that would gain less than 0.015 mm is not worth opening a tin for', () => {
    const made = (residualMm: number): Train =>
      train([
        corrector({ backFocusMm: 55, toleranceMm: 0.3 }, { camera: male('M48x0.75') }),
        part('ring', 37.5 + residualMm, m48),
        camera(17.5, { sky: female('M48x0.75') as never })
      ]);
    const shims = drawer({ partId: 'S', kind: 'shim', lengthMm: 0.2, clearMm: 48.5 });
    const offered = (residualMm: number): number =>
      landings(assess(made(residualMm)), ['ring', 'camera'], shims).length;
    // 0.2 on −0.107 leaves 0.093: 0.014 better. On −0.108 it is 0.016.
    expect(offered(-0.107)).toBe(0);
    expect(offered(-0.108)).toBeGreaterThan(0);
  });
});

describe('light, load and focus', () => {
  it('a frame whose top points east has its camera at +90° (Calabretta & Greisen 2002, from memory)', () => {
    const s = 1 / 3600;
    const at = (cd: readonly [number, number, number, number]): number => {
      const reading = plateScaleOf(
        new Map([
          ['CD1_1', cd[0]],
          ['CD1_2', cd[1]],
          ['CD2_1', cd[2]],
          ['CD2_2', cd[3]]
        ])
      );
      return reading.ok ? reading.scale.angleDeg : NaN;
    };
    // Up in the frame goes with right ascension, which grows toward the east.
    expect(at([0, s, s, 0])).toBeCloseTo(90, 9);
    expect(at([0, -s, -s, 0])).toBeCloseTo(-90, 9);
    const turn = (20 * Math.PI) / 180;
    expect(at([-s * Math.cos(turn), s * Math.sin(turn), s * Math.sin(turn), s * Math.cos(turn)])).toBeCloseTo(20, 9);
  });

  const reduced = (more: Partial<Train['host']> = {}): Train => {
    const made = train([
      corrector({ backFocusMm: 60, magnification: 0.8 }, { camera: male('M48x0.75') }),
      part('ring', 42.5, { toleranceMm: 0.2, ...m48 }),
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);
    const focuser = { travelMm: 60, focusFromRackedInMm: 150 };
    return { ...made, host: { ...made.host, focuser, ...more } };
  };

  it('what is not known of the length shows at the draw tube as 1/m² of it (handbook §10)', () => {
    const facts = new Facts(reduced());
    expect(facts.focus!.uncertaintyMm).toBeCloseTo(facts.spread.halfWidth95Mm / 0.8 ** 2, 9);
  });

  it('tubes are told by how far they land from mid-travel', () => {
    const { focus } = new Facts(reduced());
    const [way] = tubeWays(reduced(), focus!, []);
    const middle = (focus!.extensionMm[0] + focus!.extensionMm[1]) / 2;
    expect(way!.offMiddleMm).toBeCloseTo(Math.abs(middle - 30), 9);
  });

  it('sag is as bad as the focus it costs at the edge, mm', () => {
    const made: Train = {
      ...train([
        part('a', 10, { massG: 200 }),
        camera(20, { massG: 800, sensor: { widthMm: 36, heightMm: 24, pixelUm: 4 } })
      ]),
      sag: [{ at: 'host', massG: 300, atMm: 60, gaugeAtMm: 60, resolutionMm: 0.01, series: [{ readMm: [0, 0.2, 0] }] }]
    };
    const sag = assess(made).findings.find(({ code }) => code === 'sag')!;
    expect(sag.figure!.value).toBeGreaterThan(0);
    expect(sag.badness).toBeCloseTo(sag.figure!.value, 12);
  });

  it('one dark edge is told, two alike are a fall-off of all sides', () => {
    const [columns, rows] = [40, 30];
    const random = dice(3);
    const mesh = (dark: (x: number) => boolean) =>
      ({
        columns,
        rows,
        noise: Float32Array.from(
          { length: columns * rows },
          (_, at) => (dark(at % columns) ? 7 : 10) * (1 + 0.004 * random.normal())
        )
      }) as never;
    expect(
      skyLightOf(
        mesh((x) => x < 3),
        true
      )!.darkEdge?.side
    ).toBe('left');
    expect(
      skyLightOf(
        mesh((x) => x < 3 || x >= columns - 3),
        true
      )!.darkEdge
    ).toBeUndefined();
    expect(
      skyLightOf(
        mesh(() => false),
        true
      )!.darkEdge
    ).toBeUndefined();
  });

  it('the noise of a plain sky is given back whole, within 1 %, though its tails are clipped', () => {
    const [width, height] = [512, 384];
    const random = dice(9);
    const pixels = Float32Array.from({ length: width * height }, () => 1000 + 10 * random.normal());
    const noise = [...measureBackground({ width, height, pixels }, 0.01).noise].sort((a, b) => a - b);
    expect(Math.abs(noise[noise.length >> 1]! / 10 - 1)).toBeLessThan(0.01);
  });
});

describe('experiments and lists', () => {
  it('Student’s t for 95 % is that of jStat, for every number of degrees of freedom', () => {
    for (let dof = 1; dof <= 200; dof++) {
      expect(Math.abs(t95(dof) / jStat.studentt.inv(0.975, dof) - 1)).toBeLessThan(0.0005);
    }
  });

  it('frames tell their own scatter: an interval goes with √(χ²/ν) and Student’s t, but not below what luck makes', () => {
    for (const dof of [2, 3, 8, 20]) {
      const t = jStat.studentt.inv(0.975, dof);
      expect(halfWidth95(4 * dof, dof)).toBeCloseTo(2 * t, 2);
      // Points that agree to a third of what they state do so by chance.
      expect(halfWidth95(0, dof)).toBeCloseTo(0.35 * t, 2);
    }
  });

  it('where hardly a degree of freedom is left, a prior on the scatter stands in for it: 95 of 100, whatever it is', () => {
    const { normal } = dice(3);
    const held = (scatter: number): number => {
      let count = 0;
      for (let at = 0; at < 2000; at++) {
        const half = halfWidth95((scatter * normal()) ** 2, 1);
        if (Math.abs(scatter * normal()) <= half) count++;
      }
      return count / 2000;
    };
    expect(held(1)).toBeGreaterThan(0.95);
    expect(held(2)).toBeGreaterThan(0.94);
  });

  it('rings to bring along are those within what the corrector may be error, or its tolerance', () => {
    const made = (more: object): Train =>
      train([
        corrector({ backFocusMm: 55, toleranceMm: 0.3, ...more }, { camera: male('M48x0.75') }),
        part('ring', 37.5, m48),
        camera(17.5, { sky: female('M48x0.75') as never })
      ]);
    const parts = drawer(...[37.25, 38.4, 39.4].map((lengthMm) => ({ partId: `R${lengthMm}`, lengthMm })));
    const brought = (more: object): string[] =>
      packingList(made(more), parts, () => true, 'mm').flatMap(({ key }) =>
        key.startsWith('ring ') ? [key.slice(5)] : []
      );
    expect(brought({})).toEqual(['R37.25', 'R38.4']);
    expect(brought({ uncertaintyMm: 0.1 })).toEqual(['R37.25']);
    expect(brought({ uncertaintyMm: 2 })).toEqual(['R37.25', 'R38.4', 'R39.4']);
  });

  it('a train whose prices are not all known has no price to compare', () => {
    const made = train([corrector({ backFocusMm: 55 }), part('a', 37.5, { partId: 'R-1' }), camera(17.5)]);
    const price = COMPARED_ROWS.find(({ id }) => id === 'price')!;
    const figure = (parts: ReturnType<typeof drawer>) => price.figure!(compared(made, parts));
    expect(figure(drawer({ partId: 'R-1', owned: false, price: 12 }))).toBe(12);
    expect(figure(drawer({ partId: 'R-1', owned: false }))).toBeNull();
  });

  it('the check that this file stands on: a plain train is on spec', () => {
    expect(checkTrain(train([corrector({ backFocusMm: 55 }), part('a', 37.5), camera(17.5)])).verdict).toBe('on-spec');
  });
});

describe('the next spacing to try', () => {
  it('is the best itself while that was not tried, else a good step away from it', () => {
    const tally = { best: 0, away: 0 };
    for (let seed = 1; seed <= 600; seed++) {
      const { uniform, normal } = dice(seed);
      const slope = 20 + 40 * uniform();
      const spread = 0.5 + 5 * uniform();
      const tried = Array.from({ length: 4 }, (_, at): Experiment => {
        const off = at === 0 && seed % 2 ? 0 : spread * (uniform() - 0.5);
        return { spacingMm: 55 + off, sweep: { astigmatismUm: slope * off + 8 * normal(), standardUm: 10 } };
      });
      const { bestMm, nextMm, model } = tuneFrom(tried);
      const spacings = tried.map(({ spacingMm }) => spacingMm).toSorted((a, b) => a - b);
      const areApart = spacings.every((each, at) => at === 0 || each - spacings[at - 1]! > 0.1);
      if (bestMm === null || nextMm === null || model !== 'linear' || !areApart) continue;
      const isTried = (mm: number): boolean => spacings.some((each) => Math.abs(each - mm) < 0.2);
      expect(isTried(nextMm)).toBe(false);
      const [least, most] = [Math.min(...spacings), Math.max(...spacings)];
      expect(nextMm).toBeGreaterThanOrEqual(least - 3);
      expect(nextMm).toBeLessThanOrEqual(most + 3);
      if (isTried(bestMm)) {
        tally.away++;
        expect(Math.abs(nextMm - bestMm)).toBeGreaterThan(0.3);
      } else if (bestMm > least - 3 && bestMm < most + 3) {
        tally.best++;
        expect(nextMm).toBeCloseTo(bestMm, 9);
      }
    }
    expect(Math.min(tally.best, tally.away)).toBeGreaterThan(20);
  });
});
