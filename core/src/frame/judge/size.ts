import { radians } from '../../stats/angles.ts';
import { robustFit, varianceOf } from '../robust.ts';
import type { Star, StarReading } from '../stars/index.ts';
import { median, type Placed } from './placed.ts';

/** How the size of stars goes over a field: by direction where the sensor is tilted, alike all round where the field is bent. */
export interface Size {
  /** From the smallest to the largest stars of the rim, %, and where the largest are, degrees anticlockwise from +x. */
  tilt: { pct: number; directionDeg: number; sigmas: number };
  /** How much larger stars in the corners are than those of the middle, alike in all, %. */
  corners: { pct: number; standardPct: number; sigmas: number };
}

/** Second moment of a star, px²: blurs of different origin add up in it. */
const momentOf = ({ fwhmPx, ellipticity }: Star): number => {
  const ratio = 1 - ellipticity;
  // fwhm is that of √(a b); (a² + b²)/2 is what adds up.
  return (fwhmPx * fwhmPx * (1 + ratio * ratio)) / (2 * ratio);
};

/** Second moments over the field, over the typical one: even parts (curvature) and parts that differ by direction (tilt). */
function fitSize(stars: readonly Placed[]) {
  const typical = median(stars.map(({ star }) => momentOf(star))) ?? 1;
  return robustFit(
    stars.map(({ star, x, y, square }) => ({
      factors: [1, x, y, x * square, y * square, x * x - y * y, 2 * x * y, square, square * square],
      value: momentOf(star) / typical,
      sigma: Math.hypot(0.03, 3 / star.snr)
    }))
  );
}

const root = (value: number): number => Math.sqrt(Math.max(0.05, value));

/** @returns undefined where the stars do not determine it */
export function sizeOf(stars: readonly Placed[], { widthPx, heightPx }: StarReading): Size | undefined {
  const fit = fitSize(stars);
  if (!fit) return undefined;
  const s = fit.coefficients as [number, number, number, number, number, number, number, number, number];
  const { covariance } = fit;
  const half = Math.hypot(widthPx, heightPx) / 2;
  const [halfWidth, halfHeight] = [widthPx / 2 / half, heightPx / 2 / half];
  const rim = Array.from({ length: 24 }, (_, step) => {
    const angle = radians(step * 15);
    const reach = Math.min(halfWidth / Math.abs(Math.cos(angle)), halfHeight / Math.abs(Math.sin(angle)));
    const [x, y] = [reach * Math.cos(angle), reach * Math.sin(angle)];
    const square = x * x + y * y;
    const factors = [0, x, y, x * square, y * square, x * x - y * y, 2 * x * y, 0, 0];
    return { angleDeg: step * 15, factors, off: factors.reduce((sum, factor, i) => sum + factor * s[i]!, 0) };
  });
  const largest = rim.reduce((a, b) => (b.off > a.off ? b : a));
  const smallest = rim.reduce((a, b) => (b.off < a.off ? b : a));
  const mean = Math.max(0.2, s[0] + (s[7] + s[8] / 2) / 3);
  const between = largest.factors.map((factor, i) => factor - smallest.factors[i]!);
  // A tilted sensor in focus in the middle is blurred at both ends: a square, half of which looks alike all round.
  const even = s[7] + s[8] - Math.hypot(s[5], s[6]);
  const evenStandard = Math.sqrt(varianceOf([0, 0, 0, 0, 0, 0, 0, 1, 1], covariance));
  const inMiddle = root(Math.max(0.2, s[0]));
  const inCorners = root(Math.max(0.2, s[0]) + even);
  return {
    tilt: {
      pct: (100 * (root(mean + largest.off) - root(mean + smallest.off))) / root(mean),
      directionDeg: largest.angleDeg > 180 ? largest.angleDeg - 360 : largest.angleDeg,
      // The largest of many differences of noise stands some σ above nothing by itself.
      sigmas: (largest.off - smallest.off) / Math.sqrt(varianceOf(between, covariance)) - 1.5
    },
    corners: {
      pct: 100 * (inCorners / inMiddle - 1),
      standardPct: (50 * evenStandard) / (inCorners * inMiddle),
      sigmas: even / evenStandard
    }
  };
}
