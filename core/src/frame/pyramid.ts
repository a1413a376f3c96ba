import { halve, readGrey } from './background.ts';
import { readRow, type Frame } from './frame.ts';

/** Side of a tile, px. */
export const TILE_PX = 256;

/** How light becomes grey: from a little under the sky up to many times its noise, as the inverse hyperbolic sine. */
export interface Stretch {
  background: number;
  noise: number;
}

const BLACK_SIGMA = 1.2;
const SOFT_SIGMA = 6;
const WHITE_SIGMA = 220;

interface Level {
  width: number;
  height: number;
  /** Undefined of the frame itself. */
  pixels: Float32Array | undefined;
}

/**
 * A frame in halves of halves, so that any part of it can be shown at any size without going through all of it. It is
 * stored once more, at a third of its pixels.
 */
export class FramePyramid {
  readonly #frame: Frame;
  readonly #levels: Level[];
  readonly #black: number;
  readonly #soft: number;
  readonly #top: number;

  constructor(frame: Frame, { background, noise }: Stretch) {
    this.#frame = frame;
    const sigma = noise || 1;
    this.#black = background - BLACK_SIGMA * sigma;
    this.#soft = SOFT_SIGMA * sigma;
    this.#top = Math.asinh((WHITE_SIGMA + BLACK_SIGMA) / SOFT_SIGMA);
    this.#levels = [{ width: frame.widthPx, height: frame.heightPx, pixels: undefined }];
    let next: Frame = frame;
    while (Math.max(next.widthPx, next.heightPx) > TILE_PX && Math.min(next.widthPx, next.heightPx) > 1) {
      const { width, height, pixels } = halve(next);
      this.#levels.push({ width, height, pixels });
      next = {
        ...frame,
        widthPx: width,
        heightPx: height,
        planes: [pixels],
        scale: 1,
        zero: 0,
        blank: undefined,
        mosaic: undefined
      };
    }
  }

  /** Sizes of the levels, the frame's own first, px. */
  get sizes(): { width: number; height: number }[] {
    return this.#levels.map(({ width, height }) => ({ width, height }));
  }

  /**
   * Grey values of a tile, row after row from the top of the picture; smaller at the right and lower edges.
   *
   * @returns undefined where there is no such tile
   */
  tile(level: number, column: number, row: number): { width: number; height: number; grey: Uint8Array } | undefined {
    const found = this.#levels[level];
    if (!found || column < 0 || row < 0) return undefined;
    const [x0, y0] = [column * TILE_PX, row * TILE_PX];
    const [width, height] = [Math.min(TILE_PX, found.width - x0), Math.min(TILE_PX, found.height - y0)];
    if (!(width > 0 && height > 0)) return undefined;
    const grey = new Uint8Array(width * height);
    const line = new Float32Array(width + 1);
    for (let y = 0; y < height; y++) {
      const fromTop = y0 + y;
      this.#read(found, this.#frame.bottomUp ? found.height - 1 - fromTop : fromTop, x0, width, line);
      for (let x = 0; x < width; x++) {
        const share = Math.asinh((line[x]! - this.#black) / this.#soft) / this.#top;
        grey[y * width + x] = share > 0 ? Math.min(255, Math.round(255 * share)) : 0;
      }
    }
    return { width, height, grey };
  }

  #read(level: Level, y: number, x0: number, width: number, out: Float32Array): void {
    if (level.pixels) {
      out.set(level.pixels.subarray(y * level.width + x0, y * level.width + x0 + width));
      return;
    }
    const { mosaic, heightPx, widthPx } = this.#frame;
    if (!mosaic) {
      readGrey(this.#frame, y, x0, x0 + width, out, new Float32Array(width));
      return;
    }
    // All four colours of a cell together, wherever it begins: one alone would be a chequered board.
    const toX = Math.min(widthPx, x0 + width + 1);
    const [one, two] = [new Float32Array(width + 1), new Float32Array(width + 1)];
    readRow(this.#frame, 0, y, x0, toX, one);
    readRow(this.#frame, 0, Math.min(heightPx - 1, y + 1), x0, toX, two);
    for (let x = 0; x < width; x++) {
      const next = x0 + x + 1 < toX ? x + 1 : x;
      out[x] = (one[x]! + one[next]! + two[x]! + two[next]!) / 4;
    }
  }
}
