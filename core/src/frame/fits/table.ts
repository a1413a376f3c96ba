import { FrameError } from '../frame.ts';
import type { Header } from './cards.ts';

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
/** FITS numbers no more columns, or parameters, of a table. */
export const MOST_COLUMNS = 999;

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

/** The rows of a binary table, and the heap they point into (FITS 4.0, §7.3). */
export class HeapTable {
  readonly rows: number;
  readonly #rowBytes: number;
  readonly #heapAt: number;
  readonly #columns: ReadonlyMap<string, Column>;
  readonly #bytes: Uint8Array;
  readonly #view: DataView;

  /**
   * @param bytes the table’s rows, then its heap
   * @throws FrameError where the rows do not lie in them
   */
  constructor(header: Header, bytes: Uint8Array) {
    this.#rowBytes = header.whole('NAXIS1', 1, 1e9);
    this.rows = header.whole('NAXIS2', 0, 1e9);
    const taken = this.rows * this.#rowBytes;
    if (taken > bytes.length) {
      throw new FrameError(
        `FITS table: ${this.rows} rows of ${this.#rowBytes} bytes are more than the ${bytes.length} bytes it has.`
      );
    }
    this.#heapAt = header.whole('THEAP', taken, 1e12, taken);
    this.#columns = columnsOf(header, this.#rowBytes);
    this.#bytes = bytes;
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  /**
   * What a row’s descriptor points to; undefined where it is empty, or there is no such column.
   *
   * @param size bytes of one of the things that are counted there
   */
  pointed(row: number, name: string, size = 1): Uint8Array | undefined {
    const column = this.#columns.get(name);
    if (!column) return undefined;
    if (column.letter !== 'P' && column.letter !== 'Q') {
      throw new FrameError(`FITS table: column ${name} does not point into the heap.`);
    }
    const at = row * this.#rowBytes + column.atByte;
    const wide = column.letter === 'Q';
    const count = wide ? Number(this.#view.getBigInt64(at)) : this.#view.getInt32(at);
    const offset = wide ? Number(this.#view.getBigInt64(at + 8)) : this.#view.getInt32(at + 4);
    if (count === 0) return undefined;
    const from = this.#heapAt + offset;
    if (count < 0 || offset < 0 || from + count * size > this.#bytes.length) {
      throw new FrameError(`FITS table: row ${row + 1} points to bytes outside the table (${name}).`);
    }
    return this.#bytes.subarray(from, from + count * size);
  }

  /** The number in a row’s cell; undefined where there is no such column. */
  number(row: number, name: string): number | undefined {
    const column = this.#columns.get(name);
    if (!column) return undefined;
    const at = row * this.#rowBytes + column.atByte;
    if (column.letter === 'D') return this.#view.getFloat64(at);
    if (column.letter === 'E') return this.#view.getFloat32(at);
    if (column.letter === 'J') return this.#view.getInt32(at);
    if (column.letter === 'I') return this.#view.getInt16(at);
    throw new FrameError(`FITS table: column ${name} has the form ${column.letter}.`);
  }
}
