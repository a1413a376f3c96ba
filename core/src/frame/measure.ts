import type { Stamp } from './stamp.ts';

/** Half-flux radius of a normal distribution over its σ: √(2 ln 2). */
export const HFR_OVER_SIGMA = Math.sqrt(2 * Math.LN2);
/** Full width at half maximum of a normal distribution over its σ. */
export const FWHM_OVER_SIGMA = 2 * HFR_OVER_SIGMA;

/** exp(−t) for t in [0, 16), from a table with steps of 1/256, between which it is taken as straight. */
const EXP_STEPS = 256;
const EXP = Float64Array.from({ length: 16 * EXP_STEPS + 2 }, (_, at) => Math.exp(-at / EXP_STEPS));
function fallOff(t: number): number {
  const at = t * EXP_STEPS;
  const whole = at | 0;
  if (whole >= 16 * EXP_STEPS) return 0;
  return EXP[whole]! + (EXP[whole + 1]! - EXP[whole]!) * (at - whole);
}

/** Second moments of a star, px². */
export interface Moments {
  xx: number;
  yy: number;
  xy: number;
}

const CENTRE_ROUNDS = 12;

/**
 * Centre of the light under a round window that moves with it (windowed centroid: each step twice the mean offset, which
 * for a normal star leads to its middle).
 *
 * @param sigma of the window, px
 * @param near last step, px
 * @returns place in the frame; undefined where it runs away
 */
export function windowedCentre(
  stamp: Stamp,
  x: number,
  y: number,
  sigma: number,
  near: number
): [x: number, y: number] | undefined {
  const { side, pixels, x0, y0 } = stamp;
  const half = 1 / (2 * sigma * sigma);
  const reach = 4 * sigma;
  let [cx, cy] = [x - x0, y - y0];
  for (let round = 0; round < CENTRE_ROUNDS; round++) {
    const [fromX, toX] = [Math.max(0, Math.ceil(cx - reach)), Math.min(side - 1, Math.floor(cx + reach))];
    const [fromY, toY] = [Math.max(0, Math.ceil(cy - reach)), Math.min(side - 1, Math.floor(cy + reach))];
    let [sum, sumX, sumY] = [0, 0, 0];
    for (let line = fromY; line <= toY; line++) {
      const dy = line - cy;
      for (let column = fromX; column <= toX; column++) {
        const dx = column - cx;
        const light = pixels[line * side + column]! * fallOff((dx * dx + dy * dy) * half);
        sum += light;
        sumX += light * dx;
        sumY += light * dy;
      }
    }
    if (!(sum > 0)) return undefined;
    const [stepX, stepY] = [(2 * sumX) / sum, (2 * sumY) / sum];
    cx += stepX;
    cy += stepY;
    if (!(Math.hypot(cx + x0 - x, cy + y0 - y) < 3 + 2 * sigma)) return undefined;
    if (Math.abs(stepX) + Math.abs(stepY) < near) break;
  }
  return [cx + x0, cy + y0];
}

const BINS_PER_PX = 10;
const bins = new Float64Array(220 * BINS_PER_PX);

/**
 * Light within a radius, and the radius that holds half of it, px.
 *
 * @param cuts parts each pixel is cut into, each way, before its light is told apart by distance
 */
export function halfFlux(
  stamp: Stamp,
  x: number,
  y: number,
  radius: number,
  cuts: number
): { flux: number; hfrPx: number } | undefined {
  const { side, pixels, x0, y0 } = stamp;
  const [cx, cy] = [x - x0, y - y0];
  const count = Math.min(bins.length, Math.ceil(radius * BINS_PER_PX));
  bins.fill(0, 0, count);
  const far = radius + 1;
  const middle = (cuts - 1) / 2;
  const [fromX, toX] = [Math.max(0, Math.ceil(cx - far)), Math.min(side - 1, Math.floor(cx + far))];
  const [fromY, toY] = [Math.max(0, Math.ceil(cy - far)), Math.min(side - 1, Math.floor(cy + far))];
  for (let line = fromY; line <= toY; line++) {
    for (let column = fromX; column <= toX; column++) {
      const light = pixels[line * side + column]! / (cuts * cuts);
      for (let v = 0; v < cuts; v++) {
        const dy = line - cy + (v - middle) / cuts;
        for (let u = 0; u < cuts; u++) {
          const dx = column - cx + (u - middle) / cuts;
          const bin = (Math.sqrt(dx * dx + dy * dy) * BINS_PER_PX) | 0;
          if (bin < count) bins[bin]! += light;
        }
      }
    }
  }
  let flux = 0;
  for (let bin = 0; bin < count; bin++) flux += bins[bin]!;
  if (!(flux > 0)) return undefined;
  let sum = 0;
  for (let bin = 0; bin < count; bin++) {
    const next = sum + bins[bin]!;
    if (next >= flux / 2) return { flux, hfrPx: (bin + (flux / 2 - sum) / bins[bin]!) / BINS_PER_PX };
    sum = next;
  }
  return undefined;
}

const MOMENT_ROUNDS = 30;
/** Least variance of a window, px². */
const NARROWEST = 1.5;
/** The window ends where its weight is e⁻⁸. */
const WINDOW = 16;

/**
 * Second moments under a window that takes the star's own shape (adaptive moments: Bernstein & Jarvis 2002, from
 * memory): for a normal star they are its own, whatever the noise far out.
 *
 * @param start variance of a first, round window, px²
 * @returns undefined where no shape comes of it
 */
export function adaptiveMoments(stamp: Stamp, x: number, y: number, start: number): Moments | undefined {
  const { side, pixels, x0, y0 } = stamp;
  const [cx, cy] = [x - x0, y - y0];
  let [xx, yy, xy] = [start, start, 0];
  for (let round = 0; round < MOMENT_ROUNDS; round++) {
    if (!(xx * yy - xy * xy > 1e-4) || xx > side * side || yy > side * side) return undefined;
    // Pixels are too coarse for a window as narrow as a star of hardly a pixel: a wider one, taken away again, does.
    const wider = Math.max(0, NARROWEST - Math.min(xx, yy));
    const [wXx, wYy] = [xx + wider, yy + wider];
    const determinant = wXx * wYy - xy * xy;
    const [a, b, c] = [wYy / determinant, -xy / determinant, wXx / determinant];
    const [reachX, reachY] = [Math.sqrt(WINDOW * wXx), Math.sqrt(WINDOW * wYy)];
    const [fromX, toX] = [Math.max(0, Math.ceil(cx - reachX)), Math.min(side - 1, Math.floor(cx + reachX))];
    const [fromY, toY] = [Math.max(0, Math.ceil(cy - reachY)), Math.min(side - 1, Math.floor(cy + reachY))];
    let [sum, sumXx, sumYy, sumXy] = [0, 0, 0, 0];
    for (let line = fromY; line <= toY; line++) {
      const dy = line - cy;
      for (let column = fromX; column <= toX; column++) {
        const dx = column - cx;
        const square = a * dx * dx + 2 * b * dx * dy + c * dy * dy;
        if (square > WINDOW) continue;
        const light = pixels[line * side + column]! * fallOff(square / 2);
        sum += light;
        sumXx += light * dx * dx;
        sumYy += light * dy * dy;
        sumXy += light * dx * dy;
      }
    }
    if (!(sum > 0)) return undefined;
    // What the window took away is given back: of two normal shapes multiplied the inverses add up. Where that leads
    // nowhere, twice the moments lead to the same end more slowly.
    const [mXx, mYy, mXy] = [sumXx / sum, sumYy / sum, sumXy / sum];
    const inside = mXx * mYy - mXy * mXy;
    const [p, q, r] = [mYy / inside - a, -mXy / inside - b, mXx / inside - c];
    const left = p * r - q * q;
    const isShape = inside > 0 && p > 0 && (wider > 0 ? left > 0 : left > 0.04 * (a * c - b * b));
    const [nextXx, nextYy, nextXy] = isShape ? [r / left, p / left, -q / left] : [2 * mXx, 2 * mYy, 2 * mXy];
    const change = Math.abs(nextXx - xx) + Math.abs(nextYy - yy) + Math.abs(nextXy - xy);
    [xx, yy, xy] = [nextXx, nextYy, nextXy];
    if (change < 1e-3 * (xx + yy)) break;
  }
  return xx > 0.05 && yy > 0.05 && xx * yy > xy * xy ? { xx, yy, xy } : undefined;
}

/** Half-axes of the ellipse of second moments, px, and the angle of the longer one, degrees in (−90, 90]. */
export function ellipseOf({ xx, yy, xy }: Moments): { a: number; b: number; angleDeg: number } {
  const middle = (xx + yy) / 2;
  const apart = Math.hypot((xx - yy) / 2, xy);
  return {
    a: Math.sqrt(middle + apart),
    b: Math.sqrt(Math.max(1e-6, middle - apart)),
    angleDeg: (Math.atan2(2 * xy, xx - yy) * 90) / Math.PI
  };
}

/** Third moments of a star under a round window, over its size cubed; no unit. */
export interface ThirdMoments {
  /** Lopsidedness: those that point one way. A comatic tail gives them. */
  lopsided: [x: number, y: number];
  /** Those that repeat after a third of a turn, as a cosine and a sine of three times the angle of a corner: pinched optics. */
  threefold: [cosine: number, sine: number];
}

/** Third moments of a star. @param moments its own; the window is half as wide again */
export function thirdMoments({ side, pixels, x0, y0 }: Stamp, x: number, y: number, moments: Moments): ThirdMoments {
  const [cx, cy] = [x - x0, y - y0];
  const variance = (moments.xx + moments.yy) / 2;
  const wide = 2.25 * variance;
  const reach = Math.sqrt(WINDOW * wide);
  const [fromX, toX] = [Math.max(0, Math.ceil(cx - reach)), Math.min(side - 1, Math.floor(cx + reach))];
  const [fromY, toY] = [Math.max(0, Math.ceil(cy - reach)), Math.min(side - 1, Math.floor(cy + reach))];
  let [sum, sumX, sumY, cosine, sine] = [0, 0, 0, 0, 0];
  for (let line = fromY; line <= toY; line++) {
    const dy = line - cy;
    for (let column = fromX; column <= toX; column++) {
      const dx = column - cx;
      const square = dx * dx + dy * dy;
      const light = pixels[line * side + column]! * fallOff(square / wide / 2);
      sum += light;
      sumX += light * (square * dx);
      sumY += light * (square * dy);
      cosine += light * (dx * (dx * dx - 3 * dy * dy));
      sine += light * (dy * (3 * dx * dx - dy * dy));
    }
  }
  if (!(sum > 0)) return { lopsided: [0, 0], threefold: [0, 0] };
  const size = sum * variance ** 1.5;
  return { lopsided: [sumX / size, sumY / size], threefold: [cosine / size, sine / size] };
}
