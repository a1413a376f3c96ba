import { describe, expect, it } from 'vitest';
import { judgeField } from '../src/frame/judge/index.ts';
import { readStars, type Star, type StarReading } from '../src/frame/stars/index.ts';
import { sketched } from './frames.ts';
import { dice } from './dice.ts';

/** What a field of stars is not to be told: made of lists of stars alone, no picture between. */

const WIDE = 3000;
const HIGH = 2000;

/** A field of so many alike stars, spread evenly over it, changed by the test. */
function field(
  count: number,
  seed: number,
  change: (star: Star, random: ReturnType<typeof dice>) => Star
): StarReading {
  const random = dice(seed);
  const stars = Array.from({ length: count }, () =>
    change(
      {
        x: 20 + random.uniform() * (WIDE - 40),
        y: 20 + random.uniform() * (HIGH - 40),
        flux: 50_000,
        snr: 400,
        hfrPx: 1.9,
        fwhmPx: 3.4,
        ellipticity: 0.01,
        angleDeg: 180 * random.uniform() - 90,
        lopsided: [0, 0],
        saturated: false
      },
      random
    )
  );
  // Too few cells for a fall-off of light to be told.
  const mesh = {
    columns: 2,
    rows: 2,
    cell: 32,
    level: new Float32Array(4).fill(1000),
    noise: new Float32Array(4).fill(5)
  };
  return {
    widthPx: WIDE,
    heightPx: HIGH,
    stars,
    background: 1000,
    noise: 5,
    mesh,
    flatness: 1,
    centreFlatness: 1,
    bottomUp: true,
    rejected: { hot: 0, sharp: 0, wide: 0, edge: 0 }
  };
}

const causes = (reading: StarReading): string[] => judgeField(reading).findings.map(({ cause }) => cause);

describe('a field of alike stars whose sizes scatter', () => {
  it('is hardly ever told to be tilted, though the largest of many differences stands far above nothing', () => {
    const scattered = (star: Star, { normal }: ReturnType<typeof dice>): Star => ({
      ...star,
      fwhmPx: star.fwhmPx * Math.exp(0.08 * normal())
    });
    // The largest of six differences stands 4.5 σ above nothing in 2 of 1 000 (χ² of six degrees of freedom), 6 σ in 4 of 10⁶.
    const FIELDS = 3000;
    let told = 0;
    for (let seed = 1; seed <= FIELDS; seed++) if (judgeField(field(60, seed, scattered)).tilt?.significant) told++;
    expect(told).toBeLessThanOrEqual(1);
  });
});

describe('a tail makes a star longer along itself', () => {
  /** Stars with a tail to the right, and stretched in a direction so far from it. */
  const tailed = (offDeg: number, ellipticity = 0.14) =>
    field(200, 3, (star) => ({ ...star, lopsided: [0.12, 0], ellipticity, angleDeg: offDeg }));

  it.each([0, 15, -15])('which is no tracking: stretched %s° off the tail', (offDeg) => {
    expect(causes(tailed(offDeg))).toEqual(['collimation']);
  });

  it.each([25, -25, 90])('and a stretch %s° off the tail is tracking as well', (offDeg) => {
    expect(causes(tailed(offDeg)).sort()).toEqual(['collimation', 'tracking']);
  });

  it('and much more of it than the tail makes is tracking as well', () => {
    expect(causes(tailed(0, 0.3)).sort()).toEqual(['collimation', 'tracking']);
  });
});

describe('stars of hardly more than a pixel', () => {
  const judged = (seeingPx: number, seed: number) =>
    judgeField(readStars(sketched({ seed, conditions: { seeingPx }, field: { count: 500 } }).frame));

  it.each([0.4, 0.7, 0.9, 1, 1.1])('of %s px are told to be undersampled, and no fault of their shape', (seeingPx) => {
    for (const seed of [1, 2, 3]) {
      const { findings } = judged(seeingPx, seed);
      expect(findings.map(({ cause }) => cause)).toEqual(['unclear']);
      expect(findings[0]!.message).toContain('undersampled');
    }
  });

  it('of 1.4 px are judged, and nothing is wrong with them', () => {
    for (const seed of [1, 2, 3]) expect(judged(1.4, seed).findings).toEqual([]);
  });
});
