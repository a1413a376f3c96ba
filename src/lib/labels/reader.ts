import { HeldWorker } from '$lib/workers/ask.ts';
import type { LabelWorker } from '$lib/workers/label.worker.ts';
import { startLabels } from '$lib/workers/start.ts';

/** Longer sides that a picture is looked at with, px: a code is seen where its cells have a few pixels each, and no more. */
const SIDES = [800, 1400, 480];
/** Of a film one size is enough: the next picture comes at once. */
const FILM_SIDE = 640;

type Picture = HTMLVideoElement | ImageBitmap;
const sizeOf = (picture: Picture): [number, number] =>
  'videoWidth' in picture ? [picture.videoWidth, picture.videoHeight] : [picture.width, picture.height];

/** Reads labels out of pictures. */
export class LabelReader {
  readonly #worker = new HeldWorker<LabelWorker>(startLabels);
  readonly #canvas = document.createElement('canvas');

  async #readAt(picture: Picture, side: number): Promise<string | undefined> {
    const [width, height] = sizeOf(picture);
    const scale = Math.min(1, side / Math.max(width, height));
    const [wide, high] = [Math.round(width * scale), Math.round(height * scale)];
    if (wide < 1 || high < 1) return undefined;
    this.#canvas.width = wide;
    this.#canvas.height = high;
    const context = this.#canvas.getContext('2d', { willReadFrequently: true })!;
    context.drawImage(picture, 0, 0, wide, high);
    const { data } = context.getImageData(0, 0, wide, high);
    return this.#worker.ask<string | undefined>((worker) => worker.read(data, wide, high));
  }

  /** What the code in a picture of a film says, if one is seen. */
  film(picture: HTMLVideoElement): Promise<string | undefined> {
    return this.#readAt(picture, FILM_SIDE);
  }

  /** What the code in a photo says, if one is seen. @throws where it is no picture */
  async photo(file: Blob): Promise<string | undefined> {
    const picture = await createImageBitmap(file);
    try {
      for (const side of SIDES) {
        const found = await this.#readAt(picture, side);
        if (found !== undefined) return found;
      }
      return undefined;
    } finally {
      picture.close();
    }
  }

  end(): void {
    this.#worker.end();
  }
}
