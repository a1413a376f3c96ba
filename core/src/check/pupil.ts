import type { Light } from '../light/light.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';

/** What is assumed of the pupil, with its range, in words; empty where nothing is. */
export function pupilInWords({ pupilRangeMm }: Light, unit: LengthUnit): string {
  if (!pupilRangeMm) return '';
  const [near, far] = pupilRangeMm.map((mm) =>
    mm === null ? undefined : formatLength(mm, unit, unit === 'mm' ? 0 : 2)
  );
  const range = near && far ? (near === far ? near : `${near} to ${far}`) : `${near ?? far} to telecentric`;
  return `exit pupil assumed ${range} ahead of the sensor`;
}
