import { isUndersampled, type Field } from './field.ts';
import type { Suspicion } from './finding.ts';
import { median } from './placed.ts';

/** So much flatter than a star in focus is just worth mending. */
const WORTH = 0.1;
/** How well the flatness of a frame with many stars is known. */
const STANDARD = 0.02;
const MANY_STARS = 40;
/** Stars that are longer than this say by their shape that something moved: flat they are along it, not by defocus. */
const TRAILED = 0.4;
/** Square of how far out the middle goes. */
const IN_MIDDLE = 0.15;

/** Stars in the middle are flat or hollow. */
export function outOfFocus(field: Field): Suspicion {
  const { placed, reading } = field;
  const inMiddle = placed.filter(({ square }) => square < IN_MIDDLE);
  const stretch = median(inMiddle.map(({ star }) => star.ellipticity)) ?? 0;
  const flatter = reading.centreFlatness - 1;
  return {
    cause: 'focus',
    strength: stretch > TRAILED || isUndersampled(field) ? 0 : flatter / WORTH,
    sigmas: (flatter / STANDARD) * Math.min(1, Math.sqrt(placed.length / MANY_STARS)),
    message:
      'Stars in the middle are flat or hollow: the frame is out of focus. Focus first; nothing can be said about the spacing before.'
  };
}
