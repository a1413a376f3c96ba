// A card before the sensor, drawn here as a half plane or a corner; what the picture then says of the plate is held
// against where its screws were put. Common practice, no source.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { withFirstSeen, withSecondSeen, rowOrderOperation, screwTurns } from '../src/experiment/index.ts';
import { readStars, summaryOf, withRowOrder, type Frame } from '../src/frame/index.ts';
import { apply, rowOrderOf, type TiltPlate } from '../src/train/index.ts';
import { readDemo } from './demo.ts';
import { dice } from './dice.ts';
import { plainFrame } from './frames.ts';

const RAD = Math.PI / 180;
const apart = (a: number, b: number): number => Math.abs(((((a - b + 180) % 360) + 360) % 360) - 180);

/** Sky of 900 over a bias of 500, vignetted, with a card's edge across it: `fromMiddle` half diagonals out. */
function covered(deg: number | undefined, { bottomUp = true, fromMiddle = 0.35, seed = 1 } = {}): Frame {
  const [width, height] = [900, 640];
  const { normal } = dice(seed);
  const half = Math.hypot(width, height) / 2;
  const frame = plainFrame(width, height, (x, y) => {
    const [u, down] = [(x - width / 2) / half, (y - height / 2) / half];
    const v = bottomUp ? down : -down;
    const out = deg === undefined ? -1 : u * Math.cos(deg * RAD) + v * Math.sin(deg * RAD);
    // Not at the sensor itself: its edge is soft.
    const card = 1 / (1 + Math.exp((out - fromMiddle) / 0.05));
    const sky = 900 * (1 - 0.3 * (u * u + v * v)) * (0.1 + 0.9 * card);
    return Math.round(500 + sky + Math.sqrt(sky) * normal());
  });
  return { ...frame, bottomUp };
}
const shade = (frame: Frame) => summaryOf(readStars(frame), frame).shade;

describe('a side of the light that is covered', () => {
  it.each([0, 37, 90, 145, 210, 270, 330])('at %d° is told where it is, whichever way the rows run', (deg) => {
    for (const bottomUp of [true, false]) {
      const told = shade(covered(deg, { bottomUp, seed: deg + 3 }));
      expect(apart(told!.deg, deg)).toBeLessThan(12);
    }
  });

  it('is not told of a frame that is vignetted alike all round', () => {
    expect(shade(covered(undefined))).toBeUndefined();
  });
});

describe('a plate by two frames with the light covered at its screws', () => {
  it('stands where it was put, mirrored or not', () => {
    fc.assert(
      fc.property(
        fc.record({ deg: fc.integer({ min: -179, max: 180 }), mirrored: fc.boolean(), screws: fc.constantFrom(3, 4) }),
        fc.tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 })),
        fc.boolean(),
        ({ deg, mirrored, screws }, [one, two], said) => {
          const real = { screws, radiusMm: 35, pitchMm: 0.5, kind: 'springs', firstDeg: deg, mirrored } as TiltPlate;
          const still = { slopeUm: [0, 0] as [number, number], covariance: [1, 0, 1] as [number, number, number] };
          const [first, second] = screwTurns(still, 20, real).map(({ pictureDeg }) => pictureDeg);
          const begun = withFirstSeen({ ...real, firstDeg: 12, mirrored: said, confirmed: true }, first! + one);
          expect(begun).not.toHaveProperty('confirmed');
          const found = withSecondSeen(begun, second! + two);
          expect(found).toMatchObject({ confirmed: true, mirrored });
          expect(apart(found!.firstDeg!, deg)).toBeLessThanOrEqual(10);
        }
      )
    );
  });

  it('is not told where the second was covered at neither neighbour', () => {
    const plate = withFirstSeen({ screws: 4, radiusMm: 35, pitchMm: 0.5, kind: 'springs' }, 20);
    expect(withSecondSeen(plate, 200)).toBeUndefined();
    expect(withSecondSeen(plate, 25)).toBeUndefined();
  });
});

describe('which way rows run', () => {
  it('a file that says it is believed; one that does not takes what is known of its camera', () => {
    const said = covered(90);
    expect(withRowOrder(said, 'top-down').bottomUp).toBe(true);
    expect(withRowOrder({ ...said, rowsAssumed: true }, 'top-down').bottomUp).toBe(false);
    expect(withRowOrder({ ...said, rowsAssumed: true }, undefined).bottomUp).toBe(true);
  });

  it('turned over, what was kept of its frames is turned with them, and back it is as it was', () => {
    const train = readDemo('long-tom.json');
    const tuning = {
      experiments: [
        {
          spacingMm: 86,
          sweep: { astigmatismUm: 12, standardUm: 2, tiltUm: [30, -14] as [number, number], tiltStandardUm: 3 },
          corners: [
            { fwhmPx: 3, ellipticity: 0.1, angleDeg: 40 },
            null,
            null,
            { fwhmPx: 4, ellipticity: 0, angleDeg: 0 }
          ]
        }
      ],
      plate: { screws: 3, radiusMm: 35, pitchMm: 0.5, kind: 'springs', firstDeg: 70, mirrored: false, confirmed: true }
    } as NonNullable<typeof train.tuning>;
    const before = { ...train, tuning };
    const turned = apply(before, rowOrderOperation(before, 'top-down', 'bottom-up')!);
    expect(rowOrderOf(turned)).toBe('top-down');
    const [entry] = turned.tuning!.experiments!;
    expect(entry!.sweep!.tiltUm).toEqual([30, 14]);
    expect(entry!.corners).toEqual([
      null,
      { fwhmPx: 4, ellipticity: 0, angleDeg: 0 },
      { fwhmPx: 3, ellipticity: 0.1, angleDeg: -40 },
      null
    ]);
    // What a screw does to the picture's top it does to its bottom now, by as much.
    const [up] = screwTurns({ slopeUm: [30, -14], covariance: [1, 0, 1] }, 20, tuning.plate!);
    const [down] = screwTurns({ slopeUm: [30, 14], covariance: [1, 0, 1] }, 20, turned.tuning!.plate!);
    expect(down).toMatchObject({ tooFarUm: expect.closeTo(up!.tooFarUm, 9), way: up!.way });
    const back = apply(turned, rowOrderOperation(turned, 'bottom-up', 'top-down')!);
    expect(back.tuning).toEqual(tuning);
  });
});
