import { formatLength, type LengthUnit } from '../why/wording.ts';
import type { Light } from './light.ts';

/** Where an assumed pupil may be, in words: `40 mm or more`; an end at infinity is a telecentric beam. */
export function pupilRangeInWords([nearMm, farMm]: readonly [number, number], unit: LengthUnit): string {
  const [near, far] = [nearMm, farMm].map((mm) => formatLength(mm, unit, unit === 'mm' ? 0 : 2));
  if (!Number.isFinite(nearMm)) return 'infinitely far';
  if (!Number.isFinite(farMm)) return `${near!} or more`;
  return near === far ? near! : `${near!} to ${far!}`;
}

/** What is assumed of the host's exit pupil, with its range, in words; empty where nothing is. */
export const pupilInWords = ({ hostPupil: { rangeMm } }: Light, unit: LengthUnit): string =>
  rangeMm ? `exit pupil assumed ${pupilRangeInWords(rangeMm, unit)} ahead of the host’s focus` : '';

/** The same in brackets after what it qualifies. */
export function pupilAside(light: Light, unit: LengthUnit): string {
  const words = pupilInWords(light, unit);
  return words === '' ? '' : ` (${words})`;
}
