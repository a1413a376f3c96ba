import { isTelling, stretchVector, type FrameSummary, type Zone } from '@lodestone/core/frame';

/** Whiskers of a frame as paths, in px of the frame from its top left corner. */
export interface Whiskers {
  /** Of stars stretched along the radius, and of those stretched round the middle. */
  outward: string;
  circling: string;
}

const RAD = Math.PI / 180;
/** Length of a whisker of ellipticity 1 at a factor of 1, of the half diagonal. */
const UNIT = 0.1;
/** And of a zone's: there are few of them, with room between. */
const ZONE_UNIT = 0.16;
/** Noise of an ellipticity, over the noise of the light: so much of it is none. */
const NOISE = 1.6;
/** Stars that are stretched more are two, or a trail: the whisker would run through others. */
const LONGEST = 0.45;

/** Place of a star from the top left corner, px; stars have the middle of the first pixel at 1, 1. */
export const placeOf = ({ x, y }: { x: number; y: number }, { heightPx, bottomUp }: FrameSummary): [number, number] => [
  x - 0.5,
  bottomUp ? heightPx - y + 0.5 : y - 0.5
];

/** A line through a place, at an angle with y upward. */
function through(x: number, y: number, angle: number, length: number): string {
  const [dx, dy] = [(Math.cos(angle) * length) / 2, (-Math.sin(angle) * length) / 2];
  return `M${(x - dx).toFixed(1)} ${(y - dy).toFixed(1)}l${(2 * dx).toFixed(1)} ${(2 * dy).toFixed(1)}`;
}

/**
 * A line through every star that can be measured: along its long axis, as long as it is stretched.
 *
 * @param factor how much longer it is drawn
 * @param without what all stars have in common is taken away
 */
export function whiskersOf(summary: FrameSummary, factor: number, without: boolean): Whiskers {
  const { widthPx, heightPx, stars, field } = summary;
  const half = Math.hypot(widthPx, heightPx) / 2;
  const length = UNIT * half * factor;
  const [c1, c2] = stretchVector(without ? field.tracking : null);
  let [outward, circling] = ['', ''];
  for (const star of stars) {
    if (!isTelling(star)) continue;
    const [own1, own2] = stretchVector(star);
    const [e1, e2] = [own1 - c1, own2 - c2];
    // Noise alone makes every star look stretched some way: that much is taken off.
    const stretch = Math.sqrt(Math.max(0, e1 * e1 + e2 * e2 - 2 * (NOISE / star.snr) ** 2));
    const size = Math.min(LONGEST, stretch) * length;
    if (size === 0) continue;
    const angle = Math.atan2(e2, e1) / 2;
    const [x, y] = placeOf(star, summary);
    const line = through(x, y, angle, size);
    const polar = Math.atan2(heightPx / 2 - y, x - widthPx / 2);
    if (Math.cos(2 * (angle - polar)) >= 0) outward += line;
    else circling += line;
  }
  return { outward, circling };
}

/** A line through each zone whose stars are stretched together beyond chance, and the middles of the others. */
export interface Needles extends Whiskers {
  calm: readonly Zone[];
}

/** @param factor how much longer they are drawn */
export function needlesOf(zones: readonly Zone[], { widthPx, heightPx }: FrameSummary, factor: number): Needles {
  const length = ZONE_UNIT * (Math.hypot(widthPx, heightPx) / 2) * factor;
  let [outward, circling] = ['', ''];
  for (const { x, y, ellipticity, angleDeg, isStretched, isOutward } of zones) {
    if (!isStretched) continue;
    const line = through(x, y, angleDeg * RAD, Math.min(LONGEST, ellipticity) * length);
    if (isOutward) outward += line;
    else circling += line;
  }
  return { outward, circling, calm: zones.filter(({ isStretched }) => !isStretched) };
}
