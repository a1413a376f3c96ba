// What the map draws, zone by zone, of stars whose noise is known: common practice, no source.
import { describe, expect, it } from 'vitest';
import { zonesOf, type FrameSummary, type Star } from '../src/frame/index.ts';
import { dice } from './dice.ts';

const [WIDTH, HEIGHT] = [6000, 4000];

/** A field of stars, each the sum of what its place does and of noise of its own. */
function field(
  seed: number,
  { count = 900, noise = 0.03, sizeNoise = 0.05 } = {},
  shape: (x: number, y: number) => { e1: number; e2: number; fwhmPx: number } = () => ({ e1: 0, e2: 0, fwhmPx: 4 })
): FrameSummary {
  const { uniform, normal } = dice(seed);
  const stars = Array.from({ length: count }, (): Star => {
    const [x, y] = [uniform() * WIDTH, uniform() * HEIGHT];
    const mean = shape((x - WIDTH / 2) / (WIDTH / 2), (y - HEIGHT / 2) / (HEIGHT / 2));
    const [e1, e2] = [mean.e1 + noise * normal(), mean.e2 + noise * normal()];
    return {
      x: x + 0.5,
      y: y + 0.5,
      flux: 1e5,
      snr: 100,
      fwhmPx: mean.fwhmPx * Math.exp(sizeNoise * normal()),
      hfrPx: 2.4,
      ellipticity: Math.hypot(e1, e2),
      angleDeg: (Math.atan2(e2, e1) * 90) / Math.PI,
      lopsided: [0, 0],
      saturated: false
    };
  });
  return { widthPx: WIDTH, heightPx: HEIGHT, bottomUp: true, stars, field: { tracking: null } } as FrameSummary;
}

describe('zones of the map', () => {
  it('stay calm on a frame without a fault: one frame in twenty shows a zone by chance', () => {
    const frames = 300;
    let [stretched, apart] = [0, 0];
    for (let seed = 1; seed <= frames; seed++) {
      const zones = zonesOf(field(seed));
      expect(zones).toHaveLength(35);
      stretched += Number(zones.some(({ isStretched }) => isStretched));
      apart += Number(zones.some(({ isSizeApart }) => isSizeApart));
    }
    // 5 % of 300 frames, and three deviations of that: 15 ± 11.
    expect(stretched).toBeGreaterThan(3);
    expect(stretched).toBeLessThan(27);
    expect(apart).toBeLessThan(27);
  });

  it('tell the mean stretch with its direction, within what they say of it', () => {
    // Stretch along the radius as z², two thirds of 0.15 in the corners of the longer side.
    const outward = (x: number, y: number) => ({ e1: 0.15 * (x * x - y * y), e2: 0.15 * 2 * x * y, fwhmPx: 4 });
    let [inside, all] = [0, 0];
    for (let seed = 1; seed <= 40; seed++) {
      for (const { x, y, count, ellipticity, angleDeg, standard, isStretched, isOutward } of zonesOf(
        field(seed, {}, outward)
      )) {
        const truth = outward((x - WIDTH / 2) / (WIDTH / 2), (HEIGHT / 2 - y) / (HEIGHT / 2));
        const angle = (angleDeg * Math.PI) / 90;
        const off = Math.hypot(ellipticity * Math.cos(angle) - truth.e1, ellipticity * Math.sin(angle) - truth.e2);
        // A zone's mean is that of its places, not of its middle: 0.006 at most.
        inside += Number(off < 2.45 * standard + 0.006);
        all++;
        expect(count).toBeGreaterThan(3);
        if (Math.hypot(truth.e1, truth.e2) > 0.1)
          expect({ isStretched, isOutward }).toEqual({ isStretched: true, isOutward: true });
      }
    }
    // 2.45 deviations hold 95 % of a vector of two normal parts.
    expect(inside / all).toBeGreaterThan(0.93);
  });

  it('know circling from outward in every corner, whichever way the rows run', () => {
    const circling = (x: number, y: number) => ({ e1: -0.2 * (x * x - y * y), e2: -0.2 * 2 * x * y, fwhmPx: 4 });
    const zones = zonesOf(field(3, {}, circling));
    for (const at of [0, 6, 28, 34]) expect(zones[at]).toMatchObject({ isStretched: true, isOutward: false });
  });

  it('place a swollen corner where it is: the left top of the picture', () => {
    const swollen = (x: number, y: number) => ({ e1: 0, e2: 0, fwhmPx: x < -0.6 && y > 0.5 ? 6 : 4 });
    const [first, ...others] = zonesOf(field(5, {}, swollen)).filter(({ isSizeApart }) => isSizeApart);
    expect(first).toMatchObject({ x: WIDTH / 14, y: HEIGHT / 10 });
    expect(first!.size).toBeGreaterThan(1.2);
    expect(others.every(({ x, y }) => x < WIDTH * 0.3 && y < HEIGHT * 0.4)).toBe(true);
    // The same stars of a picture whose rows run down lie at its bottom.
    const [below] = zonesOf({ ...field(5, {}, swollen), bottomUp: false }).filter(({ isSizeApart }) => isSizeApart);
    expect(below).toMatchObject({ x: WIDTH / 14, y: HEIGHT * 0.9 });
  });

  it('leave out zones with hardly a star, and do not stumble over none', () => {
    expect(zonesOf(field(1, { count: 0 }))).toEqual([]);
    expect(zonesOf(field(1, { count: 30 })).every(({ count }) => count >= 4)).toBe(true);
  });

  it('are not moved by a few stars that are two', () => {
    const clean = field(7);
    const stars = clean.stars.map((star, at) =>
      at % 40 === 0 ? { ...star, ellipticity: 0.6, angleDeg: 20, fwhmPx: 9 } : star
    );
    expect(zonesOf({ ...clean, stars }).filter(({ isStretched, isSizeApart }) => isStretched || isSizeApart)).toEqual(
      []
    );
  });

  it('without what all stars share show what is left', () => {
    const drifted = field(9, {}, () => ({ e1: 0.2, e2: 0, fwhmPx: 4 }));
    const shared = {
      ...drifted,
      field: { ...drifted.field, tracking: { ellipticity: 0.2, angleDeg: 0, standard: 0.002 } }
    };
    expect(zonesOf(shared).every(({ isStretched }) => isStretched)).toBe(true);
    expect(zonesOf(shared, true).filter(({ isStretched }) => isStretched)).toEqual([]);
  });
});
