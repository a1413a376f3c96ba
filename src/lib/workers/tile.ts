import type { FramePyramid } from '@lodestone/core/frame';
import { transfer } from 'comlink';

/** Pixels of a tile of a picture. */
export interface Tile {
  width: number;
  height: number;
  grey: Uint8Array;
}

/** A tile on its way out of a worker. */
export function sendable(
  pyramid: FramePyramid | undefined,
  level: number,
  column: number,
  row: number
): Tile | undefined {
  const tile = pyramid?.tile(level, column, row);
  return tile && transfer(tile, [tile.grey.buffer]);
}
