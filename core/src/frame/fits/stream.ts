import { Gunzip } from 'fflate';
import { FrameError, type Bytes } from '../frame.ts';

/** Deflate cannot make more than this of a byte (RFC 1951: 258 bytes of two bits, from memory). */
const MOST_DEFLATED = 1032;
/** Pieces that are inflated at once: what one can become fits into memory easily. */
const PIECE_BYTES = 1 << 14;

async function* inflated(chunks: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const ready: Uint8Array[] = [];
  const gunzip = new Gunzip((data) => void ready.push(data));
  const push = (data: Uint8Array, last: boolean): void => {
    try {
      gunzip.push(data, last);
    } catch {
      throw new FrameError('The gzip file is damaged.');
    }
  };
  for await (const chunk of chunks) {
    for (let at = 0; at < chunk.length; at += PIECE_BYTES) {
      push(chunk.subarray(at, at + PIECE_BYTES), false);
      yield* ready.splice(0);
    }
  }
  push(new Uint8Array(0), true);
  yield* ready.splice(0);
}

/** Bytes that are read once, from front to back; gzip is undone on the way. */
export class ByteStream {
  #chunks: AsyncIterator<Uint8Array>;
  #now: Uint8Array = new Uint8Array(0);
  #at = 0;
  #readBytes = 0;
  /** Most bytes there can be. */
  #mostBytes: number;

  private constructor(chunks: AsyncIterator<Uint8Array>, mostBytes: number) {
    this.#chunks = chunks;
    this.#mostBytes = mostBytes;
  }

  static async open({ chunks, sizeBytes = Infinity }: Bytes): Promise<ByteStream> {
    const raw = new ByteStream(chunks[Symbol.asyncIterator](), sizeBytes);
    const start = await raw.peek(2);
    if (start[0] !== 0x1f || start[1] !== 0x8b) return raw;
    return new ByteStream(inflated(raw.#rest())[Symbol.asyncIterator](), sizeBytes * MOST_DEFLATED);
  }

  async *#rest(): AsyncGenerator<Uint8Array> {
    if (this.#at < this.#now.length) yield this.#now.subarray(this.#at);
    for (let next = await this.#chunks.next(); !next.done; next = await this.#chunks.next()) yield next.value;
  }

  /** Makes at least one byte ready; false at the end. */
  async #more(): Promise<boolean> {
    while (this.#at >= this.#now.length) {
      const next = await this.#chunks.next();
      if (next.done) return false;
      this.#now = next.value;
      this.#at = 0;
    }
    return true;
  }

  /** Bytes that were read so far, gzip undone. */
  get position(): number {
    return this.#readBytes;
  }

  /** Whether so many bytes can still come, as far as the source’s length tells. */
  canHold(bytes: number): boolean {
    return this.#readBytes + bytes <= this.#mostBytes;
  }

  /** The next bytes, left to be read again; fewer at the end. */
  async peek(count: number): Promise<Uint8Array> {
    while (this.#now.length - this.#at < count) {
      const next = await this.#chunks.next();
      if (next.done) break;
      const joined = new Uint8Array(this.#now.length - this.#at + next.value.length);
      joined.set(this.#now.subarray(this.#at));
      joined.set(next.value, this.#now.length - this.#at);
      this.#now = joined;
      this.#at = 0;
    }
    return this.#now.subarray(this.#at, this.#at + count);
  }

  /**
   * Hands on so many bytes in pieces.
   *
   * @param unit every piece is a multiple of it long
   * @param take may not keep the piece
   * @returns how many there were
   */
  async pour(count: number, unit: number, take: (piece: Uint8Array) => void): Promise<number> {
    let left = count;
    const carried = new Uint8Array(unit);
    let held = 0;
    while (left > 0 && (await this.#more())) {
      let piece = this.#now.subarray(this.#at, this.#at + Math.min(left, this.#now.length - this.#at));
      this.#at += piece.length;
      left -= piece.length;
      if (held > 0) {
        const joining = Math.min(unit - held, piece.length);
        carried.set(piece.subarray(0, joining), held);
        held += joining;
        piece = piece.subarray(joining);
        if (held < unit) continue;
        take(carried);
      }
      const whole = piece.length - (piece.length % unit);
      if (whole > 0) take(piece.subarray(0, whole));
      held = piece.length - whole;
      carried.set(piece.subarray(whole));
    }
    this.#readBytes += count - left;
    return count - left;
  }

  async skip(count: number): Promise<number> {
    return this.pour(count, 1, () => {});
  }

  /** So many bytes at once; fewer at the end. Only for what is known to be small. */
  async read(count: number): Promise<Uint8Array> {
    const out = new Uint8Array(count);
    let at = 0;
    const got = await this.pour(count, 1, (piece) => {
      out.set(piece, at);
      at += piece.length;
    });
    return out.subarray(0, got);
  }

  /** At most so many bytes at once, room being made only as they come. */
  async readAll(most: number): Promise<Uint8Array> {
    const pieces: Uint8Array[] = [];
    const length = await this.pour(most, 1, (piece) => void pieces.push(piece.slice()));
    const whole = new Uint8Array(length);
    let at = 0;
    for (const piece of pieces) {
      whole.set(piece, at);
      at += piece.length;
    }
    return whole;
  }
}
