import { robustFit, varianceOf } from '../robust.ts';
import { stretchVector } from '../place.ts';
import type { Star } from '../stars/index.ts';
import { median, type Placed } from './placed.ts';

/** Ellipticity over a field. */
export interface Stretch {
  /** What all stars have in common. */
  common: { ellipticity: number; angleDeg: number; standard: number };
  /** Along the radius (+) or round the middle (−), without that. */
  radial: {
    corner: number;
    standard: number;
    /** Of each corner: top left, top right, bottom left, bottom right. */
    corners: [number | null, number | null, number | null, number | null];
    /** Mean signed stretch in rings from the middle to the corners. */
    profile: { radius: number; stretch: number; standard: number; count: number }[];
  };
  /** Whether the corners are stretched alike. */
  isAlike: boolean;
  /** Where the stretch has its middle, as a share of the half diagonal; null where it has none to speak of. */
  centre: { x: number; y: number; standard: number } | null;
}

const RINGS = 8;

/** Noise of a star's ellipticity: what the sky leaves, and what pixels and seeing do to it anyway. */
const ellipticityNoise = ({ snr }: Star): number => Math.hypot(0.015, 1.6 / snr);

/**
 * Ellipticity over the field: a part all stars share, one that grows along one direction (a middle that lies elsewhere),
 * and the radial stretch, which grows with the square of the radius or faster, more on one side than on the other where the sensor is tilted.
 * z = x + iy; stretch along the radius is z², along the circle −z².
 */
function fitStretch(stars: readonly Placed[]) {
  return robustFit(
    stars.flatMap(({ star, x, y, square }) => {
      const [e1, e2] = stretchVector(star);
      const [real, imaginary] = [x * x - y * y, 2 * x * y];
      const sigma = ellipticityNoise(star);
      return [
        { factors: [1, 0, x, -y, real, real * square, real * x, real * y], value: e1, sigma },
        { factors: [0, 1, y, x, imaginary, imaginary * square, imaginary * x, imaginary * y], value: e2, sigma }
      ];
    })
  );
}

/** Means of single stars' stretch in rings; rings of one star say nothing. */
function profileOf(stars: readonly Placed[], signed: (star: Placed) => number): Stretch['radial']['profile'] {
  return Array.from({ length: RINGS }, (_, ring) => {
    const values = stars
      .filter(({ square }) => Math.min(RINGS - 1, Math.floor(Math.sqrt(square) * RINGS)) === ring)
      .map(signed);
    const mean = median(values) ?? 0;
    const off = median(values.map((value) => Math.abs(value - mean))) ?? 0;
    return {
      radius: (ring + 0.5) / RINGS,
      stretch: mean,
      standard: (1.2533 * off) / 0.6745 / Math.sqrt(Math.max(1, values.length)),
      count: values.length
    };
  }).filter(({ count }) => count > 1);
}

/** @returns undefined where the stars do not determine it */
export function stretchOf(stars: readonly Placed[], corners: readonly Placed[][]): Stretch | undefined {
  const fit = fitStretch(stars);
  if (!fit) return undefined;
  const { coefficients, covariance } = fit;
  const [c1, c2] = coefficients as [number, number];
  const common = {
    ellipticity: Math.hypot(c1, c2),
    angleDeg: (Math.atan2(c2, c1) * 90) / Math.PI,
    standard: Math.sqrt((covariance[0]![0]! + covariance[1]![1]!) / 2)
  };
  const signed = ({ star, x, y, square }: Placed): number => {
    const [e1, e2] = stretchVector(star);
    return ((e1 - c1) * (x * x - y * y) + (e2 - c2) * 2 * x * y) / Math.max(1e-9, square);
  };
  // Told where stars still are: beyond the outermost of them a curve goes anywhere, and no ellipticity goes beyond 1.
  const outermost = Math.min(
    1,
    stars.reduce((most, { square }) => Math.max(most, square), 0)
  );
  const outward = [0, 0, 0, 0, outermost, outermost * outermost, 0, 0];
  const there = outward.reduce((sum, factor, at) => sum + factor * coefficients[at]!, 0);
  const corner = Math.max(-1, Math.min(1, there));
  const standard = Math.sqrt(varianceOf(outward, covariance));
  const isAlike = Math.hypot(coefficients[6]!, coefficients[7]!) < 0.6 * Math.abs(corner);
  const centreStandard = Math.sqrt((covariance[2]![2]! + covariance[3]![3]!) / 2) / Math.abs(2 * corner);
  const hasCentre = Math.abs(corner) > 5 * standard && centreStandard < 0.2 && isAlike;
  return {
    common,
    radial: {
      corner,
      standard,
      corners: corners.map((inCorner) => median(inCorner.map(signed))) as Stretch['radial']['corners'],
      profile: profileOf(stars, signed)
    },
    isAlike,
    centre: hasCentre
      ? { x: -coefficients[2]! / (2 * corner), y: -coefficients[3]! / (2 * corner), standard: centreStandard }
      : null
  };
}
