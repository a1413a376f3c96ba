import { type Candidate } from '../detect.ts';
import type { Frame } from '../frame.ts';
import {
  FWHM_OVER_SIGMA,
  HFR_OVER_SIGMA,
  adaptiveMoments,
  ellipseOf,
  halfFlux,
  thirdMoments,
  windowedCentre,
  type Moments
} from '../measure.ts';
import { cutStamp, mendHot, mendNeighbours, type Neighbour, type Stamp } from '../stamp.ts';
import { cutClean, reachOf } from './clean.ts';
import type { Near } from './near.ts';
import type { Measured, Sky, Star } from './star.ts';

const CLOSE_REACH = 4;
const APERTURE = 3;
const LEAST_APERTURE = 4;

/** Rough radius of a candidate, px of the whole frame. */
const sizeOf = ({ area }: Candidate): number => 2 * Math.sqrt(Math.max(1, area) / Math.PI);

/** Others whose light reaches into the stamp of a candidate. @param reach px of the halved frame */
const neighboursOf = (candidate: Candidate, all: Near<Candidate>, reach: number): Neighbour[] =>
  all.within(reach, candidate).map((each) => ({ x: 2 * each.x + 0.5, y: 2 * each.y + 0.5, size: sizeOf(each) }));

/** Highest and second highest value around the middle of a stamp. */
function topOf({ pixels, side, x0, y0 }: Stamp, px: number, py: number, core: number): [number, number] {
  let first = -Infinity;
  let second = -Infinity;
  for (let dy = -core; dy <= core; dy++) {
    for (let dx = -core; dx <= core; dx++) {
      const value = pixels[(py + dy - y0) * side + (px + dx - x0)] ?? NaN;
      if (value > first) {
        second = first;
        first = value;
      } else if (value > second) second = value;
    }
  }
  return [first, second];
}

/** What comes of something that was found: a star, or why it is none. */
export type Fate = Measured | 'hot' | 'edge' | 'none';

export function measureCandidate(frame: Frame, candidate: Candidate, all: Near<Candidate>, sky: Sky): Fate {
  const size = sizeOf(candidate);
  const [px, py] = [2 * candidate.x, 2 * candidate.y];
  // Most of what is no star is a hot pixel: a look at its surroundings tells.
  const close = cutStamp(frame, px, py, CLOSE_REACH, sky.level);
  if (mendHot(close, sky.noise, px + 0.5, py + 0.5) && !close.pixels.some((value) => value > 5 * sky.noise)) {
    return 'hot';
  }
  const reach = reachOf(size);
  const { stamp, wasHot } = cutClean(frame, px, py, reach, sky);
  const [first, second] = topOf(stamp, px, py, Math.ceil(Math.max(2, size / 2)));
  const neighbours = neighboursOf(candidate, all, reach / 2 + 2);
  mendNeighbours(stamp, px + 0.5, py + 0.5, size, neighbours);
  const star = measureStamp(frame, stamp, px + 0.5, py + 0.5, size, reach, sky);
  if (!star || (wasHot && star.snr < 10)) return wasHot ? 'hot' : 'none';
  const margin = 1 + Math.max(1, star.hfrPx);
  if (
    star.x < margin ||
    star.y < margin ||
    star.x > frame.widthPx + 1 - margin ||
    star.y > frame.heightPx + 1 - margin
  ) {
    return 'edge';
  }
  return { ...star, top: [first + sky.level, second + sky.level], sky, size, isCrowded: neighbours.length > 0 };
}

/** A star from its stamp; undefined where none comes of it. */
export function measureStamp(
  frame: Frame,
  stamp: Stamp,
  startX: number,
  startY: number,
  size: number,
  reach: number,
  sky: { level: number; noise: number }
): (Star & { moments: Moments }) | undefined {
  // The window is as wide as the star is, which its own light tells.
  let hfr = Math.max(1, size / 2);
  let [x, y] = [startX, startY];
  let flux = 0;
  for (let round = 0; round < 3; round++) {
    const centre = windowedCentre(stamp, x, y, Math.max(0.8, hfr / HFR_OVER_SIGMA), round < 2 ? 0.02 : 1e-4);
    if (!centre) return undefined;
    [x, y] = centre;
    const aperture = Math.min(reach, Math.max(LEAST_APERTURE, APERTURE * hfr));
    const light = halfFlux(stamp, x, y, aperture, round < 2 ? 1 : 3);
    if (!light) return undefined;
    hfr = light.hfrPx;
    flux = light.flux;
  }
  const moments = adaptiveMoments(stamp, x, y, Math.max(0.6, (hfr / HFR_OVER_SIGMA) ** 2));
  if (!moments) return undefined;
  const { a, b, angleDeg } = ellipseOf(moments);
  return {
    x: x + 1,
    y: y + 1,
    flux,
    // Light over the noise within the area that counts for a star of this shape: 4π a b.
    snr: flux / (sky.noise * Math.sqrt(4 * Math.PI * a * b)),
    hfrPx: hfr,
    fwhmPx: FWHM_OVER_SIGMA * Math.sqrt(a * b),
    ellipticity: 1 - b / a,
    // Rows of a picture run down, angles are told with y upward.
    angleDeg: frame.bottomUp || angleDeg === 90 ? angleDeg : -angleDeg,
    ...thirdMoments(stamp, x, y, moments),
    saturated: false,
    moments
  };
}
