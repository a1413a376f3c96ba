import { readGrey } from '../background.ts';
import type { Frame } from '../frame.ts';

/** Noise of one pixel of the whole frame, ADU: from differences of pixels of the same colour, which the sky cancels out of. */
export function pixelNoise(frame: Frame): number {
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

const NEARLY = 0.995;

/**
 * Level at which the sensor is full: what the file says, or where the brightest stars end alike, whichever is lower.
 *
 * @param tops highest and second highest value of each star, ADU
 */
export function fullWell(frame: Frame, tops: readonly (readonly [number, number])[]): number {
  const stated = frame.keywords.get('SATURATE') ?? frame.keywords.get('DATAMAX');
  let most = -Infinity;
  for (const [first] of tops) most = Math.max(most, first);
  // A star that is cut off has its highest value twice, side by side.
  const plateau = tops.some(([, second]) => second >= NEARLY * most) ? NEARLY * most : Infinity;
  return Math.min(plateau, typeof stated === 'number' && stated > 0 ? 0.98 * stated : Infinity);
}
