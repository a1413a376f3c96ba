import { robustFit } from '../robust.ts';
import type { ShapedField } from './field.ts';
import { towards, type Suspicion } from './finding.ts';
import type { Placed } from './placed.ts';

/** Tails and threefold shapes of all stars that are just worth mending. */
const WORTH_TAIL = 0.07;
const WORTH_THREEFOLD = 0.05;

/** All stars have a tail one way, in the middle too. */
export function decollimated({ coma: { size, directionDeg, standard } }: ShapedField): Suspicion {
  return {
    cause: 'collimation',
    strength: size / WORTH_TAIL,
    sigmas: size / standard,
    message: `All stars have a tail toward the ${towards(directionDeg)}, in the middle too: the optics are out of collimation, not the spacing.`
  };
}

/** Threefold shape that all stars share, and its standard deviation: mean of what single stars show. */
function commonThreefold(stars: readonly Placed[]): { size: number; standard: number } | undefined {
  const fit = robustFit(
    stars.flatMap(({ star }) => {
      const sigma = Math.hypot(0.03, 6 / star.snr);
      return (star.threefold ?? []).map((value, axis) => ({ factors: axis === 0 ? [1, 0] : [0, 1], value, sigma }));
    })
  );
  if (!fit || !stars.some(({ star }) => star.threefold)) return undefined;
  const [cosine = 0, sine = 0] = fit.coefficients;
  return {
    size: Math.hypot(cosine, sine),
    standard: Math.sqrt((fit.covariance[0]![0]! + fit.covariance[1]![1]!) / 2)
  };
}

/** All stars have three corners. */
export function pinchedOptics({ placed }: ShapedField): Suspicion | undefined {
  const threefold = commonThreefold(placed);
  return (
    threefold && {
      cause: 'collimation',
      strength: threefold.size / WORTH_THREEFOLD,
      sigmas: threefold.size / threefold.standard,
      message:
        'All stars have three corners, in the middle too: a lens or mirror is pinched in its cell, often by the cold. It is not the spacing.'
    }
  );
}
