import { readGrey } from './background.ts';
import type { Frame, MosaicPattern } from './frame.ts';

/** Largest half-side of what is cut out around a star, px. */
export const LARGEST_REACH = 150;

/** Pixels around a star, sky taken away; what lies outside the frame or belongs to a neighbour is NaN until mended. */
export interface Stamp {
  /** Place of its first pixel in the frame. */
  x0: number;
  y0: number;
  side: number;
  pixels: Float32Array;
}

const row = new Float32Array(2 * LARGEST_REACH + 4);
const spare = new Float32Array(2 * LARGEST_REACH + 4);
const pool = new Float32Array((2 * LARGEST_REACH + 1) ** 2);
const raw = new Float32Array((2 * LARGEST_REACH + 3) ** 2);

/** Of a mosaic: whether its green pixels are those whose x + y is even. */
const greenIsEven = (mosaic: MosaicPattern): boolean => mosaic[0] === 'G';

/**
 * Cuts out a square around a pixel. Of a mosaic the green pixels are taken, and between them the mean of their four
 * neighbours: the other colours would lay a grid over every star.
 *
 * The stamp is valid until the next one is cut.
 */
export function cutStamp(frame: Frame, x: number, y: number, reach: number, sky: number): Stamp {
  const side = 2 * reach + 1;
  const pixels = pool.subarray(0, side * side);
  const [x0, y0] = [x - reach, y - reach];
  const { widthPx, heightPx, mosaic } = frame;
  const margin = mosaic ? 1 : 0;
  const wide = side + 2 * margin;
  const target = mosaic ? raw.subarray(0, wide * wide) : pixels;
  target.fill(NaN);
  const [fromX, toX] = [Math.max(0, x0 - margin), Math.min(widthPx, x0 + side + margin)];
  for (let at = 0; at < wide; at++) {
    const line = y0 - margin + at;
    if (line < 0 || line >= heightPx || toX <= fromX) continue;
    readGrey(frame, line, fromX, toX, row, spare);
    const to = at * wide + (fromX - (x0 - margin));
    for (let column = 0; column < toX - fromX; column++) target[to + column] = row[column]! - sky;
  }
  if (mosaic) {
    const parity = greenIsEven(mosaic) ? 0 : 1;
    for (let line = 0; line < side; line++) {
      for (let column = 0; column < side; column++) {
        const at = (line + 1) * wide + column + 1;
        const isGreen = ((x0 + column + y0 + line) & 1) === parity;
        pixels[line * side + column] = isGreen
          ? target[at]!
          : (target[at - 1]! + target[at + 1]! + target[at - wide]! + target[at + wide]!) / 4;
      }
    }
  }
  return { x0, y0, side, pixels };
}

/** How much brighter than all its neighbours a pixel must be to be a fault of the sensor and not the top of a star. */
const HOT_RATIO = 5;
const HOT_SIGMA = 8;

/**
 * Puts the mean of its neighbours in the place of each hot pixel.
 *
 * @returns whether the pixel at this place was one
 */
export function mendHot(stamp: Stamp, noise: number, atX: number, atY: number): boolean {
  const { side, pixels } = stamp;
  let hit = false;
  for (let y = 1; y < side - 1; y++) {
    for (let x = 1; x < side - 1; x++) {
      const at = y * side + x;
      const here = pixels[at]!;
      if (!(here > HOT_SIGMA * noise)) continue;
      let most = 0;
      let sum = 0;
      for (let dy = -side; dy <= side; dy += side) {
        for (let dx = -1; dx <= 1; dx++) {
          if (dx === 0 && dy === 0) continue;
          const near = pixels[at + dy + dx]!;
          sum += near;
          if (near > most) most = near;
        }
      }
      if (here < HOT_RATIO * Math.max(most, 1.5 * noise)) continue;
      pixels[at] = sum / 8;
      if (Math.abs(x + stamp.x0 - atX) <= 2 && Math.abs(y + stamp.y0 - atY) <= 2) hit = true;
    }
  }
  return hit;
}

/** A star near another one: what is nearer to it, measured by their sizes, is its. */
export interface Neighbour {
  x: number;
  y: number;
  size: number;
}

/** In the place of what is not the star’s own stand the pixels opposite: a star is alike on both sides. */
export function mendNeighbours(
  stamp: Stamp,
  x: number,
  y: number,
  size: number,
  neighbours: readonly Neighbour[]
): void {
  const { side, pixels, x0, y0 } = stamp;
  if (neighbours.length > 0) {
    const [ownX, ownY, own] = [x - x0, y - y0, 1 / (size * size)];
    const others = neighbours.map((near) => [near.x - x0, near.y - y0, 1 / (near.size * near.size)] as const);
    for (let line = 0; line < side; line++) {
      for (let column = 0; column < side; column++) {
        const distance = ((column - ownX) * (column - ownX) + (line - ownY) * (line - ownY)) * own;
        for (const [otherX, otherY, other] of others) {
          if (((column - otherX) * (column - otherX) + (line - otherY) * (line - otherY)) * other >= distance) continue;
          pixels[line * side + column] = NaN;
          break;
        }
      }
    }
  }
  const [turnX, turnY] = [Math.round(2 * (x - x0)), Math.round(2 * (y - y0))];
  for (let line = 0; line < side; line++) {
    for (let column = 0; column < side; column++) {
      const at = line * side + column;
      if (pixels[at] === pixels[at]) continue;
      const [mirrorX, mirrorY] = [turnX - column, turnY - line];
      const inside = mirrorX >= 0 && mirrorY >= 0 && mirrorX < side && mirrorY < side;
      const opposite = inside ? pixels[mirrorY * side + mirrorX]! : 0;
      pixels[at] = opposite === opposite ? opposite : 0;
    }
  }
}
