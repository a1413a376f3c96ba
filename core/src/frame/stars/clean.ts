import type { Frame } from '../frame.ts';
import { medianOf } from '../../stats/median.ts';
import { LARGEST_REACH, cutStamp, mendHot, type Stamp } from '../stamp.ts';
import type { Sky } from './star.ts';

const LEAST_REACH = 8;

/** How far the stamp of a star reaches from its middle, px. @param size rough radius of the star, px */
export const reachOf = (size: number): number =>
  Math.max(LEAST_REACH, Math.min(LARGEST_REACH, Math.ceil(2 * size + 6)));

/** Level of the sky around a star: the median of the outermost pixels of its stamp. */
export function ringLevel({ side, pixels }: Stamp): number {
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

const EDGE = 2;

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

/** Sky taken away around a place, hot pixels mended. */
export function cutClean(frame: Frame, px: number, py: number, reach: number, sky: Sky) {
  const stamp = cutStamp(frame, px, py, reach, sky.level);
  if (sky.isUneven) levelSlopes(stamp);
  if (frame.mosaic || sky.isUneven) {
    // Green has a sky of its own, and so has what stands on a galaxy or a nebula.
    const level = ringLevel(stamp);
    for (let at = 0; at < stamp.pixels.length; at++) stamp.pixels[at]! -= level;
  }
  return { stamp, wasHot: mendHot(stamp, sky.noise, px + 0.5, py + 0.5) };
}
