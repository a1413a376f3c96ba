import { gunzipSync } from 'fflate';
import { FrameError, type Pixels } from '../frame.ts';
import type { Header } from './cards.ts';
import { unrice } from './rice.ts';
import { MOST_COLUMNS, type HeapTable } from './table.ts';

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

/** How the tiles of an image are compressed. */
export interface TileCode {
  how: string;
  bitpix: number;
  block: number;
  pixelBytes: 1 | 2 | 4;
}

/** @throws FrameError where it is a code that is not read */
export function tileCodeOf(header: Header, bitpix: number): TileCode {
  const how = (header.text('ZCMPTYPE') ?? '').toUpperCase();
  if (!READ.includes(how)) {
    throw new FrameError(
      `FITS header: ZCMPTYPE is “${how}”. RICE_1, GZIP_1 and GZIP_2 are read; save the frame with one of them, or uncompressed.`
    );
  }
  return {
    how,
    bitpix,
    block: parameter(header, 'BLOCKSIZE', 32, [16, 32, 64, 128]),
    pixelBytes: parameter(header, 'BYTEPIX', 4, [1, 2, 4]) as 1 | 2 | 4
  };
}

/** Unpacks tiles, one after the other. */
export class TileReader {
  readonly #table: HeapTable;
  readonly #code: TileCode;
  #scratch = new Int32Array(0);

  constructor(table: HeapTable, code: TileCode) {
    this.#table = table;
    this.#code = code;
  }

  /**
   * The numbers of a tile, good until the next one is read.
   *
   * @param count pixels it has
   * @param mayBeRounded what a rounded pixel was multiplied by is known
   * @returns whether they are floating-point pixels that were rounded to integers
   */
  read(row: number, count: number, mayBeRounded: boolean): { numbers: Pixels; isRounded: boolean } {
    const { how, bitpix, block, pixelBytes } = this.#code;
    const bytes = (count * Math.abs(bitpix)) / 8;
    const isFloat = bitpix < 0;
    const code = this.#table.pointed(row, 'COMPRESSED_DATA');
    if (!code) {
      const gzip = this.#table.pointed(row, 'GZIP_COMPRESSED_DATA');
      // Of what a column says to be numbers the count is in numbers.
      const plain = gzip ? gunzipped(gzip, bytes) : this.#table.pointed(row, 'UNCOMPRESSED_DATA', Math.abs(bitpix) / 8);
      if (plain?.length !== bytes) throw new FrameError(`FITS table: row ${row + 1} has no pixels.`);
      return { numbers: plainNumbers(plain, bitpix, count), isRounded: false };
    }
    const isRounded = isFloat && mayBeRounded;
    if (how.startsWith('RICE')) {
      if (isFloat && !isRounded) throw new FrameError('FITS table: floating-point pixels in RICE_1 need ZSCALE.');
      if (this.#scratch.length < count) this.#scratch = new Int32Array(count);
      unrice(code, count, pixelBytes, block, this.#scratch);
      return { numbers: this.#scratch, isRounded };
    }
    const kind = isRounded ? 32 : bitpix;
    const size = Math.abs(kind) / 8;
    const unpacked = gunzipped(code, count * size);
    return {
      numbers: plainNumbers(how === 'GZIP_2' ? unshuffled(unpacked, size) : unpacked, kind, count),
      isRounded
    };
  }
}
