import { gunzipSync } from 'fflate';
import { FrameError, checkSize, type Pixels } from '../frame.ts';
import type { Header } from './cards.ts';
import { unrice } from './rice.ts';

/** Bytes of a table cell by its letter (FITS 4.0, table 18); P and Q are descriptors of something in the heap. */
const CELL_BYTES: Readonly<Record<string, number>> = {
  L: 1,
  B: 1,
  I: 2,
  J: 4,
  K: 8,
  A: 1,
  E: 4,
  D: 8,
  C: 8,
  M: 16,
  P: 8,
  Q: 16
};
const MOST_COLUMNS = 999;

interface Column {
  atByte: number;
  letter: string;
}

/** Where each column of a binary table stands in a row. */
function columnsOf(header: Header, rowBytes: number): Map<string, Column> {
  const columns = new Map<string, Column>();
  let atByte = 0;
  for (let number = 1; number <= header.whole('TFIELDS', 0, MOST_COLUMNS); number++) {
    const form = header.text(`TFORM${number}`) ?? '';
    const found = /^(\d*)([LXBIJKAEDCMPQ])/.exec(form);
    if (!found) throw new FrameError(`FITS header: TFORM${number} is “${form}”, which is no form of a column.`);
    const repeat = found[1] === '' ? 1 : Number(found[1]);
    const letter = found[2]!;
    const name = header.text(`TTYPE${number}`);
    if (name !== undefined && repeat > 0) columns.set(name.toUpperCase(), { atByte, letter });
    atByte += letter === 'X' ? Math.ceil(repeat / 8) : repeat * CELL_BYTES[letter]!;
  }
  if (atByte > rowBytes) {
    throw new FrameError(`FITS header: the columns take ${atByte} bytes, but NAXIS1 gives a row only ${rowBytes}.`);
  }
  return columns;
}

/** Random numbers of the dithering (FITS 4.0, §10.2 and appendix I): Park and Miller, ten thousand from seed 1. */
const DITHER_COUNT = 10_000;
let dither: Float32Array | undefined;
function ditherNumbers(): Float32Array {
  if (dither) return dither;
  dither = new Float32Array(DITHER_COUNT);
  let seed = 1;
  for (let at = 0; at < DITHER_COUNT; at++) {
    seed = (16_807 * seed) % 2_147_483_647;
    dither[at] = seed / 2_147_483_647;
  }
  return dither;
}

const NO_VALUE = -2_147_483_648;
const EXACT_ZERO = -2_147_483_646;

export interface TiledImage {
  widthPx: number;
  heightPx: number;
  planes: Pixels[];
}

/** An array for pixels of a BITPIX. */
export function pixelsFor(bitpix: number, count: number): Pixels {
  if (bitpix === 8) return new Uint8Array(count);
  if (bitpix === 16) return new Int16Array(count);
  if (bitpix === 32) return new Int32Array(count);
  if (bitpix === -32) return new Float32Array(count);
  return new Float64Array(count);
}

/** Numbers of a tile that stand as bytes, high byte first. */
function plainNumbers(bytes: Uint8Array, bitpix: number, count: number): Pixels {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out = pixelsFor(bitpix, count);
  for (let at = 0; at < count; at++) {
    if (bitpix === 8) out[at] = bytes[at]!;
    else if (bitpix === 16) out[at] = view.getInt16(2 * at);
    else if (bitpix === 32) out[at] = view.getInt32(4 * at);
    else if (bitpix === 64) out[at] = Number(view.getBigInt64(8 * at));
    else if (bitpix === -32) out[at] = view.getFloat32(4 * at);
    else out[at] = view.getFloat64(8 * at);
  }
  return out;
}

/** Undoes gzip for exactly so many bytes. */
function gunzipped(code: Uint8Array, bytes: number): Uint8Array {
  let out: Uint8Array;
  try {
    out = gunzipSync(code, { out: new Uint8Array(bytes) });
  } catch {
    throw new FrameError('FITS tile: its gzip code is damaged, or longer than its pixels.');
  }
  if (out.length !== bytes) throw new FrameError('FITS tile: its gzip code ends before its pixels do.');
  return out;
}

/** Bytes that were sorted by their place in a number, back in the order of the numbers (GZIP_2, FITS 4.0, §10.4.2). */
function unshuffled(bytes: Uint8Array, size: number): Uint8Array {
  const count = bytes.length / size;
  const out = new Uint8Array(bytes.length);
  for (let byte = 0; byte < size; byte++) {
    for (let at = 0; at < count; at++) out[at * size + byte] = bytes[byte * count + at]!;
  }
  return out;
}

/** The parameter of a compression with this name (ZNAMEi, ZVALi). */
function parameter(header: Header, name: string, otherwise: number, allowed: readonly number[]): number {
  for (let number = 1; number <= MOST_COLUMNS; number++) {
    const key = header.text(`ZNAME${number}`);
    if (key === undefined) break;
    if (key.toUpperCase() !== name) continue;
    const value = header.number(`ZVAL${number}`);
    if (value === undefined || !allowed.includes(value)) {
      throw new FrameError(`FITS header: ZVAL${number} (${name}) is ${String(header.values.get(`ZVAL${number}`))}.`);
    }
    return value;
  }
  return otherwise;
}

const READ = ['RICE_1', 'RICE_ONE', 'GZIP_1', 'GZIP_2'];
const BITPIX = [8, 16, 32, 64, -32, -64];

/**
 * An image that is kept in tiles, each compressed, as the rows of a binary table (FITS 4.0, §10).
 *
 * @param table the table’s rows, then its heap
 */
export function readTiles(header: Header, table: Uint8Array): TiledImage {
  const how = (header.text('ZCMPTYPE') ?? '').toUpperCase();
  if (!READ.includes(how)) {
    throw new FrameError(
      `FITS header: ZCMPTYPE is “${how}”. RICE_1, GZIP_1 and GZIP_2 are read; save the frame with one of them, or uncompressed.`
    );
  }
  const bitpix = header.number('ZBITPIX') ?? NaN;
  if (!BITPIX.includes(bitpix)) throw new FrameError(`FITS header: ZBITPIX is ${bitpix}, which no image has.`);
  const axes = header.whole('ZNAXIS', 1, 999);
  if (axes < 2) throw new FrameError('FITS header: ZNAXIS is 1; a frame has two.');
  const widthPx = header.whole('ZNAXIS1', 1, 1e9);
  const heightPx = header.whole('ZNAXIS2', 1, 1e9);
  checkSize(widthPx, heightPx, 'FITS header');
  const depth = axes > 2 ? header.whole('ZNAXIS3', 1, 1e9) : 1;
  if (axes > 3 || (depth !== 1 && depth !== 3)) {
    throw new FrameError(`FITS header: a stack of ${depth} images is no frame; one plane or three are read.`);
  }
  const tileX = header.whole('ZTILE1', 1, 1e9, widthPx);
  const tileY = header.whole('ZTILE2', 1, 1e9, 1);
  const tileZ = header.whole('ZTILE3', 1, 1e9, 1);
  const [across, down, deep] = [Math.ceil(widthPx / tileX), Math.ceil(heightPx / tileY), Math.ceil(depth / tileZ)];
  const rowBytes = header.whole('NAXIS1', 1, 1e9);
  const rows = header.whole('NAXIS2', 0, 1e9);
  if (rows !== across * down * deep) {
    throw new FrameError(`FITS table: ${rows} rows, but the image has ${across * down * deep} tiles.`);
  }
  if (rows * rowBytes > table.length) {
    throw new FrameError(
      `FITS table: ${rows} rows of ${rowBytes} bytes are more than the ${table.length} bytes it has.`
    );
  }
  const heapAt = header.whole('THEAP', rows * rowBytes, 1e12, rows * rowBytes);
  const columns = columnsOf(header, rowBytes);
  const view = new DataView(table.buffer, table.byteOffset, table.byteLength);

  /** What a row’s descriptor points to; undefined where it is empty. */
  const pointed = (
    row: number,
    name: 'COMPRESSED_DATA' | 'GZIP_COMPRESSED_DATA' | 'UNCOMPRESSED_DATA'
  ): Uint8Array | undefined => {
    const column = columns.get(name);
    if (!column) return undefined;
    if (column.letter !== 'P' && column.letter !== 'Q') {
      throw new FrameError(`FITS table: column ${name} does not point into the heap.`);
    }
    const at = row * rowBytes + column.atByte;
    const wide = column.letter === 'Q';
    const count = wide ? Number(view.getBigInt64(at)) : view.getInt32(at);
    const offset = wide ? Number(view.getBigInt64(at + 8)) : view.getInt32(at + 4);
    if (count === 0) return undefined;
    // Of what a column says to be numbers the count is in numbers.
    const size = name === 'UNCOMPRESSED_DATA' ? Math.abs(bitpix) / 8 : 1;
    const from = heapAt + offset;
    if (count < 0 || offset < 0 || from + count * size > table.length) {
      throw new FrameError(`FITS table: row ${row + 1} points to bytes outside the table (${name}).`);
    }
    return table.subarray(from, from + count * size);
  };
  const cell = (row: number, name: string): number | undefined => {
    const column = columns.get(name);
    if (!column) return undefined;
    const at = row * rowBytes + column.atByte;
    if (column.letter === 'D') return view.getFloat64(at);
    if (column.letter === 'E') return view.getFloat32(at);
    if (column.letter === 'J') return view.getInt32(at);
    if (column.letter === 'I') return view.getInt16(at);
    throw new FrameError(`FITS table: column ${name} has the form ${column.letter}.`);
  };

  const isFloat = bitpix < 0;
  const block = parameter(header, 'BLOCKSIZE', 32, [16, 32, 64, 128]);
  const pixelBytes = parameter(header, 'BYTEPIX', 4, [1, 2, 4]) as 1 | 2 | 4;
  const quantized = (header.text('ZQUANTIZ') ?? 'NO_DITHER').toUpperCase();
  const seed = header.whole('ZDITHER0', 0, DITHER_COUNT, 1);
  const planes = Array.from({ length: depth }, () => pixelsFor(bitpix, widthPx * heightPx));
  let scratch = new Int32Array(0);

  for (let row = 0; row < rows; row++) {
    const x0 = (row % across) * tileX;
    const y0 = (Math.floor(row / across) % down) * tileY;
    const z0 = Math.floor(row / (across * down)) * tileZ;
    const wide = Math.min(tileX, widthPx - x0);
    const high = Math.min(tileY, heightPx - y0);
    const thick = Math.min(tileZ, depth - z0);
    const count = wide * high * thick;
    const scale = cell(row, 'ZSCALE') ?? header.number('ZSCALE');
    const zero = cell(row, 'ZZERO') ?? header.number('ZZERO') ?? 0;
    const blank = cell(row, 'ZBLANK') ?? header.number('ZBLANK');
    const code = pointed(row, 'COMPRESSED_DATA');
    const plainGzip = code ? undefined : pointed(row, 'GZIP_COMPRESSED_DATA');
    let numbers: Pixels;
    // Floating-point pixels that were rounded to integers stand as those.
    let rounded = isFloat && code !== undefined && scale !== undefined;
    if (code && how.startsWith('RICE')) {
      if (isFloat && !rounded) throw new FrameError('FITS table: floating-point pixels in RICE_1 need ZSCALE.');
      if (scratch.length < count) scratch = new Int32Array(count);
      unrice(code, count, pixelBytes, block, scratch);
      numbers = scratch;
    } else if (code) {
      const kind = rounded ? 32 : bitpix;
      const size = Math.abs(kind) / 8;
      const bytes = gunzipped(code, count * size);
      numbers = plainNumbers(how === 'GZIP_2' ? unshuffled(bytes, size) : bytes, kind, count);
    } else if (plainGzip) {
      numbers = plainNumbers(gunzipped(plainGzip, (count * Math.abs(bitpix)) / 8), bitpix, count);
      rounded = false;
    } else {
      const plain = pointed(row, 'UNCOMPRESSED_DATA');
      if (!plain || plain.length !== (count * Math.abs(bitpix)) / 8) {
        throw new FrameError(`FITS table: row ${row + 1} has no pixels.`);
      }
      numbers = plainNumbers(plain, bitpix, count);
      rounded = false;
    }
    const random = rounded && quantized !== 'NO_DITHER' ? ditherNumbers() : undefined;
    let turn = (row + seed - 1) % DITHER_COUNT;
    let next = random ? Math.floor(random[turn]! * 500) : 0;
    let at = 0;
    for (let z = z0; z < z0 + thick; z++) {
      const plane = planes[z]!;
      for (let y = y0; y < y0 + high; y++) {
        let to = y * widthPx + x0;
        for (let x = 0; x < wide; x++, at++, to++) {
          const number = numbers[at]!;
          if (!rounded) {
            plane[to] = number;
            continue;
          }
          if (number === (blank ?? NO_VALUE)) plane[to] = NaN;
          else if (quantized === 'SUBTRACTIVE_DITHER_2' && number === EXACT_ZERO) plane[to] = 0;
          else plane[to] = (random ? number - random[next]! + 0.5 : number) * scale! + zero;
          if (random && ++next === DITHER_COUNT) {
            turn = (turn + 1) % DITHER_COUNT;
            next = Math.floor(random[turn]! * 500);
          }
        }
      }
    }
  }
  return { widthPx, heightPx, planes };
}
