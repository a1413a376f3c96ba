// A plate that stands otherwise than was said: what its screws do is reckoned here from heights at their places, by the
// plane through them (three points), which the code under test has no part in. Common practice, no source.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TiltPlate } from '../src/train/index.ts';
import {
  screwTurns,
  turnedScrewDeg,
  whereTurned,
  withFirstSeen,
  withSecondSeen,
  type ScrewTurn
} from '../src/experiment/index.ts';

const HALF_MM = 21.6;
const RAD = Math.PI / 180;
const none = { covariance: [1e-6, 0, 1e-6] as [number, number, number] };

/** Slope of the plane through heights at places of the picture, μm over the half diagonal, by least squares. */
function slopeOf(places: readonly { deg: number; um: number; radiusMm: number }[]): [number, number] {
  // Screws stand evenly round: the sums of sines and cosines vanish, and their squares are n/2.
  const share = (axis: (rad: number) => number): number =>
    (places.reduce((sum, { deg, um }) => sum + um * axis(deg * RAD), 0) * 2) / places.length;
  const toHalf = HALF_MM / places[0]!.radiusMm;
  return [share(Math.cos) * toHalf, share(Math.sin) * toHalf];
}

/** What turning does to the sensor of a plate as it really is, μm: + away from the telescope. */
function turned(told: readonly ScrewTurn[], real: TiltPlate): [number, number] {
  const { screws, firstDeg = 90, mirrored = false, pitchMm, radiusMm, kind } = real;
  return slopeOf(
    told.map(({ screw, turns, way }) => {
      const seen = firstDeg + (360 / screws) * (screw - 1);
      const inward = way === 'leave' ? 0 : way === 'clockwise' ? turns * pitchMm * 1000 : -turns * pitchMm * 1000;
      return { deg: mirrored ? 180 - seen : seen, um: kind === 'springs' ? -inward : inward, radiusMm };
    })
  );
}

const plate: TiltPlate = { screws: 3, radiusMm: 35, pitchMm: 0.5, kind: 'springs', firstDeg: 90 };
const tilt = fc
  .record({ um: fc.integer({ min: 40, max: 300 }), deg: fc.integer({ min: -180, max: 179 }) })
  .map(({ um, deg }): [number, number] => [um * Math.cos(deg * RAD), um * Math.sin(deg * RAD)]);

/** A correction made as told on a plate that is really otherwise. */
function corrected(slopeUm: [number, number], said: TiltPlate, real: TiltPlate): [number, number] {
  const [dx, dy] = turned(screwTurns({ slopeUm, ...none }, HALF_MM, said), real);
  return [slopeUm[0] + dx, slopeUm[1] + dy];
}
const told = (slopeUm: readonly [number, number]) => ({ slopeUm, standardUm: 1 });

describe('a correction that was made', () => {
  it('on a plate as it was said takes the tilt out, and says so', () => {
    fc.assert(
      fc.property(tilt, fc.boolean(), fc.constantFrom(3, 4), (slope, mirrored, screws) => {
        const said = { ...plate, mirrored, screws } as TiltPlate;
        const after = corrected(slope, said, said);
        expect(Math.hypot(...after)).toBeLessThan(0.25 * Math.hypot(...slope));
        expect(whereTurned(told(slope), told(after), said)).toEqual({ kind: 'as-described' });
      })
    );
  });

  it('on a plate that stands otherwise gives two it may be, and the true one is among them', () => {
    fc.assert(
      fc.property(
        tilt,
        fc.boolean(),
        fc.boolean(),
        fc.integer({ min: -180, max: 179 }),
        fc.constantFrom(3, 4),
        (slope, saidMirrored, isMirrored, firstDeg, screws) => {
          const said = { ...plate, mirrored: saidMirrored, screws } as TiltPlate;
          const real = { ...said, mirrored: isMirrored, firstDeg };
          const after = corrected(slope, said, real);
          const answer = whereTurned(told(slope), told(after), said);
          if (answer.kind !== 'elsewhere') {
            // Then what it did lies near the tilt or opposite: nothing is offered that is not so.
            expect(['as-described', 'opposite', 'unclear']).toContain(answer.kind);
            return;
          }
          const off = answer.plates.map((each) =>
            (each.mirrored ?? false) === isMirrored
              ? Math.abs((((((each.firstDeg ?? 90) - firstDeg + 180) % 360) + 360) % 360) - 180)
              : Infinity
          );
          // Small turns are left out, which moves it by some degrees.
          expect(Math.min(...off)).toBeLessThan(15);
        }
      )
    );
  });

  it('with the true one of the two chosen the next correction takes the tilt out', () => {
    const real: TiltPlate = { ...plate, firstDeg: 210, mirrored: true };
    const first: [number, number] = [120, -60];
    const second = corrected(first, plate, real);
    const answer = whereTurned(told(first), told(second), plate);
    if (answer.kind !== 'elsewhere') throw new Error(answer.kind);
    const [, mirrored] = answer.plates;
    const third = corrected(second, mirrored, real);
    expect(Math.hypot(...third)).toBeLessThan(0.2 * Math.hypot(...second));
    expect(whereTurned(told(second), told(third), mirrored)).toEqual({ kind: 'as-described' });
  });

  it('that went the other way says that the screws do', () => {
    const real: TiltPlate = { ...plate, kind: 'push-pull' };
    const after = corrected([100, 20], plate, real);
    expect(whereTurned(told([100, 20]), told(after), plate)).toEqual({ kind: 'opposite', plate: real });
  });

  it('says nothing where the tilt was small, or something else was turned', () => {
    expect(whereTurned(told([2, 1]), told([0, 0]), plate)).toEqual({ kind: 'unclear', why: 'small' });
    expect(whereTurned(told([0, 0]), told([0, 0]), plate)).toEqual({ kind: 'unclear', why: 'small' });
    expect(whereTurned(told([100, 0]), told([100, 5]), plate)).toEqual({ kind: 'unclear', why: 'not-as-told' });
    expect(whereTurned(told([100, 0]), told([-300, 5]), plate)).toEqual({ kind: 'unclear', why: 'not-as-told' });
  });
});

describe('one screw that was turned by itself', () => {
  const turn = fc.record({
    deg: fc.integer({ min: -179, max: 180 }),
    turns: fc.constantFrom(0.25, 0.5, 1),
    way: fc.constantFrom('clockwise' as const, 'anticlockwise' as const),
    kind: fc.constantFrom('springs' as const, 'push-pull' as const)
  });

  it('is found where it stands, by the plane through three heights of which only its own changed', () => {
    fc.assert(
      fc.property(tilt, turn, (before, { deg, turns, way, kind }) => {
        const real: TiltPlate = { ...plate, kind };
        // Pushed apart the sensor comes nearer the camera's side there; drawn together, the other way.
        const um = ((way === 'clockwise') === (kind === 'push-pull') ? 1 : -1) * turns * real.pitchMm * 1000;
        const [dx, dy] = slopeOf(
          [0, 120, 240].map((on) => ({ deg: deg + on, um: on === 0 ? um : 0, radiusMm: real.radiusMm }))
        );
        const after: [number, number] = [before[0] + dx, before[1] + dy];
        const found = turnedScrewDeg(told(before), told(after), real, { turns, way }, HALF_MM);
        expect(typeof found).toBe('number');
        expect(Math.abs((((((found as number) - deg + 180) % 360) + 360) % 360) - 180)).toBeLessThan(1e-6);
      })
    );
  });

  it('is not told of a change that is small, or far larger than the turn makes', () => {
    const one = { turns: 0.25, way: 'clockwise' as const };
    expect(turnedScrewDeg(told([10, 0]), told([10.5, 0]), plate, one, HALF_MM)).toBe('small');
    expect(turnedScrewDeg(told([10, 0]), told([900, 0]), plate, one, HALF_MM)).toBe('not-as-told');
    expect(turnedScrewDeg(told([10, 0]), told([20, 0]), plate, one, HALF_MM)).toBe('not-as-told');
  });

  it('of screw 1 and then of screw 2 a plate is known, mirrored or not', () => {
    for (const mirrored of [false, true]) {
      const real: TiltPlate = { ...plate, firstDeg: 20, mirrored };
      const seen = [20, 140].map((deg) => (mirrored ? 180 - deg : deg));
      const found = withSecondSeen(withFirstSeen(plate, seen[0]!), seen[1]!);
      expect(found).toEqual({ ...real, confirmed: true });
    }
  });
});
