import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { apply, type BodyElement, type CameraElement, type Port, type Train } from '../src/train/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { clockingsOf, fullTurn, planRotation, rotationSetting, unscrewedDeg } from '../src/joint/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const thread = (gender: 'male' | 'female', lengthMm: number, more: object = {}): Port =>
  ({ thread: 'M48x0.75', gender, lengthMm, ...more }) as Port;

const simple = (seat: CameraElement['seat'] = {}, more: Partial<BodyElement> = {}): Train =>
  train([
    corrector({ backFocusMm: 55 }, { camera: thread('male', 4) }),
    part('ring', 37.5, { sky: thread('female', 5), camera: thread('male', 4), ...more }),
    camera(17.5, { sky: thread('female', 5), seat })
  ]);

const degOf = (made: Train, id: string) => clockingsOf(made).get(id)?.deg;

describe('clocking', () => {
  it('0.1 mm on a 0.75 mm pitch unscrews by 48° (handbook §3, a calculation)', () => {
    expect(unscrewedDeg(0.1, 0.75)).toBeCloseTo(48, 9);
    const turned = degOf(simple({ shimsMm: [0.1] }), 'camera')! - degOf(simple(), 'camera')!;
    expect(turned).toBeCloseTo(48, 9);
  });

  it('a rotation of a is bought with a shim of P·a/360 (handbook §3, a calculation)', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 359, noNaN: true }), (deg) => {
        expect(unscrewedDeg((0.75 * deg) / 360, 0.75)).toBeCloseTo(deg, 6);
      })
    );
  });

  it('a whole turn changes nothing', () => {
    expect(degOf(simple({ shimsMm: [0.75] }), 'camera')).toBeCloseTo(0, 9);
  });

  it('is relative until the owner has set where the threads start, then absolute', () => {
    expect(clockingsOf(simple()).get('camera')).toEqual({ deg: 0, assumed: true });
    const known = train([
      corrector(
        { backFocusMm: 55 },
        { sky: thread('male', 4, { startDeg: 0 }), camera: thread('male', 4, { startDeg: 90 }) }
      ),
      camera(55, { sky: thread('female', 5, { startDeg: 30 }) as never })
    ]);
    known.host = { ...known.host, camera: thread('female', 6, { startDeg: 0 }) };
    expect(clockingsOf(known).get('camera')).toEqual({ deg: 60, assumed: false });
  });

  it('what a rotator stands at turns what follows, not itself', () => {
    const made = simple({}, { kind: 'rotator', rotatorDeg: 35 });
    expect(degOf(made, 'ring')).toBe(0);
    expect(degOf(made, 'camera')).toBe(35);
  });

  it('a six-bolt face gives 60° steps: a wheel cannot sit at 90° (handbook §3, common practice, no source)', () => {
    const bolts = { bolts: { count: 6, circleMm: 70 } };
    const at = (rotationDeg: number) =>
      checkTrain(
        train([corrector({ backFocusMm: 55 }, { camera: bolts }), camera(55, { sky: bolts, seat: { rotationDeg } })])
      ).problems.filter(({ code }) => code === 'bolt-angle');
    expect(at(60)).toEqual([]);
    expect(at(-120)).toEqual([]);
    expect(at(90)).toMatchObject([{ severity: 'error', at: 'camera' }]);
  });
});

describe('the rotation planner', () => {
  it('turns the camera by 35° with a shim of 0.0729 mm, and says what that adds', () => {
    const [way] = planRotation(simple(), 'camera', 35).filter(({ by, at }) => by === 'shim' && at === 'camera');
    expect(way?.lengthMm).toBeCloseTo((0.75 * 35) / 360, 9);
    expect(way?.missDeg).toBeCloseTo(0, 9);
  });

  it('−35° is bought as +325°, because an opening only unscrews', () => {
    const [way] = planRotation(simple(), 'camera', -35).filter(({ by }) => by === 'shim');
    expect(way?.lengthMm).toBeCloseTo((0.75 * 325) / 360, 9);
  });

  it('a thinner shim does it where there is one to take out', () => {
    const [way] = planRotation(simple({ shimsMm: [0.3] }), 'camera', -48).filter(
      ({ at, by }) => by === 'shim' && at === 'camera'
    );
    expect(way?.lengthMm).toBeCloseTo(-0.1, 9);
  });

  it('prefers what costs no length: rotator first', () => {
    const ways = planRotation(simple({}, { kind: 'rotator' }), 'camera', 35);
    expect(ways[0]).toMatchObject({ by: 'rotator', at: 'ring', lengthMm: 0 });
    expect(ways.some(({ by }) => by === 'whole-train')).toBe(true);
  });

  it('uses only rings at hand, and says by how much that misses', () => {
    const [way] = planRotation(simple(), 'camera', 48, [0.1, 0.5]).filter(({ by }) => by === 'shim');
    expect(way?.shimsMm).toEqual([0.1]);
    expect(way?.missDeg).toBeCloseTo(0, 6);
  });

  /** A ring between corrector and camera that is held by anything but plain threads. */
  const heldBy = (sky: Port, below: Port, seat: BodyElement['seat'] = {}): Train =>
    train([
      corrector({ backFocusMm: 55 }, { camera: sky }),
      part('ring', 37.5, { sky: below, camera: thread('male', 4), seat }),
      camera(17.5, { sky: thread('female', 5) as never })
    ]);
  const slip = { slip: '2in', gender: 'male' as const };
  const bolts = { bolts: { count: 6, circleMm: 70 } };
  const others: readonly [string, Train][] = [
    ['bolts', heldBy(bolts, bolts, { rotationDeg: 60 })],
    ['slip', heldBy(slip, { ...slip, gender: 'female' })],
    ['lock-ring', heldBy(thread('male', 9, { lockRing: true }), thread('female', 12), { gapMm: 3, rotationDeg: 20 })],
    ['lock-ring', heldBy(thread('male', 9, { lockRing: true }), thread('female', 12))],
    ['rotator', simple({}, { kind: 'rotator', rotatorDeg: 10 })]
  ];

  it.each(others)('doing what it says by %s turns the element, and costs what it says', (by, before) => {
    fc.assert(
      fc.property(fc.integer({ min: -180, max: 180 }), (deg) => {
        const ways = planRotation(before, 'camera', deg).filter((way) => way.by === by);
        if (by !== 'bolts') expect(ways).toHaveLength(1);
        for (const way of ways) {
          const after = apply(before, { op: 'set', ...rotationSetting(before, way)! });
          const turned = fullTurn(degOf(after, 'camera')! - degOf(before, 'camera')! - way.deg + 1e-6);
          expect(turned).toBeCloseTo(0, 4);
          expect(fullTurn(way.deg - deg - way.missDeg + 1e-6)).toBeCloseTo(0, 4);
          expect(Math.abs(way.missDeg)).toBeLessThanOrEqual(by === 'bolts' ? 30 : 0);
          const grown = checkTrain(after).actual.totalMm - checkTrain(before).actual.totalMm;
          expect(grown).toBeCloseTo(way.lengthMm, 5);
        }
      })
    );
  });

  it('a lock ring gives the shorter way round, but never screws in beyond closed; what holds is told', () => {
    const long = heldBy(thread('male', 9, { lockRing: true }), thread('female', 12), { gapMm: 3 });
    const closed = heldBy(thread('male', 9, { lockRing: true }), thread('female', 12));
    const way = (made: Train, deg: number) => planRotation(made, 'ring', deg).find(({ by }) => by === 'lock-ring')!;
    expect(way(long, -90).lengthMm).toBeCloseTo(-0.1875, 9);
    expect(way(closed, -90).lengthMm).toBeCloseTo(0.5625, 9);
    expect(way(long, 90).turns).toBeCloseTo((9 - 3.1875) / 0.75, 6);
  });

  it('doing what it says turns the element by what it says', () => {
    fc.assert(
      fc.property(fc.integer({ min: -180, max: 180 }), fc.constantFrom([], [0.1], [0.4, 0.2]), (deg, shimsMm) => {
        const before = simple({ shimsMm });
        for (const way of planRotation(before, 'camera', deg)) {
          const setting = rotationSetting(before, way);
          if (!setting) continue;
          const after = apply(before, { op: 'set', ...setting });
          const turned = fullTurn(degOf(after, 'camera')! - degOf(before, 'camera')! - way.deg + 1e-6);
          expect(turned).toBeCloseTo(0, 4);
          const grown = checkTrain(after).actual.totalMm - checkTrain(before).actual.totalMm;
          expect(grown).toBeCloseTo(way.lengthMm, 9);
        }
      })
    );
  });
});
