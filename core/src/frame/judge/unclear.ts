import { LEAST_IN_CORNER } from '../place.ts';
import { LEAST_SNR } from '../stars/index.ts';
import { isUndersampled, type Field } from './field.ts';
import type { FrameFinding } from './finding.ts';

const LEAST_STARS = 25;

export const cannotTell = (message: string): FrameFinding => ({
  cause: 'unclear',
  strength: 1,
  confidence: 1,
  message
});

/** Why a frame does not tell, and what to do about it; undefined where it does. */
export function whyUnclear(field: Field): string | undefined {
  const { reading, placed, corners, fwhmPx } = field;
  const saturated = reading.stars.filter((star) => star.saturated).length;
  const faint = reading.stars.filter((star) => !star.saturated && star.snr < LEAST_SNR).length;
  if (placed.length < LEAST_STARS) {
    if (saturated > placed.length) {
      return `Unclear: ${saturated} stars are cut off at the top and ${placed.length} are not. Take shorter frames.`;
    }
    if (reading.stars.length === 0) {
      return 'Unclear: no stars were found. Take a longer frame of a field with stars, near focus.';
    }
    const why = faint > 0 ? `, ${faint} more are too faint` : '';
    return `Unclear: only ${placed.length} stars can be measured${why}; ${LEAST_STARS} are needed. Take longer frames, or a field with more stars.`;
  }
  if (isUndersampled(field)) {
    return `Unclear: stars are ${fwhmPx!.toFixed(1)} px wide, too few pixels for their shape (undersampled). Take frames without binning, or with a longer focal length.`;
  }
  const empty = corners.filter(({ length }) => length < LEAST_IN_CORNER).length;
  if (empty > 1) {
    return `Corners unclear: ${empty} of them have hardly a star. Take longer frames, or a field with more stars.`;
  }
  return undefined;
}
