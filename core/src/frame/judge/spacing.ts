import { stretchVector, stretchWords } from '../place.ts';
import { robustFit } from '../robust.ts';
import type { Star } from '../stars/index.ts';
import type { ShapedField } from './field.ts';
import { AN_OR, type Suspicion } from './finding.ts';
import { median, type Placed } from './placed.ts';

/** Stretch of the corners, and how much larger their stars are, that is just worth mending. */
const WORTH_STRETCH = 0.07;
const WORTH_SIZE_PCT = 18;
/** Of what stars grow along the circle, the share that goes as a turn does, and how much they may grow across beside it. */
const TURNED_SHARE = 0.3;
const TURNED_ACROSS = 0.5;

/**
 * Whether stars circle the middle as they do in a field that turned while it was exposed: as long as they lie far out (in
 * second moments the square of it; what astigmatism does goes as the fourth power), and hardly wider across.
 */
function mayHaveTurned(stars: readonly Placed[]): boolean {
  const typical = median(stars.map(({ star }) => star.fwhmPx ** 2)) ?? 1;
  const noiseOf = ({ snr }: Star): number => Math.hypot(0.05, 3 / snr);
  const circling = robustFit(
    stars.map(({ star, x, y, square }) => {
      const { fwhmPx, ellipticity } = star;
      const long = fwhmPx ** 2 / (1 - ellipticity) / typical;
      const short = (fwhmPx ** 2 * (1 - ellipticity)) / typical;
      const [e1, e2] = stretchVector({ ellipticity: 1, angleDeg: star.angleDeg });
      const alongRadius = (e1 * (x * x - y * y) + e2 * 2 * x * y) / Math.max(1e-9, square);
      return { factors: [square, square * square], value: (short - long) * alongRadius, sigma: noiseOf(star) * long };
    })
  );
  const across = robustFit(
    stars.map(({ star, square }) => {
      const short = (star.fwhmPx ** 2 * (1 - star.ellipticity)) / typical;
      return { factors: [1, square], value: short, sigma: noiseOf(star) * short };
    })
  );
  if (!circling || !across) return false;
  const [second = 0, fourth = 0] = circling.coefficients;
  const grown = second + fourth;
  if (grown <= 0) return false;
  const { covariance } = circling;
  const standard = Math.sqrt(covariance[0]![0]! + covariance[1]![1]! + 2 * covariance[0]![1]!);
  const shareStandard = Math.sqrt(covariance[0]![0]!) / grown;
  return (
    grown > 2 * standard &&
    second / grown > TURNED_SHARE - 2 * shareStandard &&
    across.coefficients[1]! - 2 * Math.sqrt(across.covariance[1]![1]!) < TURNED_ACROSS * grown
  );
}

/** How far the corners are swollen or stretched, over what is just worth mending: the larger of the two. */
export const cornerStrength = ({ stretch, size }: ShapedField): number =>
  Math.max(Math.abs(stretch.radial.corner) / WORTH_STRETCH, size.corners.pct / WORTH_SIZE_PCT);

/** The corners are stretched along the radius or round the middle, or swollen, alike. */
export function wrongSpacing(field: ShapedField): Suspicion {
  const { placed, size, stretch } = field;
  const { corner, standard } = stretch.radial;
  const strength = cornerStrength(field);
  const isStretched = Math.abs(corner) / WORTH_STRETCH > size.corners.pct / WORTH_SIZE_PCT;
  const sigmas = isStretched ? Math.abs(corner) / standard : size.corners.sigmas;
  if (strength >= 1 && mayHaveTurned(placed)) {
    const message =
      'Stars in the corners circle the middle, the longer the farther out, and are hardly wider across. Either the field turned during the exposure, or the spacing is off. A much shorter frame shows: a field that turns is round in it.';
    return { cause: 'spacing', strength, sigmas, message, most: AN_OR };
  }
  const alike = stretch.isAlike ? ' alike' : ', though not alike';
  return {
    cause: 'spacing',
    strength,
    sigmas,
    message: isStretched
      ? `The corners are stretched${alike}: ${corner.toFixed(2)} ± ${(2 * standard).toFixed(2)}, ${stretchWords(corner)}. The spacing is off. Take a frame at another spacing to learn which way.`
      : `Stars in the corners are ${Math.round(size.corners.pct)} % larger than in the middle, alike in all: the field is not flat. The spacing is off. Take a frame at another spacing to learn which way.`
  };
}
