import { flatten, halve, measureBackground, skyAt, type BackgroundMesh, type Halved } from '../background.ts';
import { findCandidates, scatterBelow, type Candidate } from '../detect.ts';
import { stepOf, type Frame } from '../frame.ts';
import { medianOf } from '../../stats/median.ts';
import { isPointlike, likeTheOthers } from './alike.ts';
import { measureCrowded, onceEach } from './crowded.ts';
import { Near } from './near.ts';
import { fullWell, pixelNoise } from './noise.ts';
import { measureCandidate } from './one.ts';
import type { Measured, Star, StarReading } from './star.ts';
import { flatnessOf, widthOf } from './width.ts';

export { LEAST_SNR, type Star, type StarReading } from './star.ts';

/** Of more things than this, the brightest are measured: they tell as much. */
const MOST_MEASURED = 20_000;

/** What stars are measured over. */
interface Look {
  frame: Frame;
  mesh: BackgroundMesh;
  /** Of a pixel, over the whole frame, ADU. */
  noise: number;
  isUneven: boolean;
}

/** Measures what was found, the brightest first where there is too much of it. */
function measureAll(
  { frame, mesh, noise, isUneven }: Look,
  everything: readonly Candidate[],
  progress: (share: number) => void = () => {}
): { found: Measured[]; rejected: StarReading['rejected'] } {
  const candidates =
    everything.length <= MOST_MEASURED
      ? everything
      : everything.toSorted((p, q) => q.peakSigma - p.peakSigma).slice(0, MOST_MEASURED);
  const overall = medianOf(Array.from(mesh.noise));
  const all = new Near(64, everything);
  const rejected = { hot: 0, sharp: 0, wide: 0, edge: 0 };
  const found: Measured[] = [];
  for (const [at, candidate] of candidates.entries()) {
    if ((at & 255) === 0) progress(at / candidates.length);
    const sky = skyAt(mesh, frame, 2 * candidate.x + 0.5, 2 * candidate.y + 0.5);
    // The mesh tells how the noise of a pixel changes over the frame.
    const here = { level: sky.level, noise: (noise * sky.noise) / (overall || 1), isUneven };
    const fate = measureCandidate(frame, candidate, all, here);
    if (fate === 'none') continue;
    if (typeof fate === 'string') rejected[fate]++;
    else found.push(fate);
  }
  return { found, rejected };
}

/** Cells of the sky under what is structured, pixels of the halved frame: wider than a star in focus. */
const FINE_CELL = 8;
/** What covers more pixels of the halved frame than this is wider than stars in focus. */
const WIDE_AREA = 400;
const WIDE_SHARE = 0.01;

/** Where the sky that was taken away leaves more than this many times the noise of a pixel, it was no sky alone. */
const UNEVEN_SIGMA = 1.6;

/** Whether something wide stands in the frame: as much of it as may hide stars, or be taken for some. */
const isStructured = (candidates: readonly Candidate[], flat: Halved): boolean =>
  candidates.reduce((sum, { area }) => sum + (area > WIDE_AREA ? area : 0), 0) >
    WIDE_SHARE * flat.width * flat.height || scatterBelow(flat.pixels) > UNEVEN_SIGMA;

/** Measures what was found over the sky, and where something wide stands in the frame once more over a finer one. */
function measureOverSky(
  over: Omit<Look, 'isUneven'>,
  halved: Halved,
  progress: (share: number) => void
): { found: Measured[]; rejected: StarReading['rejected']; structured: boolean; isUneven: boolean } {
  const everything = findCandidates(halved);
  progress(0.6);
  const coarse = measureAll({ ...over, isUneven: false }, everything, (share) => progress(0.6 + 0.3 * share));
  const structured = isStructured(everything, halved);
  if (!structured) return { ...coarse, structured, isUneven: false };
  // What is wider than stars is sky as well, once more: a galaxy's arms, a nebula, the halo of a bright star.
  flatten(halved, measureBackground(halved, 0, FINE_CELL));
  const fine = measureAll({ ...over, isUneven: true }, findCandidates(halved));
  const isUneven = isPointlike(fine.found, coarse.found);
  return { ...(isUneven ? fine : coarse), structured, isUneven };
}

/** A star without what only measuring needs, as wide as it is. */
const plain = (
  { moments: _moments, top: _top, sky: _sky, size: _size, isCrowded: _crowded, ...star }: Measured,
  flatness: number
): Star => ({
  ...star,
  fwhmPx: widthOf(star.fwhmPx, flatness)
});

/**
 * Finds and measures the stars of a frame.
 *
 * @param progress told the share that is done, from 0 to 1
 */
export function readStars(frame: Frame, progress: (share: number) => void = () => {}): StarReading {
  const { widthPx, heightPx, bottomUp } = frame;
  const halved = halve(frame, (share) => progress(0.25 * share));
  const mesh = measureBackground(halved, stepOf(frame));
  progress(0.4);
  flatten(halved, mesh);
  const noise = Math.max(pixelNoise(frame), stepOf(frame) / Math.sqrt(12));
  const { found, rejected, structured, isUneven } = measureOverSky({ frame, mesh, noise }, halved, progress);
  const full = fullWell(
    frame,
    found.map(({ top }) => top)
  );
  for (const star of found) star.saturated = star.top[1] >= full;
  const { stars, sharp, wide } = likeTheOthers(measureCrowded(frame, onceEach(found)), isUneven);
  const flatness = flatnessOf(frame, stars);
  const half = Math.hypot(widthPx, heightPx) / 2;
  const central = stars.filter(({ x, y }) => Math.hypot(x - widthPx / 2, y - heightPx / 2) < half / 2);
  progress(1);
  return {
    widthPx,
    heightPx,
    stars: stars.map((star) => plain(star, flatness)),
    background: medianOf(Array.from(mesh.level)),
    noise,
    mesh,
    flatness,
    centreFlatness: flatnessOf(frame, central),
    bottomUp,
    structured,
    rejected: { ...rejected, sharp, wide }
  };
}
