import { FrameError, checkSize, meantPicture, pictureFrame, type Frame, type Pixels } from '../frame.ts';
import { readDirectories, type Directory, type TagName } from './directory.ts';
import { OTHER_COMPRESSIONS, UNPACKERS, unpack } from './unpack.ts';

const BLACK_IS_ZERO = 1;
const WHITE_IS_ZERO = 0;
const RGB = 2;
const COLOUR_SPACES: ReadonlyMap<number, string> = new Map([
  [3, 'come from a palette'],
  [4, 'are a mask'],
  [5, 'are those of printing inks (CMYK)'],
  [6, 'are those of video (YCbCr)'],
  [8, 'are CIE L*a*b*'],
  [9, 'are ICC L*a*b*'],
  [10, 'are ITU L*a*b*']
]);
/** Colours of a camera’s own mosaic, and of its mosaic taken apart (DNG). */
const RAW_PHOTOMETRIC: ReadonlySet<number> = new Set([32_803, 34_892]);
const SAVE = 'save it as grey or colour of 16 bits';
const ASSOCIATED_ALPHA = 1;

type NumberKind = 'unsigned' | 'signed' | 'float';
const NUMBER_KINDS: readonly (NumberKind | undefined)[] = [undefined, 'unsigned', 'signed', 'float', 'unsigned'];

/** How the values of a picture are kept in the file, once everything about them is known to be read. */
interface Layout {
  width: number;
  height: number;
  little: boolean;
  kind: NumberKind;
  bits: number;
  samples: number;
  isPlanar: boolean;
  compression: number;
  lowestFirst: boolean;
  predictor: number;
  blockWidth: number;
  blockHeight: number;
  isTiled: boolean;
  offsets: readonly number[];
  counts: readonly number[];
}

const first = (directory: Directory, name: TagName, otherwise: number): number => directory[name]?.[0] ?? otherwise;

/** The one value that all samples have. */
function common(directory: Directory, name: TagName, otherwise: number, what: string): number {
  const values = directory[name] ?? [otherwise];
  if (new Set(values).size > 1) throw new FrameError(`TIFF: its channels differ in their ${what}; ${SAVE}.`);
  return values[0] ?? otherwise;
}

/** Which values a block has: unsigned whole numbers of 8 to 16 and of 32 or 64 bits, signed ones, floats of 16, 32 or 64. */
function checkNumbers(kind: NumberKind | undefined, bits: number): NumberKind {
  if (kind === undefined) throw new FrameError(`TIFF: its values are complex numbers; ${SAVE}.`);
  if (kind !== 'float' && bits < 8) throw new FrameError(`TIFF: ${bits} bit a pixel is no frame.`);
  const whole = kind === 'unsigned' && bits <= 16 ? true : [8, 16, 32, 64].includes(bits);
  if (kind === 'float' ? ![16, 32, 64].includes(bits) : !whole) {
    throw new FrameError(`TIFF: ${kind} values of ${bits} bits are not read; ${SAVE}.`);
  }
  return kind;
}

function layoutOf(directory: Directory, little: boolean, fileBytes: number): Layout {
  const [width, height] = [first(directory, 'width', NaN), first(directory, 'height', NaN)];
  checkSize(width, height, 'TIFF');
  const bits = common(directory, 'bits', 1, 'bits');
  const kind = checkNumbers(NUMBER_KINDS[common(directory, 'sampleFormat', 1, 'kind of number')], bits);
  const samples = first(directory, 'samples', 1);
  if (samples < 1 || samples > 16) throw new FrameError(`TIFF: it has ${samples} values a pixel.`);
  const compression = first(directory, 'compression', 1);
  if (!UNPACKERS.has(compression)) {
    const name = OTHER_COMPRESSIONS.get(compression) ?? `number ${compression}`;
    throw new FrameError(`TIFF: its compression (${name}) is not read; save it without, or with LZW or Deflate.`);
  }
  const predictor = first(directory, 'predictor', 1);
  const isPredictable = kind === 'float' ? predictor === 3 : predictor === 2 && [8, 16, 32].includes(bits);
  if (predictor !== 1 && !isPredictable) {
    throw new FrameError(
      `TIFF: predictor ${predictor} of ${kind} values of ${bits} bits is not read; save it without.`
    );
  }
  // libtiff writes the lowest bytes first there, the note the highest: one cannot tell which.
  if (predictor === 3 && !little) {
    throw new FrameError(
      'TIFF: programs write predictor 3 of this order of bytes in two ways; save it without a predictor.'
    );
  }
  const isTiled = directory.tileOffsets !== undefined || directory.tileWidth !== undefined;
  const blockWidth = isTiled ? first(directory, 'tileWidth', 0) : width;
  const blockHeight = isTiled
    ? first(directory, 'tileHeight', 0)
    : Math.min(height, first(directory, 'rowsPerStrip', height) || height);
  const isPlanar = samples > 1 && first(directory, 'planar', 1) === 2;
  const name = isTiled ? 'tile' : 'strip';
  if (!(blockWidth >= 1 && blockHeight >= 1 && blockWidth <= 2 * width + 4096 && blockHeight <= 2 * height + 4096)) {
    throw new FrameError(
      `TIFF: tiles of ${blockWidth} × ${blockHeight} pixels make no picture of ${width} × ${height}.`
    );
  }
  const blocks = Math.ceil(width / blockWidth) * Math.ceil(height / blockHeight) * (isPlanar ? samples : 1);
  const offsets = (isTiled ? directory.tileOffsets : directory.stripOffsets) ?? [];
  const counts = (isTiled ? directory.tileBytes : directory.stripBytes) ?? [];
  if (offsets.length < blocks || counts.length < blocks) {
    const known = Math.min(offsets.length, counts.length);
    throw new FrameError(`TIFF: it should have ${blocks} ${name}s and lists ${known}.`);
  }
  if (!(counts.slice(0, blocks).reduce((sum, count) => sum + count, 0) <= fileBytes)) {
    throw new FrameError(`TIFF: its ${name}s are longer than the file: they overlap.`);
  }
  // No compression that is read makes more than this of a byte.
  if ((width * height * samples * bits) / 8 > fileBytes * 1032) {
    throw new FrameError(`TIFF: ${width} × ${height} pixels cannot be in so short a file.`);
  }
  const lowestFirst = first(directory, 'fillOrder', 1) === 2;
  return {
    ...{ width, height, little, kind, bits, samples, isPlanar, compression, lowestFirst, predictor },
    ...{ blockWidth, blockHeight, isTiled, offsets, counts }
  };
}

const isLittleHere = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1;

/** Turns the bytes of each number around, in place. */
function swap(bytes: Uint8Array, size: number): void {
  for (let at = 0; at + size <= bytes.length; at += size) bytes.subarray(at, at + size).reverse();
}

type Values = Pixels | Int8Array | Uint32Array | BigInt64Array | BigUint64Array;

/** Numbers of so many bits, as this machine has them. */
function numbersOf(bytes: Uint8Array, kind: NumberKind, bits: number): Values {
  const { buffer } = bytes;
  if (kind === 'float') return bits === 64 ? new Float64Array(buffer) : new Float32Array(buffer);
  if (bits === 8) return kind === 'signed' ? new Int8Array(buffer) : bytes;
  if (bits === 16) return kind === 'signed' ? new Int16Array(buffer) : new Uint16Array(buffer);
  if (bits === 32) return kind === 'signed' ? new Int32Array(buffer) : new Uint32Array(buffer);
  return kind === 'signed' ? new BigInt64Array(buffer) : new BigUint64Array(buffer);
}

/** A number of 16 bits that is a float (IEEE 754, binary16). */
function halfFloat(bits: number): number {
  const [exponent, fraction] = [(bits >> 10) & 31, bits & 1023];
  const size =
    exponent === 0
      ? fraction * 2 ** -24
      : exponent === 31
        ? fraction === 0
          ? Infinity
          : NaN
        : (1 + fraction / 1024) * 2 ** (exponent - 15);
  return bits & 0x8000 ? -size : size;
}

/** Numbers that do not fill whole bytes: highest bit first, every row from a whole byte. */
function narrowNumbers(bytes: Uint8Array, bits: number, perRow: number, rows: number): Uint16Array {
  const rowBytes = Math.ceil((perRow * bits) / 8);
  const values = new Uint16Array(perRow * rows);
  for (let row = 0; row < rows; row++) {
    let [held, have, at] = [0, 0, row * rowBytes];
    for (let index = 0; index < perRow; index++) {
      while (have < bits) {
        held = ((held << 8) | bytes[at++]!) & 0xff_ffff;
        have += 8;
      }
      have -= bits;
      values[row * perRow + index] = (held >> have) & ((1 << bits) - 1);
    }
  }
  return values;
}

/** Undoes differences of each number against the one before it of the same channel (TIFF 6.0, §14); numbers wrap. */
function undoDifferences(
  values: Exclude<Values, BigInt64Array | BigUint64Array>,
  perRow: number,
  stride: number
): void {
  for (let start = 0; start < values.length; start += perRow) {
    for (let at = start + stride; at < start + perRow; at++) values[at] = values[at]! + values[at - stride]!;
  }
}

/** Undoes differences of the bytes of floats, highest bytes of a row first (Adobe Photoshop TIFF Technical Note 3). */
function undoFloatDifferences(bytes: Uint8Array, perRow: number, stride: number, size: number): void {
  const rowBytes = perRow * size;
  const row = new Uint8Array(rowBytes);
  for (let start = 0; start < bytes.length; start += rowBytes) {
    const into = bytes.subarray(start, start + rowBytes);
    for (let at = stride; at < rowBytes; at++) into[at] = into[at]! + into[at - stride]!;
    row.set(into);
    for (let index = 0; index < perRow; index++) {
      for (let byte = 0; byte < size; byte++) {
        into[index * size + (isLittleHere ? size - 1 - byte : byte)] = row[byte * perRow + index]!;
      }
    }
  }
}

/** Values of one block, channel beside channel. */
function valuesOf(bytes: Uint8Array, layout: Layout, rows: number): ArrayLike<number | bigint> {
  const { kind, bits, predictor, little } = layout;
  const stride = layout.isPlanar ? 1 : layout.samples;
  const perRow = layout.blockWidth * stride;
  if (bits % 8 !== 0) return narrowNumbers(bytes, bits, perRow, rows);
  const size = bits / 8;
  if (predictor === 3) undoFloatDifferences(bytes, perRow, stride, size);
  else if (size > 1 && little !== isLittleHere) swap(bytes, size);
  if (kind === 'float' && bits === 16) return Float32Array.from(new Uint16Array(bytes.buffer), halfFloat);
  const values = numbersOf(bytes, kind, bits);
  if (predictor === 2) undoDifferences(values as Uint16Array, perRow, stride);
  return values;
}

/** Room for the pixels of one channel: whole numbers of more than 32 bits with a sign become floats of 64. */
function roomFor({ kind, bits }: Layout, pixels: number): Pixels {
  if (kind === 'float') return bits === 64 ? new Float64Array(pixels) : new Float32Array(pixels);
  if (bits === 8) return kind === 'signed' ? new Int16Array(pixels) : new Uint8Array(pixels);
  if (bits <= 16) return kind === 'signed' ? new Int16Array(pixels) : new Uint16Array(pixels);
  return bits === 32 && kind === 'signed' ? new Int32Array(pixels) : new Float64Array(pixels);
}

/** All channels of a picture, unpacked block by block. */
function readPlanes(file: Uint8Array, layout: Layout): Pixels[] {
  const { width, height, blockWidth, blockHeight, isTiled, isPlanar, samples, bits } = layout;
  const planes = Array.from({ length: samples }, () => roomFor(layout, width * height));
  const [across, down] = [Math.ceil(width / blockWidth), Math.ceil(height / blockHeight)];
  const stride = isPlanar ? 1 : samples;
  const rowBytes = Math.ceil((blockWidth * stride * bits) / 8);
  for (let block = 0; block < across * down * (isPlanar ? samples : 1); block++) {
    const place = block % (across * down);
    const [left, top] = [(place % across) * blockWidth, Math.floor(place / across) * blockHeight];
    const channel = Math.floor(block / (across * down));
    // The last strip is as short as the picture; tiles are always whole.
    const rows = isTiled ? blockHeight : Math.min(blockHeight, height - top);
    const bytes = new Uint8Array(rowBytes * rows);
    const from = layout.offsets[block]!;
    const name = `${isTiled ? 'tile' : 'strip'} ${block + 1}`;
    unpack(file.subarray(from, from + layout.counts[block]!), layout.compression, layout.lowestFirst, bytes, name);
    const values = valuesOf(bytes, layout, rows);
    const [toRow, toColumn] = [Math.min(rows, height - top), Math.min(blockWidth, width - left)];
    for (let sample = 0; sample < stride; sample++) {
      const plane = planes[channel + sample]!;
      for (let row = 0; row < toRow; row++) {
        const to = (top + row) * width + left;
        for (let column = 0, at = row * blockWidth * stride + sample; column < toColumn; column++, at += stride) {
          plane[to + column] = Number(values[at]);
        }
      }
    }
  }
  return planes;
}

/** Which of the channels are the picture; the rest must change nothing. */
function picturePlanes(planes: Pixels[], directory: Directory, { kind, bits }: Layout): Pixels[] {
  const photometric = first(directory, 'photometric', BLACK_IS_ZERO);
  const wanted = photometric === RGB ? 3 : 1;
  if (planes.length < wanted) throw new FrameError(`TIFF: of its three colours there are ${planes.length}.`);
  const extra = directory.extraSamples ?? [];
  if (planes.length - extra.length > wanted) {
    throw new FrameError(`TIFF: it has ${planes.length} channels without a description; ${SAVE}.`);
  }
  const alpha = extra.indexOf(ASSOCIATED_ALPHA);
  if (alpha >= 0) {
    const full = kind === 'float' ? 1 : 2 ** (kind === 'signed' ? bits - 1 : bits) - 1;
    if (planes[wanted + alpha]?.some((value) => value !== full)) {
      throw new FrameError(`TIFF: its colours are multiplied with its transparency; ${SAVE}, without transparency.`);
    }
  }
  const picture = planes.slice(0, wanted);
  if (photometric !== WHITE_IS_ZERO) return picture;
  if (kind !== 'unsigned')
    throw new FrameError(`TIFF: its ${kind} values count from white; save it counting from black.`);
  const white = 2 ** bits - 1;
  for (const plane of picture) for (let at = 0; at < plane.length; at++) plane[at] = white - plane[at]!;
  return picture;
}

/** The picture as it is looked at (TIFF 6.0, §8: where the first row and the first column belong). */
function upright(planes: Pixels[], width: number, height: number, orientation: number): Frame {
  if (orientation === 1) return pictureFrame(width, height, planes);
  if (!(orientation >= 1 && orientation <= 8)) throw new FrameError(`TIFF: orientation ${orientation} is none.`);
  const isTurned = orientation >= 5;
  const [widthPx, heightPx] = isTurned ? [height, width] : [width, height];
  const fromRight = orientation === 2 || orientation === 3 || orientation === 6 || orientation === 7;
  const fromBottom = orientation === 3 || orientation === 4 || orientation === 7 || orientation === 8;
  const turned = planes.map((plane) => {
    const made = new (plane.constructor as new (length: number) => Pixels)(plane.length);
    for (let y = 0; y < heightPx; y++) {
      for (let x = 0; x < widthPx; x++) {
        const [seenX, seenY] = [fromRight ? widthPx - 1 - x : x, fromBottom ? heightPx - 1 - y : y];
        made[y * widthPx + x] = isTurned ? plane[seenX * width + seenY]! : plane[seenY * width + seenX]!;
      }
    }
    return made;
  });
  return pictureFrame(widthPx, heightPx, turned);
}

/** The picture that is meant; a preview or mask is none. */
function chosen(directories: readonly Directory[], number: number | undefined): Directory {
  const pictures = directories.filter((directory) => (first(directory, 'subfileType', 0) & 0b101) === 0);
  if (pictures.length === 0) throw new FrameError('TIFF: it holds no picture.');
  const named = pictures.map((directory, at) => ({
    number: at + 1,
    name: '',
    widthPx: first(directory, 'width', 0),
    heightPx: first(directory, 'height', 0)
  }));
  return pictures[meantPicture(named, number).number - 1]!;
}

/**
 * Reads a TIFF or BigTIFF picture: strips or tiles; whole numbers of 8 to 64 bits, floats of 16 to 64; without
 * compression, LZW, Deflate or PackBits; differences; either order of bytes and bits; turned as it says.
 *
 * @param raw what is said of a camera’s raw file
 * @param picture number of the one that is meant, where there are several
 * @throws FrameError where anything of it is not read, or it is damaged
 */
export function readTiff(bytes: Uint8Array, raw: string, picture?: number): Frame {
  const { little, directories } = readDirectories(bytes);
  const directory = chosen(directories, picture);
  const photometric = first(directory, 'photometric', BLACK_IS_ZERO);
  if (RAW_PHOTOMETRIC.has(photometric)) throw new FrameError(raw);
  if (photometric > RGB) {
    const colours = COLOUR_SPACES.get(photometric) ?? `are of kind ${photometric}`;
    throw new FrameError(`TIFF: its colours ${colours}; ${SAVE}.`);
  }
  const layout = layoutOf(directory, little, bytes.length);
  const planes = picturePlanes(readPlanes(bytes, layout), directory, layout);
  return upright(planes, layout.width, layout.height, first(directory, 'orientation', 1));
}
