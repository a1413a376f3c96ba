import { describe, expect, it } from 'vitest';
import { assess, saggingsOf } from '../src/check/index.ts';
import {
  balanceOf,
  counterweightAt,
  counterweightFor,
  counterweightMass,
  hangFor,
  placeFor,
  saggingOf,
  stiffnessOf,
  tiltOf
} from '../src/load/index.ts';
import type { SagTest, Train } from '../src/train/index.ts';
import { camera, part, train } from './trains.ts';

const gauge = (readMm: number[], more: Partial<SagTest> = {}): SagTest => ({
  at: 'camera',
  massG: 300,
  atMm: 60,
  gaugeAtMm: 60,
  resolutionMm: 0.01,
  series: [{ readMm }] as SagTest['series'],
  ...more
});

describe('a sag test', () => {
  // Handbook §7: 300 g at 60 mm, gauge at 60 mm, under 0.01 mm: k ≥ 1060 N·m/rad, tilt ≤ 0.57′ (a calculation).
  it('that moved less than the gauge can tell is bound by its resolution', () => {
    const stiffness = stiffnessOf(gauge([0, 0, 0, 0.005, 0]))!;
    expect(stiffness.isBound).toBe(true);
    expect(stiffness.stiffnessNmPerRad).toBeCloseTo(1059.1, 1);
    const { tiltArcmin, acrossArcmin } = saggingOf('camera', stiffness, 0.3 * 9.80665 * 0.06, 36);
    expect(tiltArcmin).toBeCloseTo(0.573, 3);
    expect(acrossArcmin).toBeCloseTo(2 * tiltArcmin, 9);
  });

  it('tells what comes back from what does not', () => {
    // Each cycle gives 0.10 and leaves 0.02: 0, 0.11, 0.02, 0.13, 0.04.
    const stiffness = stiffnessOf(gauge([0, 0.11, 0.02, 0.13, 0.04]))!;
    expect(stiffness.deflectionMm).toBeCloseTo(0.1, 12);
    expect(stiffness.hysteresisMm).toBeCloseTo(0.02, 12);
    expect(stiffness.cycles).toBe(2);
    expect(stiffness.stiffnessNmPerRad).toBeCloseTo((0.3 * 9.80665 * 0.06 * 60) / 0.1, 6);
  });

  it('scatters over its orientations, and has the gauge’s step in it (JCGM 100:2008 §4.2.3, §4.3.7)', () => {
    const series = [0.09, 0.1, 0.11].map((mm) => ({ readMm: [0, mm, 0] as [number, number, ...number[]] }));
    const stiffness = stiffnessOf(gauge([0, 0], { series: series as unknown as SagTest['series'] }))!;
    expect(stiffness.standardMm).toBeCloseTo(Math.hypot(0.01 / Math.sqrt(3), 0.005 / Math.sqrt(3)), 9);
  });

  it('with no cycle read to its end says nothing', () => {
    expect(stiffnessOf(gauge([0, 0.1]))).toBeUndefined();
  });

  it('tilts by M cos(altitude)/k: half at 60°, not at all in the zenith (statics)', () => {
    expect(tiltOf(1, 500)).toBeCloseTo(0.002, 12);
    expect(tiltOf(1, 500, 60)).toBeCloseTo(0.001, 12);
    expect(tiltOf(1, 500, 90)).toBeCloseTo(0, 12);
  });

  it('moves the focus at the sensor’s edge by half the width times the whole change', () => {
    const { edgeUm } = saggingOf('camera', stiffnessOf(gauge([0, 0, 0]))!, 1, 36);
    expect(edgeUm).toBeCloseTo((36 / 2) * 2 * (1 / 1059.118) * 1000, 2);
  });

  it('is told against the depth of focus, the latest of each joint', () => {
    const made: Train = {
      ...train([
        part('tube', 100, { massG: 300 }),
        camera(20, { massG: 500, sensor: { widthMm: 36, heightMm: 24, pixelUm: 4 } })
      ]),
      sag: [
        gauge([0, 2, 0], { at: 'camera', on: '2026-01-01T00:00:00Z' }),
        gauge([0, 0.005, 0], { at: 'camera', on: '2026-02-01T00:00:00Z' })
      ]
    };
    const { findings, facts } = assess(made);
    const [told] = saggingsOf(facts);
    // 500 g, 10 mm behind the joint before the camera.
    expect(told!.sagging.momentNm).toBeCloseTo(0.5 * 9.80665 * 0.01, 9);
    expect(told!.sagging.stiffness.isBound).toBe(true);
    expect(findings.find(({ code }) => code === 'sag')!.level).toBe('passed');
    const loose = assess({ ...made, sag: [gauge([0, 5, 0])] }).findings.find(({ code }) => code === 'sag')!;
    expect(loose.level).toBe('warning');
  });
});

describe('the balance of a tube', () => {
  // A see-saw: 4 kg 100 mm ahead, 0.8 kg 110 mm behind; the axis under their common centre (statics, Σ m x = 0).
  const made = (saddleAheadMm: number, more: object = {}): Train => {
    const plain = train([
      part('tube', 100, { massG: 300, massAtMm: 110 - 20 }),
      camera(20, { massG: 500, massAtMm: 22 - 10 })
    ]);
    return { ...plain, host: { ...plain.host, mount: { tubeMassG: 4000, tubeAheadMm: 100, saddleAheadMm, ...more } } };
  };
  const of = (document: Train) => balanceOf(document.host, assess(document).facts.load)!;

  it('says how far to slide, and which way', () => {
    const centre = (4000 * 100 - 300 * 90 - 500 * 112) / 4800;
    expect(of(made(centre)).slideMm).toBeCloseTo(0, 9);
    // The axis is 20 mm ahead of the centre: heavy at the camera, and slides toward the sky.
    const off = of(made(centre + 20, { slideMm: 15 }));
    expect(off.slideMm).toBeCloseTo(20, 9);
    expect(off.rearMomentNm).toBeCloseTo(4.8 * 9.80665 * 0.02, 9);
    expect(off.canSlide).toBe(false);
    expect(
      assess(made(centre + 20))
        .findings.find(({ code }) => code === 'balance')!
        .say('mm')
    ).toContain('slide it 20 mm toward the sky');
  });

  it('says what weight does instead, and where that cannot be', () => {
    const balance = of(made(100));
    const weight = counterweightFor(balance, 100, 300)!;
    // Back in balance with the weight on it.
    expect(4000 * 0 + 300 * (-90 - 100) + 500 * (-112 - 100) + weight * 200).toBeCloseTo(0, 6);
    // The other way round: a weight of one's own, and where it goes.
    const place = placeFor(balance, 100, 750)!;
    expect(300 * (-90 - 100) + 500 * (-112 - 100) + 750 * (place - 100)).toBeCloseTo(0, 6);
    expect(placeFor(balance, 100, weight)).toBeCloseTo(300, 9);
    expect(placeFor(balance, 100, 0)).toBeUndefined();
    expect(counterweightFor(balance, 100, 50)).toBeUndefined();
    expect(counterweightFor(balance, 100, 100)).toBeUndefined();
  });

  it('says what a heavier camera is tested with: 450 to 750 g, hang 300 g (handbook §7)', () => {
    expect(hangFor(450, 750, 60)).toEqual({ massG: 300, atMm: 60 });
    expect(hangFor(750, 450, 60)).toBeUndefined();
    expect(hangFor(450, 750, -5)).toBeUndefined();
    const mount = { tubeMassG: 4000, tubeAheadMm: 0, saddleAheadMm: 0, aboveAxisMm: 120 };
    // A lever: 8 kg at 120 mm, and what stands at 200.
    expect(counterweightMass(mount, 8000, 200)).toBeCloseTo(4800, 9);
    expect(counterweightMass(mount, 8000, 0)).toBeUndefined();
  });

  it('moves the counterweight with the mass: a lever about the polar axis', () => {
    const mount = { tubeMassG: 4000, tubeAheadMm: 0, saddleAheadMm: 0, aboveAxisMm: 120, counterweightG: 5000 };
    expect(counterweightAt(mount, 5000)).toBeCloseTo(120, 12);
    expect(counterweightAt({ ...mount, counterweightG: 2500 }, 5000)).toBeCloseTo(240, 12);
  });

  it('is not known to be right while something is not weighed', () => {
    const plain = made(100);
    const { massG: _, ...light } = plain.elements[0] as { massG?: number };
    const finding = assess({ ...plain, elements: [light as never, plain.elements[1]!] }).findings.find(
      ({ code }) => code === 'balance'
    )!;
    expect(finding.level).toBe('not-known');
  });
});
