import type { ShapedField } from './field.ts';
import { wholeDegrees, type FrameFinding, type Suspicion } from './finding.ts';

/** An ellipticity of all stars that is just worth mending. */
const WORTH = 0.06;
/** A stretch within so many degrees of the tails may be theirs. */
const ALONG_TAIL_DEG = 20;
/** A stretch so many times as bad as the tails is more than theirs. */
const MORE_THAN_TAIL = 1.5;

/** All stars are stretched one way, in the middle too. */
export function badTracking({ stretch: { common } }: ShapedField): Suspicion {
  const { ellipticity, angleDeg, standard } = common;
  return {
    cause: 'tracking',
    strength: ellipticity / WORTH,
    sigmas: ellipticity / standard,
    message: `All stars are stretched by ${ellipticity.toFixed(2)} in one direction, ${wholeDegrees(angleDeg)} from horizontal, in the middle too: tracking, guiding or wind, not the spacing.`
  };
}

/** The findings without a stretch that is that of the stars' tails: a tail makes a star longer along itself. */
export function withoutTails(findings: readonly FrameFinding[], { stretch, coma }: ShapedField): FrameFinding[] {
  const tails = findings.find(({ cause }) => cause === 'collimation');
  const off = Math.abs(((((stretch.common.angleDeg - coma.directionDeg) % 180) + 270) % 180) - 90);
  if (!tails || off >= ALONG_TAIL_DEG) return [...findings];
  return findings.filter(({ cause, strength }) => cause !== 'tracking' || strength >= MORE_THAN_TAIL * tails.strength);
}
