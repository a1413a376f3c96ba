import { Decompress } from 'fflate';

/** What is unpacked grew beyond what it says it is. */
class Grown extends Error {}

/** So much is handed to the unpacker at once, bytes: what it makes of it stays small. */
export const PIECE_BYTES = 16_384;

/**
 * Bytes that what should make so many may make before it is refused: rows of an interlaced PNG and the filter of each, a
 * last block of a TIFF that is filled up.
 */
export const mostWithSlack = (bytes: number): number => 1.1 * bytes + 65_536;

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
