// What the simulated camera adds to stars, and that it is told from what a spacing does. Common practice, no source.
import { describe, expect, it } from 'vitest';
import { Facts } from '../src/check/index.ts';
import { NO_FAULTS, cameraOf, type HiddenTruth } from '../src/experiment/index.ts';
import { readStars, summaryOf, type FrameSummary } from '../src/frame/index.ts';
import { readDemo } from './demo.ts';
import { sketched, type Sketch } from './frames.ts';

const read = (sketch: Sketch): FrameSummary => {
  const { frame } = sketched(sketch);
  return summaryOf(readStars(frame), frame);
};
const causes = ({ field }: FrameSummary, surerThan: number): string[] =>
  field.findings.filter(({ confidence }) => confidence > surerThan).map(({ cause }) => cause);

describe('a field that turns while it is exposed', () => {
  it.each([0.15, 0.25, 0.5, 1, 2])('by %s° is never surely a spacing, however long its stars', (rotationDeg) => {
    for (let seed = 1; seed <= 2; seed++) {
      const summary = read({ seed, widthPx: 1500, heightPx: 1000, conditions: { rotationDeg } });
      expect(causes(summary, 0.5)).toEqual([]);
      expect(summary.field.findings[0]?.message).toContain('Either the field turned');
    }
  });

  it.each([
    ['circling', -1],
    ['circling, further', -1.6],
    ['pointing outward', 1.2]
  ])('is not blamed for a spacing: %s', (_what, spacingErrorMm) => {
    for (let seed = 1; seed <= 2; seed++) {
      const { field } = read({ seed, widthPx: 1500, heightPx: 1000, optics: { spacingErrorMm } });
      expect(field.findings[0]).toMatchObject({ cause: 'spacing' });
      expect(field.findings[0]!.message).not.toContain('turned');
    }
  });
});

describe('what is in a frame beside stars', () => {
  const conditions = { nebulaAdu: 700, trails: 2, gradientAdu: 300, gradientDirectionDeg: 40 };

  it('hides few of them, and is no spacing, tilt or drift', () => {
    for (let seed = 1; seed <= 2; seed++) {
      const summary = read({ seed, conditions });
      const plain = read({ seed }).field.count;
      // The fainter of them drown in its light.
      expect(summary.field.count / plain).toBeGreaterThan(0.55);
      expect(summary.field.count / plain).toBeLessThan(1.05);
      expect(causes(summary, 0.5).filter((cause) => cause !== 'light')).toEqual([]);
    }
  });

  it('defects of a sensor are no stars', () => {
    for (let seed = 1; seed <= 2; seed++) {
      const summary = read({ seed, conditions: { hotPixels: 800, badColumns: 8, glowAdu: 400, bandingE: 4 } });
      const plain = read({ seed }).field.count;
      expect(summary.field.count / plain).toBeGreaterThan(0.9);
      expect(summary.field.count / plain).toBeLessThan(1.05);
      expect(causes(summary, 0.5).filter((cause) => cause !== 'light')).toEqual([]);
    }
  });

  it('leaves stars and their noise where they are: the same seed, brighter', () => {
    const [plain, bright] = [sketched({ seed: 3 }), sketched({ seed: 3, conditions: { gradientAdu: 1000 } })];
    expect(bright.stars).toEqual(plain.stars);
    const mean = ({ frame }: typeof plain): number =>
      frame.planes[0]!.reduce((sum: number, value) => sum + value, 0) / frame.planes[0]!.length;
    // A gradient from 0 to its whole brings half of it on average.
    expect(mean(bright) - mean(plain)).toBeGreaterThan(495);
    expect(mean(bright) - mean(plain)).toBeLessThan(505);
  });

  it('a pinched element gives every star three corners', () => {
    const { field } = read({ optics: { pinchUm: 26, pinchDirectionDeg: 30 }, conditions: { seeingPx: 2.4 } });
    expect(field.findings.map(({ message }) => message).join()).toContain('pinched');
  });
});

describe('units of a corrector', () => {
  const optics = (truth: Partial<HiddenTruth>, seed = 1) =>
    cameraOf(new Facts(readDemo('long-tom.json')), { ...NO_FAULTS, ...truth }, seed, 4)!.optics;

  it('are the same in every frame, and each another', () => {
    expect(optics({ unit: 3 }, 5)).toEqual(optics({ unit: 3 }, 9));
    const curvatures = Array.from({ length: 12 }, (_, unit) => optics({ unit }).designCurvatureUm);
    expect(new Set(curvatures).size).toBe(12);
    // Of either sign: neither may be what is always there.
    expect(Math.min(...curvatures)).toBeLessThan(0);
    expect(Math.max(...curvatures)).toBeGreaterThan(0);
  });

  it('a tuned back focus makes no other glass of it', () => {
    const train = readDemo('long-tom.json');
    const tuned = structuredClone(train);
    for (const element of tuned.elements) {
      if ('corrector' in element && element.corrector) element.corrector.tunedMm = 86.4;
    }
    const glass = (of: typeof train) => cameraOf(new Facts(of), NO_FAULTS, 1, 4)!.optics.designCurvatureUm;
    expect(glass(tuned)).toBe(glass(train));
  });
});
