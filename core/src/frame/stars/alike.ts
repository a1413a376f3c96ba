import { ellipseOf } from '../measure.ts';
import { medianOf } from '../../stats/median.ts';
import { LEAST_SNR, type Measured } from './star.ts';

/** Sharper than this share of the median star, nothing that came through the sky can be. */
const TOO_SHARP = 0.65;
/** More lopsided than the median star by so much, nothing that came through the same optics can be. */
const TOO_LOPSIDED = 0.45;
/** Wider than this many median stars, it is no star. */
const TOO_WIDE = 3.5;
/** On something wide, what is wider than so many usual stars is a part of it. */
const UNEVEN_WIDE = 2;
const ENOUGH_TO_COMPARE = 12;
/** Stars that are compared with have at least this over their noise. */
const TYPICAL_SNR = 10;
/** So many of one size are stars and not the grain of something wide. */
const LEAST_ALIKE = 5;
/** Sizes that differ by less than this share are one. */
const ALIKE = 0.12;

/** The size most of what was found has, the smaller of two that are as frequent: stars are alike, clouds are not. */
function usualSize(stars: readonly Measured[]): { hfrPx: number; count: number } | undefined {
  const sizes = stars
    .filter(({ snr, saturated }) => snr > LEAST_SNR && !saturated)
    .map(({ hfrPx }) => hfrPx)
    .toSorted((a, b) => a - b);
  let best: { hfrPx: number; count: number } | undefined;
  let to = 0;
  for (const [from, least] of sizes.entries()) {
    while (to < sizes.length && sizes[to]! <= least * (1 + 2 * ALIKE)) to++;
    const count = to - from;
    if (!best || count > best.count) best = { hfrPx: sizes[from + (count >> 1)]!, count };
  }
  return best;
}

/** Whether more of one size was found over the finer sky: stars that stood on something wide. */
export function isPointlike(fine: readonly Measured[], coarse: readonly Measured[]): boolean {
  const [stars, before] = [usualSize(fine), usualSize(coarse)];
  return stars !== undefined && stars.count >= LEAST_ALIKE && stars.count > (before?.count ?? 0);
}

/** Stars among what was measured, and how many things were too sharp or too wide beside them to be any. */
export function likeTheOthers(
  all: readonly Measured[],
  isUneven: boolean
): { stars: Measured[]; sharp: number; wide: number } {
  const typical = all.filter(({ saturated, snr }) => !saturated && snr > TYPICAL_SNR);
  if (typical.length < ENOUGH_TO_COMPARE) return { stars: [...all], sharp: 0, wide: 0 };
  const hfr = isUneven ? usualSize(all)!.hfrPx : medianOf(typical.map(({ hfrPx }) => hfrPx));
  const like = isUneven ? typical.filter(({ hfrPx }) => hfrPx < UNEVEN_WIDE * hfr) : typical;
  const narrow = medianOf(like.map(({ moments }) => ellipseOf(moments).b));
  const tailX = medianOf(like.map(({ lopsided }) => lopsided[0]));
  const tailY = medianOf(like.map(({ lopsided }) => lopsided[1]));
  let [sharp, wide] = [0, 0];
  const stars = all.filter((star) => {
    const isRay = Math.hypot(star.lopsided[0] - tailX, star.lopsided[1] - tailY) > TOO_LOPSIDED + 20 / star.snr;
    const isSharp =
      star.hfrPx < TOO_SHARP * hfr || ellipseOf(star.moments).b < TOO_SHARP * narrow || (isRay && !star.saturated);
    const isWide = !star.saturated && star.hfrPx > (isUneven ? UNEVEN_WIDE : TOO_WIDE) * hfr;
    if (isSharp) sharp++;
    else if (isWide) wide++;
    return !isSharp && !isWide;
  });
  return { stars, sharp, wide };
}
