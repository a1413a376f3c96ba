import { expose } from 'comlink';
import jsQR from 'jsqr';

/** Reads codes of labels out of pictures, away from the page. */
const worker = {
  /**
   * @param pixels red, green, blue and opacity of each, row after row
   * @returns what the code says; undefined where none is seen
   */
  read(pixels: Uint8ClampedArray, widthPx: number, heightPx: number): string | undefined {
    return jsQR(pixels, widthPx, heightPx, { inversionAttempts: 'dontInvert' })?.data || undefined;
  }
};

export type LabelWorker = typeof worker;
expose(worker);
