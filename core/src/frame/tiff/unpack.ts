import { Decompress } from 'fflate';
import { FrameError } from '../frame.ts';
import { PIECE_BYTES, mostWithSlack } from '../packed.ts';

/** Unpacks into `out`, and tells how many bytes it would have taken; never writes, nor goes on for long, beyond it. */
type Unpacker = (packed: Uint8Array, out: Uint8Array) => number;

const asItIs: Unpacker = (packed, out) => {
  out.set(packed.subarray(0, out.length));
  return packed.length;
};

/** LZW (TIFF 6.0, §13): highest bit first, widths grow one code early. */
const lzw: Unpacker = (packed, out) => {
  const [CLEAR, END, MOST] = [256, 257, 4096];
  if (packed[0] === 0 && (packed[1]! & 1) === 1) throw new FrameError('its LZW is of the kind before TIFF 6.0');
  // Each code is the bytes of an earlier one and one more; its bytes stand in what was unpacked already.
  const [starts, lengths] = [new Uint32Array(MOST + 1), new Uint32Array(MOST + 1)];
  let [made, next, width, before, beforeAt] = [0, 258, 9, -1, 0];
  let [held, bits] = [0, 0];
  for (const byte of packed) {
    held = ((held << 8) | byte) & 0xff_ffff;
    bits += 8;
    if (bits < width) continue;
    bits -= width;
    const code = (held >> bits) & ((1 << width) - 1);
    if (code === END) break;
    if (code === CLEAR) {
      [next, width, before] = [258, 9, -1];
      continue;
    }
    if (code > next || (before < 0 && code > END)) throw new FrameError('its codes are damaged');
    const at = made;
    if (code < 256) {
      if (made < out.length) out[made] = code;
      made++;
    } else {
      // A code that is only now being made is the one before and its own first byte.
      const [from, length] = code < next ? [starts[code]!, lengths[code]!] : [beforeAt, at - beforeAt + 1];
      for (let index = 0; index < length && made + index < out.length; index++) out[at + index] = out[from + index]!;
      made += length;
    }
    if (before >= 0 && next < MOST) {
      starts[next] = beforeAt;
      lengths[next] = at - beforeAt + 1;
      next++;
      width = next >= 2047 ? 12 : next >= 1023 ? 11 : next >= 511 ? 10 : 9;
    }
    [before, beforeAt] = [code, at];
    // What lies beyond is counted no further than it is told as too much.
    if (made > mostWithSlack(out.length)) break;
  }
  return made;
};

const deflated: Unpacker = (packed, out) => {
  let made = 0;
  const unpacker = new Decompress((piece) => {
    if (made < out.length) out.set(piece.subarray(0, out.length - made), made);
    made += piece.length;
  });
  for (let at = 0; at < packed.length && made <= mostWithSlack(out.length); at += PIECE_BYTES) {
    unpacker.push(packed.subarray(at, at + PIECE_BYTES), at + PIECE_BYTES >= packed.length);
  }
  return made;
};

/** PackBits (TIFF 6.0, §9). */
const packBits: Unpacker = (packed, out) => {
  let made = 0;
  for (let at = 0; at < packed.length && made < out.length;) {
    const head = packed[at++]!;
    if (head === 128) continue;
    const length = head < 128 ? head + 1 : 257 - head;
    if (head < 128) {
      out.set(packed.subarray(at, at + Math.min(length, out.length - made)), made);
      made += Math.min(length, packed.length - at);
      at += length;
    } else if (at < packed.length) {
      out.fill(packed[at++]!, made, Math.min(out.length, made + length));
      made += length;
    }
  }
  return made;
};

export const UNPACKERS: ReadonlyMap<number, Unpacker> = new Map([
  [1, asItIs],
  [5, lzw],
  [8, deflated],
  [32_946, deflated],
  [32_773, packBits]
]);

/** Compressions that are known by name and not read. */
export const OTHER_COMPRESSIONS: ReadonlyMap<number, string> = new Map([
  [2, 'fax'],
  [3, 'fax'],
  [4, 'fax'],
  [6, 'JPEG'],
  [7, 'JPEG'],
  [34_712, 'JPEG 2000'],
  [34_925, 'LZMA'],
  [34_887, 'LERC'],
  [50_000, 'Zstandard'],
  [50_001, 'WebP'],
  [50_002, 'JPEG XL'],
  [52_546, 'JPEG XL']
]);

const reversed = Uint8Array.from({ length: 256 }, (_, byte) => {
  let turned = 0;
  for (let bit = 0; bit < 8; bit++) turned |= ((byte >> bit) & 1) << (7 - bit);
  return turned;
});

/**
 * Unpacks a strip or tile.
 *
 * @param lowestFirst whether the bits of each byte stand lowest first (fill order 2)
 * @param out filled; what the block has beyond it is left out
 * @param name of the block, for messages
 * @throws FrameError where it is damaged, too short, or makes far more than fits
 */
export function unpack(
  packed: Uint8Array,
  compression: number,
  lowestFirst: boolean,
  out: Uint8Array,
  name: string
): void {
  const turned = lowestFirst ? packed.map((byte) => reversed[byte]!) : packed;
  let made: number;
  try {
    made = UNPACKERS.get(compression)!(turned, out);
  } catch (error) {
    throw new FrameError(`TIFF: ${name} cannot be unpacked: ${error instanceof Error ? error.message : 'damaged'}.`);
  }
  if (made < out.length) throw new FrameError(`TIFF: ${name} ends before its rows do.`);
  if (made > mostWithSlack(out.length) && compression !== 1) {
    throw new FrameError(`TIFF: ${name} unpacks to more than its rows.`);
  }
}
