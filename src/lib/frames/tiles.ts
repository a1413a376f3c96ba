import { TILE_PX } from '@lodestone/core/frame';
import type { Tile } from '../workers/tile.ts';
import type { Pixels, Sizes } from './pixels.ts';

/** Tiles that are kept, about 50 MB. */
const MOST_KEPT = 200;

/** What part of a picture is seen, px of the canvas. */
export interface Seen {
  scale: number;
  /** The picture's top left corner. */
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Colour that light is shown in, of 255. */
export type Tint = readonly [red: number, green: number, blue: number];

/** Tiles of one picture, asked for as they come into sight; what is coarser stands in for what is not there yet. */
export class Tiles {
  readonly #pixels: Pick<Pixels, 'tile'>;
  readonly #sizes: Sizes;
  readonly #kept = new Map<string, Tile | 'asked'>();
  readonly #drawn = new Map<string, HTMLCanvasElement>();
  readonly #ready: () => void;
  #tint: Tint = [255, 255, 255];

  /** @param ready something new can be drawn */
  constructor(pixels: Pick<Pixels, 'tile'>, sizes: Sizes, ready: () => void) {
    this.#pixels = pixels;
    this.#sizes = sizes;
    this.#ready = ready;
  }

  #key = (level: number, column: number, row: number): string => `${level}/${column}/${row}`;

  #ask(level: number, column: number, row: number): void {
    const key = this.#key(level, column, row);
    if (this.#kept.has(key)) return;
    this.#kept.set(key, 'asked');
    this.#pixels.tile(level, column, row).then(
      (tile) => {
        if (!tile) return;
        this.#kept.set(key, tile);
        if (this.#kept.size > MOST_KEPT) {
          const oldest = this.#kept.keys().next().value!;
          this.#kept.delete(oldest);
          this.#drawn.delete(oldest);
        }
        this.#ready();
      },
      () => this.#kept.delete(key)
    );
  }

  #canvas(key: string): HTMLCanvasElement | undefined {
    const there = this.#drawn.get(key);
    if (there) return there;
    const tile = this.#kept.get(key);
    if (!tile || tile === 'asked') return undefined;
    const canvas = document.createElement('canvas');
    canvas.width = tile.width;
    canvas.height = tile.height;
    const image = new ImageData(tile.width, tile.height);
    const [red, green, blue] = this.#tint;
    for (let at = 0, to = 0; at < tile.grey.length; at++, to += 4) {
      const grey = tile.grey[at]!;
      image.data[to] = (grey * red) / 255;
      image.data[to + 1] = (grey * green) / 255;
      image.data[to + 2] = (grey * blue) / 255;
      image.data[to + 3] = 255;
    }
    canvas.getContext('2d')!.putImageData(image, 0, 0);
    this.#drawn.set(key, canvas);
    return canvas;
  }

  /** Level whose pixels are at least as fine as the screen's. */
  #levelFor(scale: number): number {
    return Math.max(0, Math.min(this.#sizes.length - 1, Math.floor(Math.log2(1 / scale) + 0.25)));
  }

  draw(context: CanvasRenderingContext2D, seen: Seen, tint: Tint): void {
    if (tint.some((part, at) => part !== this.#tint[at])) {
      this.#tint = tint;
      this.#drawn.clear();
    }
    const wanted = this.#levelFor(seen.scale);
    // From coarse to fine: what is not there yet shows what lies below it.
    const last = this.#sizes.length - 1;
    for (const level of [...new Set([last, Math.min(last, wanted + 2), wanted])]) this.#drawLevel(context, seen, level);
  }

  #drawLevel(context: CanvasRenderingContext2D, { scale, left, top, width, height }: Seen, level: number): void {
    const size = this.#sizes[level]!;
    const step = scale * 2 ** level;
    const [columns, rows] = [Math.ceil(size.width / TILE_PX), Math.ceil(size.height / TILE_PX)];
    const from = Math.max(0, Math.floor(-left / step / TILE_PX));
    const to = Math.min(columns - 1, Math.floor((width - left) / step / TILE_PX));
    const fromRow = Math.max(0, Math.floor(-top / step / TILE_PX));
    const toRow = Math.min(rows - 1, Math.floor((height - top) / step / TILE_PX));
    context.imageSmoothingEnabled = step < 3;
    for (let row = fromRow; row <= toRow; row++) {
      for (let column = from; column <= to; column++) {
        const canvas = this.#canvas(this.#key(level, column, row));
        if (!canvas) {
          this.#ask(level, column, row);
          continue;
        }
        // To whole pixels of the screen, so that there are no seams.
        const [x0, y0] = [Math.round(left + column * TILE_PX * step), Math.round(top + row * TILE_PX * step)];
        const x1 = Math.round(left + (column * TILE_PX + canvas.width) * step);
        const y1 = Math.round(top + (row * TILE_PX + canvas.height) * step);
        context.drawImage(canvas, x0, y0, x1 - x0, y1 - y0);
      }
    }
  }
}
