import { flatten, halve, measureBackground, readGrey, skyAt, type BackgroundMesh, type Halved } from './background.ts';
import { findCandidates, scatterBelow, type Candidate } from './detect.ts';
import { stepOf, type Frame } from './frame.ts';
import { medianOf } from './median.ts';
import {
  FWHM_OVER_SIGMA,
  HFR_OVER_SIGMA,
  adaptiveMoments,
  ellipseOf,
  halfFlux,
  thirdMoments,
  windowedCentre,
  type Moments
} from './measure.ts';
import { LARGEST_REACH, cutStamp, mendHot, mendNeighbours, type Neighbour, type Stamp } from './stamp.ts';

/** A star below this over its noise tells nothing by its size and shape. */
export const LEAST_SNR = 15;

/** A star of a frame. Places in FITS pixel coordinates (the middle of the first pixel is 1, 1), y in the file’s order. */
export interface Star {
  x: number;
  y: number;
  /** Light within three half-flux radii, ADU. */
  flux: number;
  /** Over the noise of the sky under a window of its own shape. */
  snr: number;
  hfrPx: number;
  fwhmPx: number;
  /** 1 − b/a, of the ellipse of second moments. */
  ellipticity: number;
  /** Of the long axis, degrees anticlockwise from +x with y upward, in (−90, 90]. */
  angleDeg: number;
  /** Third moments along x and y over the size cubed. */
  lopsided: readonly [x: number, y: number];
  /** Third moments that repeat after a third of a turn: cosine and sine of three times the angle of a corner. */
  threefold?: readonly [cosine: number, sine: number] | undefined;
  /** Its top is cut off: neither size nor shape of it counts. */
  saturated: boolean;
}

/** What a frame shows, before anything is judged. */
export interface StarReading {
  widthPx: number;
  heightPx: number;
  stars: Star[];
  /** Median of the sky and noise of a pixel, ADU. */
  background: number;
  noise: number;
  mesh: BackgroundMesh;
  /** Full width at half maximum of the mean star over that of a normal one with the same moments: above 1, flat or hollow. */
  flatness: number;
  /** The same of the stars around the middle. */
  centreFlatness: number;
  /** Pixel rows run up, as in FITS, or down, as in pictures. */
  bottomUp: boolean;
  /** Something wide stands in the frame: a galaxy, a nebula, the halo of a bright star. */
  structured: boolean;
  /** Things that were found and are no stars. */
  rejected: { hot: number; sharp: number; wide: number; edge: number };
}

/** Noise of one pixel of the whole frame, ADU: from differences of pixels of the same colour, which the sky cancels out of. */
function pixelNoise(frame: Frame): number {
  const { widthPx, heightPx } = frame;
  const row = new Float32Array(widthPx);
  const spare = new Float32Array(widthPx);
  const lines = Math.min(heightPx, 64);
  const off: number[] = [];
  for (let line = 0; line < lines; line++) {
    readGrey(frame, Math.floor(((line + 0.5) * heightPx) / lines), 0, widthPx, row, spare);
    for (let x = 0; x + 2 < widthPx; x += 5) {
      const difference = Math.abs(row[x]! - row[x + 2]!);
      if (difference === difference) off.push(difference);
    }
  }
  if (off.length === 0) return 0;
  const sorted = Float64Array.from(off).sort();
  // The median of |x| of a normal distribution is 0.6745 σ; a difference has √2 σ.
  return sorted[sorted.length >> 1]! / 0.6745 / Math.SQRT2;
}

/**
 * Level at which the sensor is full: what the file says, or where the brightest stars end alike, whichever is lower.
 *
 * @param tops highest and second highest value of each star, ADU
 */
function fullWell(frame: Frame, tops: readonly (readonly [number, number])[]): number {
  const stated = frame.keywords.get('SATURATE') ?? frame.keywords.get('DATAMAX');
  let most = -Infinity;
  for (const [first] of tops) most = Math.max(most, first);
  // A star that is cut off has its highest value twice, side by side.
  const plateau = tops.some(([, second]) => second >= NEARLY * most) ? NEARLY * most : Infinity;
  return Math.min(plateau, typeof stated === 'number' && stated > 0 ? 0.98 * stated : Infinity);
}
const NEARLY = 0.995;

/** Sky around a star. */
interface Sky {
  level: number;
  /** Of a pixel, ADU. */
  noise: number;
  /** It is not the same a few star's widths on: only what surrounds a star closely tells it. */
  isUneven: boolean;
}

interface Measured extends Star {
  moments: Moments;
  /** Highest value and the second highest, ADU. */
  top: readonly [number, number];
  sky: Sky;
  /** Rough radius, px, and whether others stand in its stamp. */
  size: number;
  isCrowded: boolean;
}

const CLOSE_REACH = 4;
const LEAST_REACH = 8;
const APERTURE = 3;
const LEAST_APERTURE = 4;

/** Neighbours whose light reaches into a stamp, by a grid of the candidates. */
class Grid {
  readonly #cells = new Map<number, Candidate[]>();
  readonly #side = 64;

  constructor(candidates: readonly Candidate[]) {
    for (const candidate of candidates) {
      const key = this.#key(candidate.x, candidate.y);
      const cell = this.#cells.get(key);
      if (cell) cell.push(candidate);
      else this.#cells.set(key, [candidate]);
    }
  }

  #key(x: number, y: number): number {
    return Math.floor(y / this.#side) * 65_536 + Math.floor(x / this.#side);
  }

  /** Others within so many pixels of the halved frame. */
  near(of: Candidate, reach: number): Neighbour[] {
    const found: Neighbour[] = [];
    const cells = Math.ceil(reach / this.#side);
    for (let down = -cells; down <= cells; down++) {
      for (let across = -cells; across <= cells; across++) {
        for (const each of this.#cells.get(this.#key(of.x + across * this.#side, of.y + down * this.#side)) ?? []) {
          if (each === of || Math.abs(each.x - of.x) > reach || Math.abs(each.y - of.y) > reach) continue;
          found.push({ x: 2 * each.x + 0.5, y: 2 * each.y + 0.5, size: sizeOf(each) });
        }
      }
    }
    return found;
  }
}

/** Rough radius of a candidate, px of the whole frame. */
const sizeOf = ({ area }: Candidate): number => 2 * Math.sqrt(Math.max(1, area) / Math.PI);

/** Level of the sky around a star: the median of the outermost pixels of its stamp. */
function ringLevel({ side, pixels }: Stamp): number {
  const ring: number[] = [];
  const middle = (side - 1) / 2;
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const value = pixels[y * side + x]!;
      if (Math.max(Math.abs(x - middle), Math.abs(y - middle)) >= middle - 2 && value === value) ring.push(value);
    }
  }
  ring.sort((a, b) => a - b);
  return ring[ring.length >> 1] ?? 0;
}

/** Takes what slopes under a star away: from the medians of the four sides of its stamp. */
function levelSlopes({ side, pixels }: Stamp): void {
  const middle = (side - 1) / 2;
  const edges: [number[], number[], number[], number[]] = [[], [], [], []];
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const value = pixels[y * side + x]!;
      if (value !== value) continue;
      if (x < EDGE) edges[0].push(value);
      if (x >= side - EDGE) edges[1].push(value);
      if (y < EDGE) edges[2].push(value);
      if (y >= side - EDGE) edges[3].push(value);
    }
  }
  const [left, right, first, last] = edges.map(medianOf) as [number, number, number, number];
  const apart = side - EDGE;
  const [across, down] = [(right - left) / apart || 0, (last - first) / apart || 0];
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) pixels[y * side + x]! -= across * (x - middle) + down * (y - middle);
  }
}
const EDGE = 2;

type Fate = Measured | 'hot' | 'edge' | 'none';

/** Sky taken away around a place, hot pixels mended. */
function cutClean(frame: Frame, px: number, py: number, reach: number, sky: Sky) {
  const stamp = cutStamp(frame, px, py, reach, sky.level);
  if (sky.isUneven) levelSlopes(stamp);
  if (frame.mosaic || sky.isUneven) {
    // Green has a sky of its own, and so has what stands on a galaxy or a nebula.
    const level = ringLevel(stamp);
    for (let at = 0; at < stamp.pixels.length; at++) stamp.pixels[at]! -= level;
  }
  return { stamp, wasHot: mendHot(stamp, sky.noise, px + 0.5, py + 0.5) };
}

const reachOf = (size: number): number => Math.max(LEAST_REACH, Math.min(LARGEST_REACH, Math.ceil(2 * size + 6)));

function measureCandidate(frame: Frame, candidate: Candidate, grid: Grid, sky: Sky): Fate {
  const size = sizeOf(candidate);
  const [px, py] = [2 * candidate.x, 2 * candidate.y];
  // Most of what is no star is a hot pixel: a look at its surroundings tells.
  const close = cutStamp(frame, px, py, CLOSE_REACH, sky.level);
  if (mendHot(close, sky.noise, px + 0.5, py + 0.5) && !close.pixels.some((value) => value > 5 * sky.noise)) {
    return 'hot';
  }
  const reach = reachOf(size);
  const { stamp, wasHot } = cutClean(frame, px, py, reach, sky);
  let first = -Infinity;
  let second = -Infinity;
  const core = Math.ceil(Math.max(2, size / 2));
  for (let dy = -core; dy <= core; dy++) {
    for (let dx = -core; dx <= core; dx++) {
      const value = stamp.pixels[(py + dy - stamp.y0) * stamp.side + (px + dx - stamp.x0)] ?? NaN;
      if (value > first) {
        second = first;
        first = value;
      } else if (value > second) second = value;
    }
  }
  const neighbours = grid.near(candidate, reach / 2 + 2);
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
function measureStamp(
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

/** Takes the light of a measured star away, as far as a normal distribution tells it. */
function subtract({ x0, y0, side, pixels }: Stamp, { x, y, flux, moments }: Measured): void {
  const { xx, yy, xy } = moments;
  const determinant = xx * yy - xy * xy;
  const height = flux / (2 * Math.PI * Math.sqrt(determinant));
  for (let line = 0; line < side; line++) {
    const dy = line + y0 + 1 - y;
    for (let column = 0; column < side; column++) {
      const dx = column + x0 + 1 - x;
      const square = (yy * dx * dx - 2 * xy * dx * dy + xx * dy * dy) / determinant;
      if (square < 30) pixels[line * side + column]! -= height * Math.exp(-square / 2);
    }
  }
}

/** Stars within a square, by a grid of 32 pixels. */
class Neighbourhood {
  readonly #cells = new Map<number, Measured[]>();

  constructor(stars: readonly Measured[]) {
    for (const star of stars) {
      const key = (star.y >> 5) * 65_536 + (star.x >> 5);
      const cell = this.#cells.get(key);
      if (cell) cell.push(star);
      else this.#cells.set(key, [star]);
    }
  }

  near(of: Measured, reach: number): Measured[] {
    const found: Measured[] = [];
    for (let line = (of.y - reach) >> 5; line <= (of.y + reach) >> 5; line++) {
      for (let column = (of.x - reach) >> 5; column <= (of.x + reach) >> 5; column++) {
        for (const star of this.#cells.get(line * 65_536 + column) ?? []) {
          if (star !== of && Math.abs(star.x - of.x) <= reach && Math.abs(star.y - of.y) <= reach) found.push(star);
        }
      }
    }
    return found;
  }
}

/** Measures the stars that have neighbours once more, those taken away. */
function measureCrowded(frame: Frame, stars: readonly Measured[]): Measured[] {
  const neighbourhood = new Neighbourhood(stars);
  return stars.map((star) => {
    if (!star.isCrowded) return star;
    const reach = reachOf(star.size);
    const near = neighbourhood.near(star, reach + 4);
    if (near.length === 0) return star;
    const { stamp } = cutClean(frame, Math.round(star.x - 1), Math.round(star.y - 1), reach, star.sky);
    for (const other of near) subtract(stamp, other);
    mendNeighbours(stamp, star.x - 1, star.y - 1, star.size, []);
    const again = measureStamp(frame, stamp, star.x - 1, star.y - 1, star.size, reach, star.sky);
    // Where it leads elsewhere the neighbours were badly known.
    return again && Math.hypot(again.x - star.x, again.y - star.y) < 1.5 ? { ...star, ...again } : star;
  });
}

/** Of stars narrower than the first the pixels tell more than the star, of wider ones than the second hardly anything; px. */
const TOO_NARROW_PX = 1.6;
const WIDE_ENOUGH_PX = 2.6;
/** Variance of light spread evenly over a pixel, and the least a star has without it, px². */
const PIXEL_VARIANCE = 1 / 12;
const LEAST_VARIANCE = 0.01;

/**
 * Width of a star: as it stands on the sensor, where that samples it well; of a narrow one without what the pixel’s own
 * width adds, and then the mean profile, which is made of pixels, says nothing of it.
 *
 * @param byMoments width of a normal star with the same moments, px
 */
function widthOf(byMoments: number, flatness: number): number {
  const sampled = Math.max(0, Math.min(1, (byMoments - TOO_NARROW_PX) / (WIDE_ENOUGH_PX - TOO_NARROW_PX)));
  const variance = (byMoments / FWHM_OVER_SIGMA) ** 2 - (1 - sampled) * PIXEL_VARIANCE;
  return FWHM_OVER_SIGMA * Math.sqrt(Math.max(LEAST_VARIANCE, variance)) * (1 + (flatness - 1) * sampled);
}

/** Profile of a star in units of its own ellipse: bins of 0.1 σ up to 3 σ. */
const PROFILE_BINS = 30;
const PROFILE_STARS = 300;
const PROFILE_SNR = 60;
/** Where few are so bright, as out of focus, fainter ones have to do. */
const LEAST_PROFILE_SNR = 20;
const LEAST_PROFILES = 5;

/**
 * Full width at half maximum of the mean star, over what its moments say of a normal one. Single stars are too noisy for
 * this; all of a frame have the same profile, near enough.
 */
function flatnessOf(frame: Frame, stars: readonly Measured[]): number {
  const brighter = (than: number): Measured[] => stars.filter(({ saturated, snr }) => !saturated && snr > than);
  const enough = brighter(PROFILE_SNR).length >= LEAST_PROFILES;
  const bright = brighter(enough ? PROFILE_SNR : LEAST_PROFILE_SNR)
    .sort((p, q) => q.snr - p.snr)
    .slice(0, PROFILE_STARS);
  if (bright.length < LEAST_PROFILES) return 1;
  const light = new Float64Array(PROFILE_BINS);
  const weight = new Float64Array(PROFILE_BINS);
  for (const { x, y, moments, flux, sky } of bright) {
    const { xx, yy, xy } = moments;
    const determinant = xx * yy - xy * xy;
    const reach = Math.min(LARGEST_REACH, Math.ceil(3 * Math.sqrt(Math.max(xx, yy))) + 1);
    const stamp = cutStamp(frame, Math.round(x - 1), Math.round(y - 1), reach, sky.level);
    const level = frame.mosaic || sky.isUneven ? ringLevel(stamp) : 0;
    const scale = Math.sqrt(determinant) / flux;
    for (let line = 0; line < stamp.side; line++) {
      const dy = line + stamp.y0 - (y - 1);
      for (let column = 0; column < stamp.side; column++) {
        const dx = column + stamp.x0 - (x - 1);
        const r = Math.sqrt((yy * dx * dx - 2 * xy * dx * dy + xx * dy * dy) / determinant);
        const bin = Math.floor(r * 10);
        const value = stamp.pixels[line * stamp.side + column]!;
        if (bin >= PROFILE_BINS || value !== value) continue;
        light[bin]! += (value - level) * scale;
        weight[bin]!++;
      }
    }
  }
  const bins = Array.from(light, (sum, bin) => ({
    r: (bin + 0.5) / 10,
    value: sum / weight[bin]!,
    weight: weight[bin]!
  })).filter((each) => each.weight > 0);
  return (2 * (halfRadius(bins) ?? FWHM_OVER_SIGMA / 2)) / FWHM_OVER_SIGMA;
}

interface ProfileBin {
  r: number;
  value: number;
  weight: number;
}

/** Value at 0 of the straight line in some measure of r through bins, by weighted least squares; slope beside it. */
function lineThrough(bins: readonly ProfileBin[], measure: (r: number) => number): { at0: number; slope: number } {
  let [w, wx, wy, wxx, wxy] = [0, 0, 0, 0, 0];
  for (const { r, value, weight } of bins) {
    const x = measure(r);
    w += weight;
    wx += weight * x;
    wy += weight * value;
    wxx += weight * x * x;
    wxy += weight * x * value;
  }
  const determinant = w * wxx - wx * wx;
  const slope = determinant > 0 ? (w * wxy - wx * wy) / determinant : 0;
  return { at0: w > 0 ? (wy - slope * wx) / w : NaN, slope };
}

/** Bins of the core, and those round the half, reach so far, σ. */
const CORE = 0.7;
const AROUND = 0.35;

/** Radius at which a profile has fallen to half of its top for the last time, σ; undefined where it does not. */
function halfRadius(bins: readonly ProfileBin[]): number | undefined {
  // A top is a parabola; a hollow star's top is its ring.
  const { at0 } = lineThrough(
    bins.filter(({ r }) => r < CORE),
    (r) => r * r
  );
  const even = (at: number): number => medianOf(bins.slice(Math.max(0, at - 1), at + 2).map(({ value }) => value));
  const ring = Math.max(...bins.map(({ r }, at) => (r >= CORE ? even(at) : -Infinity)));
  const half = Math.max(at0, ring) / 2;
  const last = bins.findLastIndex((_, at) => even(at) > half);
  const rough = bins[last]?.r;
  if (rough === undefined || last === bins.length - 1) return undefined;
  const { at0: level, slope } = lineThrough(
    bins.filter(({ r }) => Math.abs(r - rough - 0.05) < AROUND),
    (r) => r - rough
  );
  return slope < 0 ? rough + Math.max(-AROUND, Math.min(AROUND, (half - level) / slope)) : rough;
}

/** Sharper than this share of the median star, nothing that came through the sky can be. */
const TOO_SHARP = 0.65;
/** More lopsided than the median star by so much, nothing that came through the same optics can be. */
const TOO_LOPSIDED = 0.45;
/** Wider than this many median stars, it is no star. */
const TOO_WIDE = 3.5;
const ENOUGH_TO_COMPARE = 12;
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
  const grid = new Grid(everything);
  const rejected = { hot: 0, sharp: 0, wide: 0, edge: 0 };
  const found: Measured[] = [];
  for (const [at, candidate] of candidates.entries()) {
    if ((at & 255) === 0) progress(at / candidates.length);
    const sky = skyAt(mesh, frame, 2 * candidate.x + 0.5, 2 * candidate.y + 0.5);
    // The mesh tells how the noise of a pixel changes over the frame.
    const here = { level: sky.level, noise: (noise * sky.noise) / (overall || 1), isUneven };
    const fate = measureCandidate(frame, candidate, grid, here);
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

/** On something wide, what is wider than so many usual stars is a part of it. */
const UNEVEN_WIDE = 2;
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
function isPointlike(fine: readonly Measured[], coarse: readonly Measured[]): boolean {
  const [stars, before] = [usualSize(fine), usualSize(coarse)];
  return stars !== undefined && stars.count >= LEAST_ALIKE && stars.count > (before?.count ?? 0);
}

/**
 * Finds and measures the stars of a frame.
 *
 * @param progress told the share that is done, from 0 to 1
 */
export function readStars(frame: Frame, progress: (share: number) => void = () => {}): StarReading {
  const halved = halve(frame, (share) => progress(0.25 * share));
  const mesh = measureBackground(halved, stepOf(frame));
  progress(0.4);
  flatten(halved, mesh);
  const everything = findCandidates(halved);
  progress(0.6);
  const noise = Math.max(pixelNoise(frame), stepOf(frame) / Math.sqrt(12));
  const overSky: Look = { frame, mesh, noise, isUneven: false };
  let { found, rejected } = measureAll(overSky, everything, (share) => progress(0.6 + 0.3 * share));
  let isUneven = false;
  const structured = isStructured(everything, halved);
  if (structured) {
    // What is wider than stars is sky as well, once more: a galaxy's arms, a nebula, the halo of a bright star.
    flatten(halved, measureBackground(halved, 0, FINE_CELL));
    const fine = measureAll({ ...overSky, isUneven: true }, findCandidates(halved));
    isUneven = isPointlike(fine.found, found);
    if (isUneven) ({ found, rejected } = fine);
  }
  const full = fullWell(
    frame,
    found.map(({ top }) => top)
  );
  for (const star of found) star.saturated = star.top[1] >= full;

  // Two peaks that lead to the same middle are one star.
  found.sort((p, q) => q.flux - p.flux);
  const taken = new Map<number, Measured[]>();
  const single = found.filter((star) => {
    const [column, line] = [Math.floor(star.x / 8), Math.floor(star.y / 8)];
    for (let down = -1; down <= 1; down++) {
      for (let across = -1; across <= 1; across++) {
        for (const other of taken.get((line + down) * 65_536 + column + across) ?? []) {
          if (Math.hypot(other.x - star.x, other.y - star.y) < 0.7 * Math.max(1, other.hfrPx)) return false;
        }
      }
    }
    const key = line * 65_536 + column;
    taken.set(key, [...(taken.get(key) ?? []), star]);
    return true;
  });

  const apart = measureCrowded(frame, single);
  const typical = apart.filter(({ saturated, snr }) => !saturated && snr > 10);
  let stars = apart;
  if (typical.length >= ENOUGH_TO_COMPARE) {
    const hfr = isUneven ? usualSize(apart)!.hfrPx : medianOf(typical.map(({ hfrPx }) => hfrPx));
    const like = isUneven ? typical.filter(({ hfrPx }) => hfrPx < UNEVEN_WIDE * hfr) : typical;
    const narrow = medianOf(like.map(({ moments }) => ellipseOf(moments).b));
    const [tailX, tailY] = [0, 1].map((axis) => medianOf(like.map((star) => star.lopsided[axis]!))) as [number, number];
    stars = apart.filter((star) => {
      const isRay = Math.hypot(star.lopsided[0] - tailX, star.lopsided[1] - tailY) > TOO_LOPSIDED + 20 / star.snr;
      const isSharp =
        star.hfrPx < TOO_SHARP * hfr || ellipseOf(star.moments).b < TOO_SHARP * narrow || (isRay && !star.saturated);
      const isWide = !star.saturated && star.hfrPx > (isUneven ? UNEVEN_WIDE : TOO_WIDE) * hfr;
      if (isSharp) rejected.sharp++;
      else if (isWide) rejected.wide++;
      return !isSharp && !isWide;
    });
  }
  const flatness = flatnessOf(frame, stars);
  const half = Math.hypot(frame.widthPx, frame.heightPx) / 2;
  const central = stars.filter(({ x, y }) => Math.hypot(x - frame.widthPx / 2, y - frame.heightPx / 2) < half / 2);
  progress(1);
  return {
    widthPx: frame.widthPx,
    heightPx: frame.heightPx,
    stars: stars.map((star) => ({
      x: star.x,
      y: star.y,
      flux: star.flux,
      snr: star.snr,
      hfrPx: star.hfrPx,
      fwhmPx: widthOf(star.fwhmPx, flatness),
      ellipticity: star.ellipticity,
      angleDeg: star.angleDeg,
      lopsided: star.lopsided,
      threefold: star.threefold,
      saturated: star.saturated
    })),
    background: medianOf(Array.from(mesh.level)),
    noise,
    mesh,
    flatness,
    centreFlatness: flatnessOf(frame, central),
    bottomUp: frame.bottomUp,
    structured,
    rejected
  };
}
