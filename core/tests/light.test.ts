import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  DEPTHS,
  coneAt,
  distanceFor,
  driftPixels,
  dustDistance,
  dustShadow,
  exposureFactor,
  fieldOfView,
  fullDiameter,
  illumination,
  illuminationMap,
  lensFocalLength,
  lensFromScales,
  magnificationAt,
  pupilBehind,
  scaleOf,
  type Bar,
  type Beam,
  type Hole,
  type Optics
} from '../src/light/index.ts';
import { assess, checkTrain } from '../src/check/index.ts';
import type { Train } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const TELECENTRIC = Infinity;

const hole = (beam: Beam, zMm: number, clearMm: number, more: Partial<Hole> = {}): Hole => ({
  beam,
  zMm,
  clearMm,
  fieldScale: 1,
  kind: 'round',
  atMm: [0, 0],
  ...more
});
const through = (...holes: Hole[]): Optics => ({ holes, bars: [], obstruction: 0 });

describe('reduction and scale (handbook §5, calculations)', () => {
  it('a reducer 0.7× at 105 mm has 350 mm; 3.5 mm farther back it is 0.69×', () => {
    const lens = lensFocalLength(105, 0.7)!;
    expect(lens).toBeCloseTo(350, 9);
    expect(magnificationAt(108.5, lens)).toBeCloseTo(0.69, 9);
    expect(2032 * magnificationAt(108.5, lens)).toBeCloseTo(1402, 0);
    expect(distanceFor(0.69, lens)).toBeCloseTo(108.5, 9);
    expect(lensFocalLength(55, 1)).toBeUndefined();
    expect(lensFromScales([105, 0.7], [108.5, 0.69])).toBeCloseTo(350, 9);
  });

  it('the pupil of an 805 mm refractor behind 0.79× at 58.3 mm lies 389 mm behind the sensor', () => {
    expect(pupilBehind(805, 58.3, lensFocalLength(58.3, 0.79)!)).toBeCloseTo(-389, 0);
  });

  it('fields, exposure, drift and depth of focus', () => {
    const minutes = (side: number, focal: number) => fieldOfView(side, focal) * 60;
    expect([minutes(17.7, 2032), minutes(13.4, 2032)].map((each) => Number(each.toFixed(1)))).toEqual([29.9, 22.7]);
    expect([minutes(17.7, 1422), minutes(13.4, 1422)].map((each) => Number(each.toFixed(1)))).toEqual([42.8, 32.4]);
    // f/10 to f/7: about half.
    expect(exposureFactor(10, 7)).toBeCloseTo(0.49, 9);
    expect(driftPixels(1.5, scaleOf(3.8, 1000)) / driftPixels(1.5, scaleOf(3.8, 700))).toBeCloseTo(1 / 0.7, 9);
    // 206.265 p / F (plate formula).
    expect(scaleOf(3.8, 634)).toBeCloseTo(1.2363, 3);
    // ±2 λ N² at 550 nm, f/5.51: architecture.md.
    expect(DEPTHS.quarterWave(5.51)).toBeCloseTo(0.0334, 4);
    expect(2 * DEPTHS.criticalZone(5)).toBeCloseTo(4.88 * 0.00055 * 25, 9);
    expect(DEPTHS.blur(4, 0.005)).toBeCloseTo(0.02, 9);
  });

  it('full illumination asks for 35.8 mm at f/4 and 32.6 at f/7, 30 mm before a sensor of 28.3 mm', () => {
    const needed = (fRatio: number) => fullDiameter({ fRatio, pupilMm: TELECENTRIC }, 28.3 / 2, 30);
    expect(needed(4)).toBeCloseTo(35.8, 1);
    expect(needed(7)).toBeCloseTo(32.6, 1);
  });

  it('dust: from the shadow to the distance and back', () => {
    expect(dustDistance(800, 3.8, 5)).toBeCloseTo(15.2, 9);
    expect(dustShadow(dustDistance(800, 3.8, 5), 3.8, 5)).toBeCloseTo(800, 9);
  });
});

/** Image of a point by matrices of rays (height, angle): 2 × 2, as textbooks have them (from memory). */
type Matrix = readonly [number, number, number, number];
const times = ([a, b, c, d]: Matrix, [e, f, g, h]: Matrix): Matrix => [
  a * e + b * g,
  a * f + b * h,
  c * e + d * g,
  c * f + d * h
];
const space = (mm: number): Matrix => [1, mm, 0, 1];
const lensOf = (focalMm: number): Matrix => [1, 0, -1 / focalMm, 1];

describe('the exit pupil, by ray transfer matrices', () => {
  it('stands where the stop at the objective is imaged', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 200, max: 3000, noNaN: true }),
        fc.double({ min: 0.5, max: 0.95, noNaN: true }),
        fc.double({ min: 40, max: 150, noNaN: true }),
        fc.double({ min: 0.9, max: 1.1, noNaN: true }),
        (focalMm, magnification, publishedMm, share) => {
          const lensMm = lensFocalLength(publishedMm, magnification)!;
          const distanceMm = publishedMm * share;
          const m = magnificationAt(distanceMm, lensMm);
          // Objective, then the reducer where it stands: s = d/m before the objective's focus.
          const between = focalMm - distanceMm / m;
          fc.pre(between > 10 && Math.abs(between - lensMm) > 1);
          const system = times(lensOf(lensMm), space(between));
          // Imaging: the B of space(x) · system is 0.
          const [, b, , d] = system;
          const imagedMm = -b / d;
          expect(pupilBehind(focalMm, distanceMm, lensMm)).toBeCloseTo(distanceMm - imagedMm, 4);
          // The sensor is where light from infinity meets: the A of it is 0.
          const whole = times(system, lensOf(focalMm));
          expect(-whole[0] / whole[2]).toBeCloseTo(distanceMm, 4);
          // And the focal length of both together is m times the objective's.
          expect(-1 / whole[2]).toBeCloseTo(m * focalMm, 4);
        }
      )
    );
  });
});

/** Area two circles share, over that of the first: the published formula of the lens (from memory, MathWorld 9.8–14). */
function sharedByCircles(r: number, R: number, apart: number): number {
  if (apart >= r + R) return 0;
  if (apart <= Math.abs(R - r)) return Math.min(1, (R / r) ** 2);
  const a = r * r * Math.acos((apart * apart + r * r - R * R) / (2 * apart * r));
  const b = R * R * Math.acos((apart * apart + R * R - r * r) / (2 * apart * R));
  const c = 0.5 * Math.sqrt((-apart + r + R) * (apart + r - R) * (apart - r + R) * (apart + r + R));
  return (a + b - c) / (Math.PI * r * r);
}

/** Random numbers that are the same at every run (mulberry32). */
function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * Share of rays that come through, each traced from a point of a pupil far ahead straight to the sensor: the other way
 * to the same number, sharing no line with it.
 */
function traced(field: readonly [number, number], optics: Optics, rays: number, random: () => number): number {
  let passed = 0;
  let sent = 0;
  while (sent < rays) {
    const [u, v] = [2 * random() - 1, 2 * random() - 1];
    const rho = Math.hypot(u, v);
    if (rho > 1 || rho < optics.obstruction) continue;
    sent++;
    /** Where the ray stands at a distance before its focus: from the pupil's point toward the field's. */
    const at = ({ beam: { fRatio, pupilMm }, zMm, fieldScale }: Hole | Bar): [number, number] => {
      const [hx, hy] = [field[0] * fieldScale, field[1] * fieldScale];
      if (!Number.isFinite(pupilMm)) return [hx + (u * zMm) / (2 * fRatio), hy + (v * zMm) / (2 * fRatio)];
      const radius = Math.abs(pupilMm) / (2 * fRatio);
      const side = Math.sign(pupilMm);
      const share = zMm / pupilMm;
      return [hx + (side * u * radius - hx) * share, hy + (side * v * radius - hy) * share];
    };
    const clears = optics.holes.every((each) => {
      const [x, y] = at(each);
      const [dx, dy] = [x - each.atMm[0], y - each.atMm[1]];
      return each.kind === 'round'
        ? Math.hypot(dx, dy) <= each.clearMm / 2
        : Math.max(Math.abs(dx), Math.abs(dy)) <= each.clearMm / 2;
    });
    const hits = optics.bars.some((each) => {
      const [x, y] = at(each);
      const angle = (each.fromDeg * Math.PI) / 180;
      const along = x * Math.cos(angle) + y * Math.sin(angle);
      const across = y * Math.cos(angle) - x * Math.sin(angle);
      return along >= each.innerEdgeMm && Math.abs(across) <= each.widthMm / 2;
    });
    if (clears && !hits) passed++;
  }
  return passed / rays;
}

const anyBeam: fc.Arbitrary<Beam> = fc.record({
  fRatio: fc.double({ min: 1.2, max: 30, noNaN: true }),
  pupilMm: fc.oneof(
    fc.constant(Infinity),
    fc.double({ min: 150, max: 3000, noNaN: true }),
    fc.double({ min: -3000, max: -150, noNaN: true })
  )
});
const anyHole = (beam: Beam): fc.Arbitrary<Hole> =>
  fc.record({
    beam: fc.constant(beam),
    zMm: fc.double({ min: 1, max: 120, noNaN: true }),
    fieldScale: fc.constant(1),
    kind: fc.constantFrom('round' as const, 'square' as const),
    clearMm: fc.double({ min: 5, max: 80, noNaN: true }),
    atMm: fc.tuple(fc.double({ min: -4, max: 4, noNaN: true }), fc.double({ min: -4, max: 4, noNaN: true }))
  });
const anyBar = (beam: Beam): fc.Arbitrary<Bar> =>
  fc.record({
    beam: fc.constant(beam),
    zMm: fc.double({ min: 1, max: 120, noNaN: true }),
    fieldScale: fc.constant(1),
    innerEdgeMm: fc.double({ min: 0, max: 25, noNaN: true }),
    widthMm: fc.double({ min: 1, max: 20, noNaN: true }),
    fromDeg: fc.oneof(fc.constantFrom(0, 90, 180, 270), fc.double({ min: 0, max: 360, noNaN: true }))
  });
const anyField = fc.tuple(fc.double({ min: -22, max: 22, noNaN: true }), fc.double({ min: -16, max: 16, noNaN: true }));
const anyOptics = anyBeam.chain((beam) =>
  fc.record({
    holes: fc.array(anyHole(beam), { minLength: 1, maxLength: 6 }),
    bars: fc.array(anyBar(beam), { maxLength: 1 }),
    obstruction: fc.oneof(fc.constant(0), fc.double({ min: 0.1, max: 0.6, noNaN: true }))
  })
);

describe('illumination', () => {
  it('of one round opening is the area two circles share', () => {
    fc.assert(
      fc.property(
        anyBeam,
        fc.double({ min: 1, max: 120, noNaN: true }),
        fc.double({ min: 5, max: 80, noNaN: true }),
        anyField,
        (beam, zMm, clearMm, field) => {
          const cone = coneAt(beam, field, zMm);
          const expected = sharedByCircles(cone.radius, clearMm / 2, Math.hypot(cone.x, cone.y));
          expect(illumination(field, through(hole(beam, zMm, clearMm)))).toBeCloseTo(expected, 3);
        }
      ),
      { numRuns: 500 }
    );
  });

  it('is what a Monte-Carlo of rays finds, through any openings, with stalk and obstruction', () => {
    const random = seeded(7);
    const rays = 8000;
    fc.assert(
      fc.property(anyField, anyOptics, (field, optics) => {
        const share = illumination(field, optics);
        const found = traced(field, optics, rays, random);
        // Five standard deviations, and what the integration is said to be good for.
        const sigma = Math.sqrt(Math.max(share * (1 - share), 1 / rays) / rays);
        expect(Math.abs(found - share)).toBeLessThan(5 * sigma + 2e-3);
      }),
      { numRuns: 150, seed: 11 }
    );
  });

  it('is never lowered by a larger opening, nor raised by a stalk', () => {
    fc.assert(
      fc.property(anyField, anyOptics, fc.double({ min: 0, max: 20, noNaN: true }), (field, optics, more) => {
        const before = illumination(field, optics);
        const larger = { ...optics, holes: optics.holes.map((each) => ({ ...each, clearMm: each.clearMm + more })) };
        expect(illumination(field, larger)).toBeGreaterThanOrEqual(before - 2e-3);
        expect(illumination(field, { ...optics, bars: [] })).toBeGreaterThanOrEqual(before - 2e-3);
        expect(before).toBeGreaterThanOrEqual(0);
        expect(before).toBeLessThanOrEqual(1);
      }),
      { numRuns: 300 }
    );
  });

  it('moving an opening toward the sensor never lowers the light at heights inside it', () => {
    fc.assert(
      fc.property(
        anyBeam,
        anyField,
        fc.double({ min: 1, max: 120, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 5, max: 80, noNaN: true }),
        (beam, field, zMm, share, clearMm) => {
          fc.pre(Math.hypot(...field) < clearMm / 2);
          const at = (z: number) => illumination(field, through(hole(beam, z, clearMm)));
          expect(at(zMm * share)).toBeGreaterThanOrEqual(at(zMm) - 1e-3);
        }
      ),
      { numRuns: 300 }
    );
  });

  it('turning everything about the axis changes nothing', () => {
    fc.assert(
      fc.property(anyField, anyOptics, fc.double({ min: 0, max: 360, noNaN: true }), ([x, y], optics, turnDeg) => {
        const round = optics.holes.map((each): Hole => ({ ...each, kind: 'round' }));
        const angle = (turnDeg * Math.PI) / 180;
        const turn = ([a, b]: readonly [number, number]): [number, number] => [
          a * Math.cos(angle) - b * Math.sin(angle),
          a * Math.sin(angle) + b * Math.cos(angle)
        ];
        const turned: Optics = {
          holes: round.map((each) => ({ ...each, atMm: turn(each.atMm) })),
          bars: optics.bars.map((each) => ({ ...each, fromDeg: each.fromDeg + turnDeg })),
          obstruction: optics.obstruction
        };
        expect(illumination(turn([x, y]), turned)).toBeCloseTo(illumination([x, y], { ...optics, holes: round }), 2);
      }),
      { numRuns: 300 }
    );
  });

  it('a map has every cell where it belongs', () => {
    const optics = through(hole({ fRatio: 4, pupilMm: Infinity }, 30, 30));
    const map = illuminationMap([36, 24], [9, 6], optics);
    expect(map).toHaveLength(54);
    expect(map[0]).toBeCloseTo(illumination([-16, -10], optics), 2);
    expect(map[4 + 2 * 9]).toBeCloseTo(illumination([0, -2], optics), 2);
    // Darker to the corners, the same in all four.
    expect(map[0]).toBeLessThan(map[4 + 2 * 9]!);
    expect(map[0]).toBeCloseTo(map[53]!, 9);
  });

  it('at the sensor itself an opening is an edge', () => {
    const optics = through(hole({ fRatio: 5, pupilMm: Infinity }, 0, 20));
    expect(illumination([9, 0], optics)).toBe(1);
    expect(illumination([11, 0], optics)).toBe(0);
  });
});

const sensor = (widthMm: number, heightMm: number) => ({ widthMm, heightMm, pixelUm: 4 });

/** A flattener at f/4, a ring of 30 mm with an opening, a filter in it, a camera. */
function lit(more: { clearMm?: number; filter?: object; sensorSize?: [number, number]; ring?: object } = {}): Train {
  const [wide, high] = more.sensorSize ?? [24, 15];
  return {
    ...train([
      corrector({ backFocusMm: 55, magnification: 1 }),
      part('ring', 37.5, {
        ...(more.clearMm === undefined ? {} : { clearMm: more.clearMm }),
        ...(more.filter ? { glass: [more.filter] } : {}),
        ...more.ring
      }),
      camera(17.5, { sensor: sensor(wide, high) })
    ]),
    host: {
      name: 'h',
      kind: 'refractor',
      apertureMm: 100,
      focalLengthMm: 400,
      camera: { slip: '2in', gender: 'female' }
    }
  } as Train;
}

describe('the light of a train', () => {
  it('is not known without a sensor, and is judged without any opening', () => {
    expect(checkTrain(train([corrector({ backFocusMm: 55 }), camera(17.5)])).light).toBeNull();
    const { light } = checkTrain(lit());
    expect(light).toMatchObject({
      magnification: { published: 1, reckoned: 1 },
      focalLengthMm: 400,
      fRatio: 4,
      exitPupilMm: 400,
      exitPupilFrom: 'reckoned',
      illumination: { centre: 1, edge: 1, corner: 1 },
      filter: null
    });
  });

  it('counts an opening at its far edge, air-equivalent, glass in front of it left out', () => {
    const { light } = checkTrain(
      lit({ clearMm: 40, filter: { thicknessMm: 3, index: 1.5, clearMm: 34, fromSkyMm: 10 } })
    );
    const bore = light!.openings.find(({ what, from }) => what === 'bore' && from === 'stated')!;
    // 55 physical, 3 mm of glass of 1.5 behind it: 1 mm less (t (1 − 1/n)).
    expect(bore).toMatchObject({ at: 'ring', clearMm: 40 });
    expect(bore.zMm).toBeCloseTo(54, 9);
    const filter = light!.openings.find(({ what }) => what === 'filter')!;
    expect(filter.zMm).toBeCloseTo(44, 9);
    const half = Math.hypot(24, 15) / 2;
    expect(filter.neededMm).toBeCloseTo(2 * half * (1 - 44 / 400) + 44 / 4, 9);
    expect(light!.openings[0]!.cornerLoss).toBeGreaterThan(0);
  });

  it('says which opening costs most, and that taking it away gives back what it says', () => {
    const small = lit({ clearMm: 36, filter: { thicknessMm: 2, clearMm: 26, fromSkyMm: 20 } });
    const { light } = checkTrain(small);
    const [worst] = light!.openings;
    expect(worst).toMatchObject({ at: 'ring', what: 'filter' });
    const without = checkTrain(lit({ clearMm: 36, filter: { thicknessMm: 2, fromSkyMm: 20 } })).light!;
    expect(light!.illumination.corner + worst!.cornerLoss).toBeCloseTo(without.illumination.corner, 3);
  });

  it.each([90, 80, 97])('the smallest filter, and the farthest, leave the corners %d %%', (percent) => {
    const filter = { thicknessMm: 2, clearMm: 30, fromSkyMm: 18 };
    const made = (change: object, at = 18) => ({
      ...lit({ filter: { ...filter, ...change, fromSkyMm: at } }),
      cornerLightPercent: percent
    });
    const { smallestClearMm, farthestZMm } = checkTrain(made({})).light!.filter!;
    expect(checkTrain(made({ clearMm: smallestClearMm })).light!.illumination.corner).toBeCloseTo(percent / 100, 2);
    const zMm = checkTrain(made({})).light!.openings.find(({ what }) => what === 'filter')!.zMm;
    expect(checkTrain(made({}, 18 + zMm - farthestZMm)).light!.illumination.corner).toBeCloseTo(percent / 100, 2);
  });

  it('openings ahead of a reducer stand in the beam of the host', () => {
    const reduced = {
      ...lit(),
      elements: [
        corrector({ backFocusMm: 55, magnification: 0.8 }, { lengthMm: 20, clearMm: 44 }),
        part('ring', 37.5),
        camera(17.5, { sensor: sensor(24, 15) })
      ]
    } as Train;
    const { light } = checkTrain(reduced);
    expect(light).toMatchObject({ focalLengthMm: 320, fRatio: 3.2 });
    const faces = light!.openings.filter(({ what, from }) => what === 'bore' && from === 'stated');
    // Sky face: d/m + its length before the host's own focus; camera face: 55 before the sensor.
    expect(faces.map(({ zMm }) => zMm).sort((a, b) => a - b)).toEqual([55, 55 / 0.8 + 20]);
    const ahead = faces.find(({ zMm }) => zMm > 60)!;
    const z = 55 / 0.8 + 20;
    const half = Math.hypot(24, 15) / 2 / 0.8;
    expect(ahead.neededMm).toBeCloseTo(2 * half * (1 - z / 400) + z / 4, 9);
  });

  it('a thread is an upper bound; what is only guessed takes no light', () => {
    const { light } = checkTrain(
      lit({
        sensorSize: [60, 60],
        ring: { sky: { thread: 'M42x0.75', gender: 'female' }, camera: { thread: 'M42x0.75', gender: 'male' } }
      })
    );
    const guesses = light!.openings.filter(({ from }) => from === 'guess');
    for (const { cornerLoss } of guesses) expect(cornerLoss).toBe(0);
    expect(assess(lit()).report.light!.openings.every(({ from }) => from === 'guess' || from === 'thread')).toBe(true);
  });

  it('no train, however odd, gives a number that is none', () => {
    const odd: Partial<Train['host']>[] = [
      { workingFRatio: 1.2 },
      { workingFRatio: 30 },
      { exitPupilMm: 20 },
      { exitPupilMm: 0 },
      { exitPupilMm: -20 },
      { obstruction: 0.99 },
      { openings: [{ name: 'baffle', clearMm: 0.001, behindFaceMm: -500 }] }
    ];
    for (const host of odd) {
      for (const sensorSize of [
        [0.1, 0.1],
        [200, 150]
      ] as [number, number][]) {
        const base = lit({ clearMm: 10, sensorSize });
        const { light } = checkTrain({ ...base, host: { ...base.host, ...host } });
        const numbers = JSON.stringify(light, (_key, value: unknown) =>
          typeof value === 'number' && !Number.isFinite(value) ? 'NOT A NUMBER' : value
        );
        expect(numbers).not.toContain('NOT A NUMBER');
      }
    }
  });
});
