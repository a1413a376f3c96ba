/** Pixel values as a file holds them. */
export type Pixels = Uint8Array | Int16Array | Uint16Array | Int32Array | Float32Array | Float64Array;

/** Which of the four pixels of a colour mosaic’s cell see which colour, first row first: left to right, then the next row. */
export type MosaicPattern = 'RGGB' | 'BGGR' | 'GRBG' | 'GBRG';

/** A camera’s frame in memory. Rows stand in the order of the file. */
export interface Frame {
  widthPx: number;
  heightPx: number;
  /** One plane, or three: red, green, blue. Each widthPx × heightPx, row after row. */
  planes: readonly Pixels[];
  /** A pixel’s value is `zero + scale × pixel`, in ADU. */
  scale: number;
  zero: number;
  /** Pixel that stands for “no value”; floating-point pixels have NaN for it. */
  blank: number | undefined;
  /** Of the pixels as they lie in `planes[0]`; undefined where the frame is no mosaic. */
  mosaic: MosaicPattern | undefined;
  /** The first row is the lowest of the picture (FITS) or the highest (pictures). */
  bottomUp: boolean;
  /** Its file does not say which row is the lowest: it is assumed, or taken from what is known of its camera. */
  rowsAssumed?: true;
  /** Number of the picture in its file, where it was asked for by that. */
  picture?: number | undefined;
  /** What the file says beside the pixels; strings without their quotes. */
  keywords: ReadonlyMap<string, string | number | boolean>;
}

/** Where the first row of a frame lies in the picture. */
export type RowOrder = 'bottom-up' | 'top-down';

/** A frame with its rows in the order that its camera's program writes, where the file does not say it itself. */
export const withRowOrder = (frame: Frame, order: RowOrder | undefined): Frame =>
  order !== undefined && frame.rowsAssumed ? { ...frame, bottomUp: order === 'bottom-up' } : frame;

/** Makes what is infinite, as some programs write for “no value”, a value that is none; in place. */
export function blankInfinities(planes: readonly Pixels[]): void {
  for (const plane of planes) {
    if (!(plane instanceof Float32Array || plane instanceof Float64Array)) continue;
    for (let at = 0; at < plane.length; at++) {
      const value = plane[at]!;
      // ∞ − ∞ is no number.
      if (value - value !== 0) plane[at] = NaN;
    }
  }
}

/** Step a frame is counted in, ADU; 0 of floating-point pixels, which are not counted. */
export const stepOf = ({ planes, scale }: Pick<Frame, 'planes' | 'scale'>): number =>
  planes.some((plane) => plane instanceof Float32Array || plane instanceof Float64Array) ? 0 : Math.abs(scale);

/** What is wrong with a file that should hold a frame; the message names the place. */
export class FrameError extends Error {}

/** A picture as it is looked at: its pixels are values as they stand, its first row the highest. */
export const pictureFrame = (widthPx: number, heightPx: number, planes: readonly Pixels[]): Frame => ({
  widthPx,
  heightPx,
  planes,
  scale: 1,
  zero: 0,
  blank: undefined,
  mosaic: undefined,
  bottomUp: false,
  keywords: new Map()
});

/** One of several pictures in a file. */
export interface PictureInFile {
  /** Its place among the file’s pictures, from 1 on. */
  number: number;
  /** What the file calls it; empty where it does not. */
  name: string;
  widthPx: number;
  heightPx: number;
}

const pictureInWords = ({ number, name }: PictureInFile): string =>
  name === '' ? String(number) : `${number} “${name}”`;

/** A file holds several pictures of the same size, and nobody said which one is meant. */
export class SeveralPictures extends FrameError {
  constructor(readonly pictures: readonly PictureInFile[]) {
    super(
      `It holds ${pictures.length} pictures of the same size: ${pictures.slice(0, 8).map(pictureInWords).join(', ')}${pictures.length > 8 ? ', …' : ''}. State which one is meant.`
    );
  }
}

export const noSuchPicture = (number: number, count: number): FrameError =>
  new FrameError(`It has no picture ${number}: there ${count === 1 ? 'is one' : `are ${count}`}.`);

/**
 * Which of the pictures of a file is meant: the one of this number, else the largest.
 *
 * @throws SeveralPictures where several are the largest
 * @throws FrameError where there is no picture of this number
 */
export function meantPicture(pictures: readonly PictureInFile[], number: number | undefined): PictureInFile {
  if (number !== undefined) {
    const asked = pictures.find((each) => each.number === number);
    if (!asked) throw noSuchPicture(number, pictures.length);
    return asked;
  }
  const most = Math.max(...pictures.map(({ widthPx, heightPx }) => widthPx * heightPx));
  const largest = pictures.filter(({ widthPx, heightPx }) => widthPx * heightPx === most);
  if (largest.length > 1) throw new SeveralPictures(largest);
  return largest[0]!;
}

/** Largest frame that is read, pixels of one plane: four times the largest cameras that people have. */
export const MAX_PIXELS = 250_000_000;
/** Highest value of a pixel of 16 bits. */
export const LARGEST_ADU = 65_535;
const MAX_SIDE_PX = 65_535;

/** @throws FrameError where a frame of this size is not read */
export function checkSize(widthPx: number, heightPx: number, place: string): void {
  for (const [name, side] of [
    ['wide', widthPx],
    ['high', heightPx]
  ] as const) {
    // A file from outside may leave it out.
    if (!Number.isFinite(side)) throw new FrameError(`${place}: its size in pixels is missing, ${name}.`);
    if (!Number.isInteger(side) || side < 1) throw new FrameError(`${place}: ${side} pixels ${name} is no frame.`);
    if (side > MAX_SIDE_PX) {
      throw new FrameError(`${place}: ${side} pixels ${name} is more than the ${MAX_SIDE_PX} that are read.`);
    }
  }
  if (widthPx * heightPx > MAX_PIXELS) {
    throw new FrameError(
      `${place}: ${widthPx} × ${heightPx} pixels is more than the ${MAX_PIXELS / 1e6} million that are read.`
    );
  }
}

/**
 * Values of a part of a row, ADU; NaN where there is none.
 *
 * @param out filled from its beginning
 */
export function readRow(frame: Frame, plane: number, y: number, fromX: number, toX: number, out: Float32Array): void {
  const pixels = frame.planes[plane]!;
  const { scale, zero, blank } = frame;
  const at = y * frame.widthPx;
  if (scale === 1 && zero === 0 && blank === undefined) {
    for (let x = fromX; x < toX; x++) out[x - fromX] = pixels[at + x]!;
    return;
  }
  for (let x = fromX; x < toX; x++) {
    const pixel = pixels[at + x]!;
    out[x - fromX] = pixel === blank ? NaN : zero + scale * pixel;
  }
}

/** What an open file of bytes offers: its pieces in turn. */
export interface Bytes {
  chunks: AsyncIterable<Uint8Array>;
  /** Length of the whole, where it is known: what is told to be longer is refused before room is made for it. */
  sizeBytes?: number | undefined;
}
