/** Random numbers of the dithering (FITS 4.0, §10.2 and appendix I): Park and Miller, ten thousand from seed 1. */
export const DITHER_COUNT = 10_000;
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

/** What stands for a pixel without a value, and for one that is exactly nothing. */
const NO_VALUE = -2_147_483_648;
const EXACT_ZERO = -2_147_483_646;

/** How floating-point pixels were rounded to integers (FITS 4.0, §10.2). */
export interface Rounding {
  scale: number;
  zero: number;
  blank: number | undefined;
  /** ZQUANTIZ, in capitals. */
  method: string;
  /** ZDITHER0. */
  seed: number;
}

/**
 * Gives the pixels of one tile back from the integers they were rounded to, in their order.
 *
 * @param tile its number, from 0
 */
export function unrounding({ scale, zero, blank = NO_VALUE, method, seed }: Rounding, tile: number) {
  const random = method === 'NO_DITHER' ? undefined : ditherNumbers();
  const keepsZero = method === 'SUBTRACTIVE_DITHER_2';
  let turn = (tile + seed - 1) % DITHER_COUNT;
  let next = random ? Math.floor(random[turn]! * 500) : 0;
  return (number: number): number => {
    const dithered = random ? number - random[next]! + 0.5 : number;
    if (random && ++next === DITHER_COUNT) {
      turn = (turn + 1) % DITHER_COUNT;
      next = Math.floor(random[turn]! * 500);
    }
    if (number === blank) return NaN;
    return keepsZero && number === EXACT_ZERO ? 0 : dithered * scale + zero;
  };
}
