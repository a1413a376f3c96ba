import { FrameError } from '../frame.ts';

/** Bits that code how a block is coded, and the largest such code but one, by bytes of a pixel (FITS 4.0, §10.4.1). */
const SPLITS = { 1: { bits: 3, most: 6 }, 2: { bits: 4, most: 14 }, 4: { bits: 5, most: 25 } } as const;

/**
 * Undoes RICE_1 (FITS 4.0, §10.4.1): differences to the pixel before, in blocks, each with its own split into a unary and
 * a binary part.
 *
 * @param bytes of a pixel: 1, 2 or 4
 * @param count pixels
 * @throws FrameError where the code ends before its pixels
 */
export function unrice(code: Uint8Array, count: number, bytes: 1 | 2 | 4, blockPixels: number, out: Int32Array): void {
  const { bits, most } = SPLITS[bytes];
  const wide = bytes * 8;
  const ended = (): never => {
    throw new FrameError('FITS tile: the RICE_1 code ends before its pixels do.');
  };
  let at = 0;
  let buffer = 0;
  let held = 0;
  const take = (wanted: number): number => {
    let value = 0;
    let left = wanted;
    while (left > 0) {
      if (held === 0) {
        if (at >= code.length) ended();
        buffer = code[at++]!;
        held = 8;
      }
      const now = Math.min(left, held);
      value = ((value << now) | ((buffer >>> (held - now)) & ((1 << now) - 1))) >>> 0;
      held -= now;
      left -= now;
    }
    return value;
  };
  const zeros = (): number => {
    let run = 0;
    for (;;) {
      if (held === 0) {
        if (at >= code.length) ended();
        buffer = code[at++]!;
        held = 8;
      }
      const rest = buffer & ((1 << held) - 1);
      if (rest === 0) {
        run += held;
        held = 0;
        continue;
      }
      const first = 31 - Math.clz32(rest);
      run += held - 1 - first;
      held = first;
      return run;
    }
  };
  const wrap = (value: number): number => (bytes === 4 ? value | 0 : bytes === 2 ? (value << 16) >> 16 : value & 0xff);
  let last = wrap(take(wide));
  for (let from = 0; from < count; from += blockPixels) {
    const to = Math.min(count, from + blockPixels);
    const split = take(bits) - 1;
    if (split < 0) {
      for (let pixel = from; pixel < to; pixel++) out[pixel] = last;
      continue;
    }
    for (let pixel = from; pixel < to; pixel++) {
      // From `most` on differences stand as they are.
      const folded = split === most ? take(wide) : ((zeros() << split) | take(split)) >>> 0;
      const difference = folded & 1 ? ~(folded >>> 1) : folded >>> 1;
      last = wrap(last + difference);
      out[pixel] = last;
    }
  }
}
