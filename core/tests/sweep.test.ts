import { describe, expect, it } from 'vitest';
import { readStars, summaryOf, type FieldOptics } from '../src/frame/index.ts';
import { readSweep, scaledSweep, screwTurns, umPerUnit, type SweepFrame } from '../src/experiment/index.ts';
import { PIXEL_UM, sketched } from './frames.ts';

const POSITIONS = [-200, -150, -100, -50, 0, 50, 100, 150, 200];

/** A sweep of the simulated camera (invented, as all it shows is), with nights that are not alike. */
function swept(optics: Partial<FieldOptics>, positions: readonly number[] = POSITIONS, seed = 1): SweepFrame[] {
  return positions.map((positionUm, at) => {
    const { frame } = sketched({
      seed: seed * 100 + at,
      optics: { ...optics, defocusUm: positionUm },
      field: { count: 400 },
      conditions: { seeingPx: 3 + 0.2 * Math.sin(7 * at), driftPx: at % 3 }
    });
    return { positionUm, summary: summaryOf(readStars(frame), frame) };
  });
}

function read(frames: readonly SweepFrame[]) {
  const answer = readSweep(frames);
  if (!answer.ok) throw new Error(answer.message);
  return answer.sweep;
}

describe('a focus sweep', () => {
  const leaning = swept({
    tiltUm: 60,
    tiltDirectionDeg: 30,
    designCurvatureUm: 40,
    curvatureUmPerMm: 0,
    spacingErrorMm: 1,
    astigmatismUmPerMm: 60
  });

  // What went into the simulated camera has to come out again: within five of a hundred.
  it('gives back tilt, curvature and astigmatism of the sensor it was taken with', () => {
    const sweep = read(leaning);
    const [x, y] = sweep.tilt.slopeUm;
    expect(Math.abs(Math.hypot(x, y) / 60 - 1)).toBeLessThan(0.05);
    expect(Math.abs(sweep.tilt.directionDeg - 30)).toBeLessThan(3);
    expect(Math.abs(sweep.curvatureUm / 40 - 1)).toBeLessThan(0.05);
    expect(Math.abs(sweep.astigmatismUm / 120 - 1)).toBeLessThan(0.05);
    // The whole field is in focus where the simulated camera was focused.
    expect(Math.abs(sweep.bestUm)).toBeLessThan(3);
  });

  it('counted in another unit, and the other way round, is the same as if it had been read so', () => {
    const by = -2.5;
    const again = read(leaning.map((frame) => ({ ...frame, positionUm: frame.positionUm * by })));
    const scaled = scaledSweep(read(leaning), by);
    const flat = (value: unknown): number[] =>
      typeof value === 'number' ? [value] : Object.values(value as Record<string, unknown>).flatMap(flat);
    const [one, other] = [flat(scaled), flat(again)];
    expect(one).toHaveLength(other.length);
    one.forEach((value, at) => expect(Math.abs(value - other[at]!)).toBeLessThan(1e-3 * (Math.abs(value) + 1e-3)));
  });

  it('gives the other sign for the other side, with a hidden middle, best focus elsewhere', () => {
    const truth = {
      tiltUm: 90,
      tiltDirectionDeg: -120,
      designCurvatureUm: 50,
      curvatureUmPerMm: 0,
      spacingErrorMm: -0.8,
      obstruction: 0.4
    };
    const sweep = read(swept(truth, POSITIONS, 2).map((frame) => ({ ...frame, positionUm: frame.positionUm + 5000 })));
    const [x, y] = sweep.tilt.slopeUm;
    expect(Math.abs(Math.hypot(x, y) / 90 - 1)).toBeLessThan(0.05);
    expect(Math.abs(sweep.curvatureUm / 50 - 1)).toBeLessThan(0.05);
    expect(Math.abs(sweep.astigmatismUm / -96 - 1)).toBeLessThan(0.05);
    expect(Math.abs(sweep.bestUm - 5000)).toBeLessThan(4);
    // Regions by themselves lie on the same surface: bottom left the sensor stands too far, so focus lies nearer.
    for (const { x: u, y: v, radialUm, tangentialUm } of sweep.regions) {
      const rise = 90 * (u * Math.cos((-120 * Math.PI) / 180) + v * Math.sin((-120 * Math.PI) / 180));
      expect(Math.abs((radialUm + tangentialUm) / 2 - (50 * (u * u + v * v) - rise))).toBeLessThan(6);
    }
  });

  it('finds nothing where nothing is, and tells about what a step moves by how fast stars grow', () => {
    // Positions are given in steps of 4 μm, which nobody has said.
    const frames = swept({ designCurvatureUm: 0 }, POSITIONS, 3).map((frame) => ({
      ...frame,
      positionUm: frame.positionUm / 4
    }));
    const sweep = read(frames);
    expect(sweep.tilt.acrossUm).toBeLessThan(0.5);
    expect(Math.abs(sweep.astigmatismUm)).toBeLessThan(0.5);
    expect(Math.abs(sweep.curvatureUm)).toBeLessThan(0.5);
    expect(umPerUnit(sweep.curve[1]!, 5.5, 0, PIXEL_UM)).toBeGreaterThan(4 * 0.8);
    expect(umPerUnit(sweep.curve[1]!, 5.5, 0, PIXEL_UM)).toBeLessThan(4 * 1.2);
    expect(sweep.growthDoubt).toBeLessThan(0.2);
  });

  it('refuses a walk without a minimum, and says which way to go', () => {
    const out = leaning.filter(({ positionUm }) => positionUm >= 0);
    expect(readSweep(out)).toMatchObject({ ok: false, message: expect.stringMatching(/no minimum/) });
  });

  it('refuses too few positions, frames of another size and frames without stars', () => {
    const frames = leaning.slice(2, 7);
    expect(readSweep(frames.slice(1))).toMatchObject({ ok: false, message: expect.stringMatching(/5 positions/) });
    const other = { ...frames[0]!, summary: { ...frames[0]!.summary, widthPx: 600 } };
    expect(readSweep([other, ...frames.slice(1)])).toMatchObject({
      ok: false,
      message: expect.stringMatching(/one size/)
    });
    const dark = frames.map((frame) => ({ ...frame, summary: { ...frame.summary, stars: [] } }));
    expect(readSweep(dark)).toMatchObject({ ok: false, message: expect.stringMatching(/20 stars/) });
  });
});

describe('screws of a tilt plate', () => {
  const none = { covariance: [0, 0, 0] as [number, number, number] };

  it('stand on the plane they take out, and leave the distance as it is', () => {
    // 30 μm over a half diagonal of 15 mm: 2 μm a mm, 80 μm at 40 mm; a pitch of 0.5 mm makes 0.16 turns of it.
    const turns = screwTurns({ slopeUm: [0, 30], ...none }, 15, {
      screws: 3,
      radiusMm: 40,
      pitchMm: 0.5,
      kind: 'springs'
    });
    expect(turns.map(({ tooFarUm }) => Math.round(tooFarUm))).toEqual([80, -40, -40]);
    expect(turns[0]).toMatchObject({ screw: 1, pictureDeg: 90, way: 'clockwise' });
    expect(turns[0]!.turns).toBeCloseTo(0.16, 9);
    expect(turns[1]).toMatchObject({ way: 'anticlockwise' });
    expect(turns.reduce((sum, { tooFarUm }) => sum + tooFarUm, 0)).toBeCloseTo(0, 9);
  });

  it('a pushing screw goes the other way, four screws stand opposite in pairs', () => {
    const turns = screwTurns({ slopeUm: [30, 0], ...none }, 15, {
      screws: 4,
      radiusMm: 30,
      pitchMm: 0.4,
      kind: 'push-pull',
      firstDeg: 45
    });
    expect(turns.map(({ way }) => way)).toEqual(['anticlockwise', 'clockwise', 'clockwise', 'anticlockwise']);
    expect(turns[0]!.tooFarUm).toBeCloseTo(-turns[2]!.tooFarUm, 9);
  });

  it('in a mirrored picture the screw on the right stands on the left', () => {
    const plate = { screws: 4, radiusMm: 30, pitchMm: 0.4, kind: 'springs', firstDeg: 0, mirrored: true } as const;
    const turns = screwTurns({ slopeUm: [30, 0], ...none }, 15, plate);
    expect(Math.abs(turns[0]!.pictureDeg)).toBe(180);
    expect(turns[0]).toMatchObject({ way: 'anticlockwise' });
  });

  it('leaves alone what is less than one can turn, or than is known', () => {
    const plate = { screws: 3, radiusMm: 40, pitchMm: 0.5, kind: 'springs' } as const;
    expect(screwTurns({ slopeUm: [0, 1], ...none }, 15, plate).every(({ way }) => way === 'leave')).toBe(true);
    const unsure = screwTurns({ slopeUm: [0, 30], covariance: [2000, 0, 2000] }, 15, plate);
    expect(unsure.every(({ way }) => way === 'leave')).toBe(true);
  });
});
