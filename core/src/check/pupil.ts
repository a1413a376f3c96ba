import type { Light } from '../light/light.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';

/** What is assumed of the host's exit pupil, with its range, in words; empty where nothing is. */
export function pupilInWords({ hostPupil: { rangeMm } }: Light, unit: LengthUnit): string {
  if (!rangeMm) return '';
  const [near, far] = rangeMm.map((mm) =>
    Number.isFinite(mm) ? formatLength(mm, unit, unit === 'mm' ? 0 : 2) : 'telecentric'
  );
  return `exit pupil assumed ${near === far ? near! : `${near} to ${far}`} ahead of the host’s focus`;
}
