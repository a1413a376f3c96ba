import type { Frame } from '../frame.ts';
import { FWHM_OVER_SIGMA } from '../measure.ts';
import { medianOf } from '../../stats/median.ts';
import { LARGEST_REACH, cutStamp } from '../stamp.ts';
import { ringLevel } from './clean.ts';
import type { Measured } from './star.ts';

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
export function widthOf(byMoments: number, flatness: number): number {
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
export function flatnessOf(frame: Frame, stars: readonly Measured[]): number {
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
