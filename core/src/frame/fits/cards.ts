import { FrameError } from '../frame.ts';

/** Value of a keyword; complex numbers are kept as their text. */
export type CardValue = string | number | boolean;

export const CARD_BYTES = 80;
export const BLOCK_BYTES = 2880;

/** Longest header that is read, bytes: far more than what capture and processing programs write. */
export const MAX_HEADER_BYTES = 1000 * BLOCK_BYTES;

/** Text of bytes that should be ASCII; whatever is not is kept as it is in Latin 1, as programs do write it into comments. */
export function asciiOf(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return text;
}

/** A quoted string at the start of a value field, and what follows it: '' stands for one quote; trailing blanks do not count. */
function quoted(field: string): { text: string; rest: string } | undefined {
  const found = /^\s*'((?:[^']|'')*)'(.*)$/s.exec(field);
  return found ? { text: found[1]!.replaceAll("''", "'").trimEnd(), rest: found[2]! } : undefined;
}

/** Value of a field without a string: logical, number, or text where it is neither. */
function bare(field: string): CardValue | undefined {
  const text = field.split('/', 1)[0]!.trim();
  if (text === '') return undefined;
  if (text === 'T') return true;
  if (text === 'F') return false;
  // Fortran writes 1.0D-4.
  if (/^[+-]?(\d+\.?\d*|\.\d+)([EeDd][+-]?\d+)?$/.test(text)) return Number(text.replace(/[dD]/, 'E'));
  return text;
}

/** What a unit says of its own pixels: it holds for no other. */
const OWN: ReadonlySet<string> = new Set(['BSCALE', 'BZERO', 'BLANK', 'BUNIT', 'DATAMIN', 'DATAMAX']);
/** Keywords whose text may look like a value. */
const REMARKS: ReadonlySet<string> = new Set(['', 'COMMENT', 'HISTORY']);

/** The keywords of a header, in order; of one that is written twice the first holds. */
export class Header {
  readonly values = new Map<string, CardValue>();

  /**
   * Reads cards (FITS 4.0, §4.1, §4.2.1.2 long strings; and the HIERARCH convention).
   *
   * @param text of whole cards, without END
   */
  constructor(text: string) {
    let long: { key: string; text: string } | undefined;
    const put = (key: string, value: CardValue | undefined): void => {
      if (value !== undefined && !this.values.has(key)) this.values.set(key, value);
    };
    const endLong = (): void => {
      // A string that ends in & without a CONTINUE after it just ends in &.
      if (long) put(long.key, long.text);
      long = undefined;
    };
    for (let at = 0; at + CARD_BYTES <= text.length; at += CARD_BYTES) {
      const card = text.slice(at, at + CARD_BYTES);
      // FITS knows capital letters only; some programs do not.
      const key = card.slice(0, 8).trimEnd().toUpperCase();
      if (key === 'CONTINUE' && long?.text.endsWith('&')) {
        const more = quoted(card.slice(8));
        if (more) long = { key: long.key, text: long.text.slice(0, -1) + more.text };
        continue;
      }
      endLong();
      if (key === 'HIERARCH') {
        const named = /^([^=]+)=(.*)$/s.exec(card.slice(9));
        if (!named) continue;
        const string = quoted(named[2]!);
        if (string) long = { key: named[1]!.trim(), text: string.text };
        else put(named[1]!.trim(), bare(named[2]!));
        continue;
      }
      if (REMARKS.has(key) || card[8] !== '=') continue;
      const field = card.slice(9);
      const string = quoted(field);
      if (string) long = { key, text: string.text };
      else put(key, bare(field));
    }
    endLong();
  }

  /** What the first unit of a file says holds for its later ones, where they do not say otherwise. */
  inherit(primary: Header): void {
    if (primary === this || this.values.get('INHERIT') === false) return;
    for (const [key, value] of primary.values) {
      if (!this.values.has(key) && !OWN.has(key)) this.values.set(key, value);
    }
  }

  number(key: string): number | undefined {
    const value = this.values.get(key);
    return typeof value === 'number' && Number.isFinite(value) ? value : undefined;
  }

  text(key: string): string | undefined {
    const value = this.values.get(key);
    return typeof value === 'string' ? value.trim() : undefined;
  }

  /** A whole number within bounds. */
  whole(key: string, least: number, most: number, otherwise?: number): number {
    const value = this.values.get(key) ?? otherwise;
    if (value === undefined) throw new FrameError(`FITS header: ${key} is missing.`);
    if (typeof value !== 'number' || !Number.isInteger(value) || value < least || value > most) {
      throw new FrameError(
        `FITS header: ${key} is ${String(value)}; it must be a whole number from ${least} to ${most}.`
      );
    }
    return value;
  }
}
