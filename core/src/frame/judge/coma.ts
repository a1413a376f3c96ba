import { RAD } from '../../stats/angles.ts';
import { robustFit } from '../robust.ts';
import type { Placed } from './placed.ts';

/** Lopsidedness that all stars share, and where their tails point, degrees anticlockwise from +x. */
export interface Coma {
  size: number;
  directionDeg: number;
  standard: number;
}

/**
 * Third moments over the field: a part all share, and tails that point away from the middle or to it.
 *
 * @returns undefined where the stars do not determine them
 */
export function comaOf(stars: readonly Placed[]): Coma | undefined {
  const fit = robustFit(
    stars.flatMap(({ star, x, y }) => {
      const sigma = Math.hypot(0.04, 6 / star.snr);
      return [
        { factors: [1, 0, x], value: star.lopsided[0], sigma },
        { factors: [0, 1, y], value: star.lopsided[1], sigma }
      ];
    })
  );
  if (!fit) return undefined;
  const [k1, k2] = fit.coefficients as [number, number, number];
  return {
    size: Math.hypot(k1, k2),
    directionDeg: Math.atan2(k2, k1) / RAD,
    standard: Math.sqrt((fit.covariance[0]![0]! + fit.covariance[1]![1]!) / 2)
  };
}
