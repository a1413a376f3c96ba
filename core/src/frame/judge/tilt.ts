import type { ShapedField } from './field.ts';
import { SURE, towards, type Suspicion } from './finding.ts';
import type { Size } from './size.ts';
import { cornerStrength } from './spacing.ts';

/** A difference in size over the field that is just worth mending, %. */
const WORTH_PCT = 10;
/** A tilt beside a spacing that is worse is no surer than this. */
const BESIDE_SPACING = 0.8;

export const isSignificant = ({ pct, sigmas }: Size['tilt']): boolean => pct / WORTH_PCT >= 1 && sigmas >= SURE;

/** Stars are larger on one side than on the other. */
export function tiltedSensor(field: ShapedField): Suspicion {
  const { pct, directionDeg, sigmas } = field.size.tilt;
  return {
    cause: 'tilt',
    strength: pct / WORTH_PCT,
    sigmas,
    message: `Stars differ in size by ${Math.round(pct)} % across the field, largest toward the ${towards(directionDeg)}: the sensor is tilted, or the field is not centred. A focus sweep shows how far.`,
    // Corners that swell beside it are seldom quite alike: that much is no tilt.
    most: cornerStrength(field) > pct / WORTH_PCT ? BESIDE_SPACING : 1
  };
}
