import { Decompress } from 'fflate';

/** What is unpacked grew beyond what it says it is. */
class Grown extends Error {}

/** So much is handed to the unpacker at once, bytes: what it makes of it stays small. */
const PIECE_BYTES = 16_384;

/**
 * Whether deflated bytes make no more than so many; unpacked piece by piece, and nothing of it kept. Damaged ones do not
 * grow either: whoever unpacks them says what is wrong.
 */
export function staysWithin(packed: readonly Uint8Array[], mostBytes: number): boolean {
  let made = 0;
  const unpacker = new Decompress((piece) => {
    made += piece.length;
    if (made > mostBytes) throw new Grown();
  });
  try {
    for (const [index, bytes] of packed.entries()) {
      for (let at = 0; at < bytes.length || at === 0; at += PIECE_BYTES) {
        const piece = bytes.subarray(at, at + PIECE_BYTES);
        unpacker.push(piece, index === packed.length - 1 && at + PIECE_BYTES >= bytes.length);
      }
    }
  } catch (error) {
    return !(error instanceof Grown);
  }
  return true;
}

const CLEAR = 256;
const END = 257;
const MOST_CODES = 4096;

/**
 * Bytes that LZW codes stand for (TIFF 6.0, §13: highest bit first, widths grow one code early), counted without making them.
 *
 * @param mostBytes counting ends beyond it
 */
export function lzwBytes(packed: Uint8Array, mostBytes: number): number {
  const lengths = new Uint32Array(MOST_CODES + 1).fill(1, 0, 256);
  let [made, next, width, before] = [0, 258, 9, -1];
  let [held, bits] = [0, 0];
  for (const byte of packed) {
    held = ((held << 8) | byte) & 0xffffff;
    bits += 8;
    if (bits < width) continue;
    bits -= width;
    const code = (held >> bits) & ((1 << width) - 1);
    if (code === END) break;
    if (code === CLEAR) {
      [next, width, before] = [258, 9, -1];
      continue;
    }
    const length = before < 0 ? 1 : code < next ? lengths[code]! : lengths[before]! + 1;
    made += length;
    if (made > mostBytes) break;
    if (before >= 0 && next < MOST_CODES) {
      lengths[next++] = lengths[before]! + 1;
      width = next >= 2047 ? 12 : next >= 1023 ? 11 : next >= 511 ? 10 : 9;
    }
    before = code;
  }
  return made;
}
