import {
  FrameError,
  SeveralPictures,
  checkSize,
  noSuchPicture,
  type Bytes,
  type Frame,
  type MosaicPattern,
  type PictureInFile,
  type Pixels
} from '../frame.ts';
import { BLOCK_BYTES, CARD_BYTES, Header, MAX_HEADER_BYTES, asciiOf, type CardValue } from './cards.ts';
import { ByteStream } from './stream.ts';
import { pixelsFor } from './tileCode.ts';
import { readTiles } from './tiles.ts';

const padded = (bytes: number): number => Math.ceil(bytes / BLOCK_BYTES) * BLOCK_BYTES;

/** Units of a file that are looked through for an image. */
const MOST_UNITS = 100;
const LONGEST_BYTES = 2 ** 50;

/** Reads a header, whose end it does not know before it is there; undefined where the file ends first. */
async function readHeader(stream: ByteStream, isFirst: boolean): Promise<Header | undefined> {
  let text = '';
  for (;;) {
    const block = await stream.read(BLOCK_BYTES);
    if (block.length === 0 && text === '' && !isFirst) return undefined;
    const read = asciiOf(block);
    if (text === '') {
      if (isFirst && !/^SIMPLE {0,2}=/i.test(read)) {
        throw new FrameError('This is no FITS file: it does not begin with SIMPLE.');
      }
      // Whatever follows the last unit is nobody’s business (FITS 4.0, §3.5, special records).
      if (!isFirst && !/^XTENSION=/i.test(read)) return undefined;
    }
    if (block.length < BLOCK_BYTES) throw new FrameError('FITS header: the file ends before its END.');
    for (let at = 0; at < BLOCK_BYTES; at += CARD_BYTES) {
      if (/^END[\s\0]*$/i.test(read.slice(at, at + CARD_BYTES))) return new Header(text + read.slice(0, at));
    }
    text += read;
    if (text.length > MAX_HEADER_BYTES) throw new FrameError('FITS header: longer than any that is read here.');
  }
}

/** Lengths of a unit’s axes. */
function axesOf(header: Header): number[] {
  return Array.from({ length: header.whole('NAXIS', 0, 999) }, (_, at) => header.whole(`NAXIS${at + 1}`, 0, 2 ** 40));
}

/** Bytes of a unit’s data without padding (FITS 4.0, §4.4.1.1, §7.3.1). */
function dataBytes(header: Header, axes: readonly number[]): number {
  if (axes.length === 0) return 0;
  const groups = header.whole('GCOUNT', 0, 2 ** 40, 1);
  const extra = header.whole('PCOUNT', 0, 2 ** 40, 0);
  const bytes = (bitpixOf(header) / 8) * groups * (extra + axes.reduce((product, axis) => product * axis, 1));
  if (!(Math.abs(bytes) <= LONGEST_BYTES)) throw new FrameError('FITS header: its data would be longer than any file.');
  return Math.abs(bytes);
}

function bitpixOf(header: Header): number {
  const bitpix = header.number('BITPIX');
  if (bitpix === undefined || ![8, 16, 32, 64, -32, -64].includes(bitpix)) {
    throw new FrameError(`FITS header: BITPIX is ${String(header.values.get('BITPIX'))}, which is not a FITS value.`);
  }
  return bitpix;
}

const IS_LITTLE_ENDIAN = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1;

/** Two numbers of sixteen bits at once: their bytes change places, then their bits of `flip` turn round. */
function swapPairs(from: Uint32Array, to: Uint32Array, flip: number): void {
  for (let at = 0; at < from.length; at++) {
    const pair = from[at]!;
    to[at] = (((pair & 0xff00ff) << 8) | ((pair >>> 8) & 0xff00ff)) ^ flip;
  }
}

/** The sign bit of 64, which FITS turns round for unsigned numbers. */
const SIGN_64 = 1n << 63n;
/** BZERO of unsigned numbers (FITS 4.0, §5.2.5). */
const UNSIGNED_ZERO: Readonly<Record<number, number>> = { 16: 2 ** 15, 64: 2 ** 63 };

/** A plane that takes bytes, high byte first, as they come. */
function decoder(pixels: Pixels, bitpix: number, toUnsigned: boolean): (piece: Uint8Array) => void {
  let at = 0;
  if (bitpix === 8) {
    return (piece) => {
      (pixels as Uint8Array).set(piece, at);
      at += piece.length;
    };
  }
  if (bitpix === 16) {
    // BZERO 32768 is FITS’s way to write unsigned numbers: the sign bit turned round.
    const flip = toUnsigned ? 0x8000 : 0;
    const out = pixels as Uint16Array | Int16Array;
    return (piece) => {
      let to = at;
      const paired = IS_LITTLE_ENDIAN && to % 2 === 0 && piece.byteOffset % 4 === 0 ? piece.length >> 2 : 0;
      if (paired > 0) {
        swapPairs(
          new Uint32Array(piece.buffer, piece.byteOffset, paired),
          new Uint32Array(out.buffer, out.byteOffset + 2 * to, paired),
          flip | (flip << 16)
        );
        to += 2 * paired;
      }
      for (let from = 4 * paired; from < piece.length; from += 2, to++) {
        out[to] = ((piece[from]! << 8) | piece[from + 1]!) ^ flip;
      }
      at = to;
    };
  }
  const size = Math.abs(bitpix) / 8;
  return (piece) => {
    const view = new DataView(piece.buffer, piece.byteOffset, piece.byteLength);
    for (let from = 0; from < piece.length; from += size, at++) {
      if (bitpix === 32) pixels[at] = view.getInt32(from);
      else if (bitpix === 64) {
        pixels[at] = Number(toUnsigned ? view.getBigUint64(from) ^ SIGN_64 : view.getBigInt64(from));
      } else if (bitpix === -32) pixels[at] = view.getFloat32(from);
      else pixels[at] = view.getFloat64(from);
    }
  };
}

const PATTERNS: readonly MosaicPattern[] = ['RGGB', 'BGGR', 'GRBG', 'GBRG'];

/** A pattern that begins one column or one row later. */
const shifted = (pattern: string, byX: number, byY: number): string =>
  Array.from({ length: 4 }, (_, at) => pattern[((at + byX) & 1) | ((((at >> 1) + byY) & 1) << 1)]!).join('');

/**
 * Pattern of a colour mosaic as its pixels lie in the file (keywords BAYERPAT or COLORTYP, XBAYROFF, YBAYROFF, ROWORDER:
 * common practice of capture programs, no source). The pattern begins at the corner that is shown top left.
 */
function mosaicOf(header: Header, heightPx: number): { mosaic: MosaicPattern | undefined; bottomUp: boolean } {
  const bottomUp = header.text('ROWORDER')?.toUpperCase() !== 'TOP-DOWN';
  const stated = (header.text('BAYERPAT') ?? header.text('COLORTYP'))?.toUpperCase();
  if (!PATTERNS.includes(stated as MosaicPattern)) return { mosaic: undefined, bottomUp };
  const byX = header.whole('XBAYROFF', -1e6, 1e6, 0);
  const byY = header.whole('YBAYROFF', -1e6, 1e6, 0);
  // Only where the file says that its first row is the lowest is the pattern counted from its last.
  const fromLast = header.text('ROWORDER')?.toUpperCase() === 'BOTTOM-UP';
  const turn = fromLast ? heightPx - 1 : 0;
  return { mosaic: shifted(stated!, byX & 1, (byY + turn) & 1) as MosaicPattern, bottomUp };
}

function frameOf(
  header: Header,
  image: { widthPx: number; heightPx: number; planes: Pixels[] },
  scaled: { scale: number; zero: number; blank: number | undefined }
): Frame {
  const { mosaic, bottomUp } = mosaicOf(header, image.heightPx);
  return {
    ...image,
    ...scaled,
    mosaic: image.planes.length === 1 ? mosaic : undefined,
    bottomUp,
    ...(/^(TOP-DOWN|BOTTOM-UP)$/i.test(header.text('ROWORDER') ?? '') ? {} : { rowsAssumed: true }),
    keywords: header.values
  };
}

/** How pixels become values. */
function scalingOf(header: Header, bitpix: number): { scale: number; zero: number; blank: number | undefined } {
  const scale = header.number('BSCALE') ?? 1;
  if (scale === 0) throw new FrameError('FITS header: BSCALE is 0.');
  return { scale, zero: header.number('BZERO') ?? 0, blank: bitpix > 0 ? header.number('BLANK') : undefined };
}

/** The first image of a unit that is an image itself. */
async function readPlainImage(stream: ByteStream, header: Header, axes: number[]): Promise<Frame> {
  const [widthPx = 0, heightPx = 0, depth = 1, ...more] = axes;
  if (axes.length < 2) throw new FrameError('FITS header: NAXIS is 1; a frame has two.');
  checkSize(widthPx, heightPx, 'FITS header');
  if ((depth !== 1 && depth !== 3) || more.some((axis) => axis !== 1)) {
    throw new FrameError(`FITS header: NAXIS3 is ${depth}; a frame has one plane, or three of red, green and blue.`);
  }
  const bitpix = bitpixOf(header);
  const count = widthPx * heightPx;
  const size = Math.abs(bitpix) / 8;
  if (!stream.canHold(count * depth * size)) {
    throw new FrameError(
      `FITS data: the header has ${widthPx} × ${heightPx} pixels, but the file is too short to hold them.`
    );
  }
  const scaled = scalingOf(header, bitpix);
  const toUnsigned = scaled.scale === 1 && scaled.zero === UNSIGNED_ZERO[bitpix];
  const planes: Pixels[] = [];
  for (let plane = 0; plane < depth; plane++) {
    const pixels = toUnsigned && bitpix === 16 ? new Uint16Array(count) : pixelsFor(bitpix, count);
    const got = await stream.pour(count * size, size, decoder(pixels, bitpix, toUnsigned));
    if (got < count * size) {
      const row = Math.floor(got / size / widthPx) + 1;
      throw new FrameError(`FITS data: the file ends in row ${row} of ${heightPx}. Was it still being written?`);
    }
    planes.push(pixels);
  }
  if (toUnsigned) {
    scaled.zero = 0;
    if (scaled.blank !== undefined) scaled.blank += UNSIGNED_ZERO[bitpix]!;
  }
  return frameOf(header, { widthPx, heightPx, planes }, scaled);
}

/**
 * Reads the first image of a FITS file (FITS 4.0), gzip around it or not: every BITPIX, scaled, in an extension, tiled and
 * compressed with RICE_1, GZIP_1 or GZIP_2. Pixels of 64-bit integers are kept to 53 bits.
 *
 * @throws FrameError with what is wrong and where
 */
export async function readFits(bytes: Bytes): Promise<Frame> {
  return readFitsStream(await ByteStream.open(bytes));
}

/**
 * Keywords of the first image of a FITS file, gzip around it or not, plain or tiled; none of its pixels are read.
 *
 * @throws FrameError with what is wrong and where
 */
export async function readFitsKeywords(bytes: Bytes): Promise<ReadonlyMap<string, CardValue>> {
  const stream = await ByteStream.open(bytes);
  const primary = await readHeader(stream, true);
  // A first header that says where the frame lies is enough, whatever else the file holds.
  if (primary && ['CD1_1', 'CDELT1'].some((key) => primary.values.has(key))) return primary.values;
  const { header } = await new Units(stream, primary).image();
  return header.values;
}

/** A unit that holds an image, the stream at its first pixel. */
interface ImageUnit {
  header: Header;
  axes: number[];
  /** Bytes of a table of compressed tiles; undefined for an image itself. */
  tableBytes: number | undefined;
}

/** The units of a file that hold images, one after the other. */
class Units {
  readonly #stream: ByteStream;
  #primary: Header | undefined;
  #first: Header | undefined;
  #count = 0;
  /** Where the data of the unit before end, padding and all. */
  #endsAt: number;

  /** @param first header of the first unit, where it was read already */
  constructor(stream: ByteStream, first?: Header) {
    this.#stream = stream;
    this.#first = first;
    this.#endsAt = stream.position;
  }

  /** The next unit that holds an image; undefined where there is none. */
  async next(): Promise<ImageUnit | undefined> {
    const stream = this.#stream;
    while (this.#count < MOST_UNITS) {
      await stream.skip(this.#endsAt - stream.position);
      const isFirst = this.#count++ === 0;
      const header = (isFirst && this.#first) || (await readHeader(stream, isFirst));
      if (!header) return undefined;
      const axes = axesOf(header);
      this.#primary ??= header;
      const bytes = dataBytes(header, axes);
      this.#endsAt = stream.position + padded(bytes);
      const kind = isFirst ? 'IMAGE' : header.text('XTENSION');
      // One axis is a spectrum or a table's poor relation, no picture.
      const hasImage = axes.length > 1 && axes.every((axis) => axis > 0);
      const isImage = kind === 'IMAGE' && hasImage && header.values.get('GROUPS') !== true;
      const isTable = header.values.get('ZIMAGE') === true && kind === 'BINTABLE';
      if (!isImage && !isTable) continue;
      header.inherit(this.#primary);
      return { header, axes, tableBytes: isTable ? bytes : undefined };
    }
    return undefined;
  }

  /** @throws FrameError where there is none */
  async image(): Promise<ImageUnit> {
    const unit = await this.next();
    if (!unit) throw new FrameError('This FITS file holds no image.');
    return unit;
  }
}

async function readUnit(stream: ByteStream, { header, axes, tableBytes }: ImageUnit): Promise<Frame> {
  if (tableBytes === undefined) return readPlainImage(stream, header, axes);
  if (!stream.canHold(tableBytes)) {
    throw new FrameError(`FITS table: the header has ${tableBytes} bytes, but the file is too short to hold them.`);
  }
  const table = await stream.readAll(tableBytes);
  if (table.length < tableBytes) {
    throw new FrameError('FITS table: the file ends before it. Was it still being written?');
  }
  return frameOf(header, readTiles(header, table), scalingOf(header, header.number('ZBITPIX') ?? 0));
}

/** Most axes an image has (FITS 4.0, §4.4.1). */
const MOST_AXES = 999;

/** Pixels of a unit’s picture; none where it is no frame. */
function pixelsOf({ header, axes, tableBytes }: ImageUnit): number {
  const [widthPx = 0, heightPx = 0, depth = 1, ...more] =
    tableBytes === undefined
      ? axes
      : Array.from(
          { length: Math.max(0, Math.min(MOST_AXES, header.number('ZNAXIS') ?? 0)) },
          (_, at) => header.number(`ZNAXIS${at + 1}`) ?? 0
        );
  return (depth === 1 || depth === 3) && more.every((axis) => axis === 1) ? widthPx * heightPx : 0;
}

/** A picture so much larger than the first is the one that is meant: before it stood a mask, or a small preview. */
const LARGER = 2;

/** Names of extensions that say of each pixel of another how good it is: no picture themselves (common practice, no source). */
const ABOUT_ANOTHER =
  /^(?:ERR(?:OR)?|UNC(?:ERT(?:AINTY)?)?|SIGMA|STD|VAR(?:IANCE)?|IVAR|DQ|MASK|BPM|FLAGS?|WHT|WEIGHT|COVERAGE)(?:[_\d].*)?$/i;

const nameOf = ({ header }: ImageUnit): string => (header.text('EXTNAME') ?? '').trim().slice(0, 40);

/** Size of a unit’s picture; undefined where it is none. */
function pictureOf(unit: ImageUnit, number: number): PictureInFile | undefined {
  if (pixelsOf(unit) === 0 || ABOUT_ANOTHER.test(nameOf(unit))) return undefined;
  const { header, axes, tableBytes } = unit;
  const [widthPx, heightPx] =
    tableBytes === undefined ? axes : [header.number('ZNAXIS1') ?? 0, header.number('ZNAXIS2') ?? 0];
  return { number, name: nameOf(unit), widthPx: widthPx!, heightPx: heightPx! };
}

/**
 * Reads the image of a FITS file whose gzip, if it had any, is undone: the first one, a much larger one behind it, or the
 * one that is asked for.
 *
 * @param asked number of the picture among those of the file
 * @throws SeveralPictures where another is as large as the one that would be read, and none is asked for
 */
export async function readFitsStream(stream: ByteStream, asked?: number): Promise<Frame> {
  const units = new Units(stream);
  const pictures: PictureInFile[] = [];
  let frame: Frame | undefined;
  for (let isFirst = true; ; isFirst = false) {
    // What follows an image and cannot be read is nobody's business.
    const unit = isFirst ? await units.image() : await units.next().catch(ignored);
    if (!unit) break;
    const picture = pictureOf(unit, pictures.length + 1);
    if (picture) pictures.push(picture);
    if (asked !== undefined) {
      if (picture?.number === asked) return readUnit(stream, unit);
      continue;
    }
    if (!frame || pixelsOf(unit) > LARGER * frame.widthPx * frame.heightPx) frame = await readUnit(stream, unit);
  }
  if (!frame) throw noSuchPicture(asked!, pictures.length);
  const { widthPx, heightPx } = frame;
  const alike = pictures.filter((each) => each.widthPx === widthPx && each.heightPx === heightPx);
  if (alike.length > 1) throw new SeveralPictures(alike);
  return frame;
}

function ignored(error: unknown): undefined {
  if (!(error instanceof FrameError)) throw error;
}
