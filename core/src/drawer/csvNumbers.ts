// Numbers as tables have them: which sign parts decimals is decided for a whole file, and asked where both fit.
import { MM_PER_INCH, decimal } from '../units.ts';

/** What parts whole numbers from their decimals. */
export type DecimalSign = ',' | '.';

const NUMBER = /^[+−-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)$/;
/** What stands around a number without being part of it. */
const AROUND = /^(?:[€$£]|eur|usd|gbp|chf|±|ca\.?|ø)\s*|\s*(?:mm|g|[€$£]|eur|usd|gbp|chf|stk\.?|st\.?|pcs\.?|x)$/gi;
/** Blanks and apostrophes between three digits. */
const GROUPS = /[\s\u00a0\u202f'’](?=\d{3}\b)/g;

const bare = (cell: string): string =>
  cell.replace(AROUND, '').replace(AROUND, '').replace('−', '-').replace(GROUPS, '').trim();

/** One sign with exactly three digits behind it, as thousands have: `1,250`, but not `0,125`. */
const EITHER = /^[+-]?[1-9]\d{0,2}([.,])\d{3}$/;

/** Which sign of a number can only be the decimal one; undefined where it has none, or both would do. */
function signOfNumber(text: string): DecimalSign | undefined {
  const signs = [...text].filter((letter): letter is DecimalSign => letter === ',' || letter === '.');
  const [first] = signs;
  const last = signs.at(-1);
  if (first === undefined || last === undefined) return undefined;
  // 1.250,5 and 1,250.5: the last one; 1.250.000: the other one.
  if (first !== last) return last;
  if (signs.length > 1) return last === ',' ? '.' : ',';
  return EITHER.test(text) ? undefined : last;
}

/**
 * The sign that parts decimals in all of these cells.
 *
 * @param isSmall whether a thousand of what a cell says is out of the question, as of a ring's length in mm
 * @returns undefined where nothing tells, or where cells differ
 */
export function decimalSignOf(cells: Iterable<{ cell: string; isSmall: boolean }>): DecimalSign | undefined {
  const found = new Set<DecimalSign>();
  for (const { cell, isSmall } of cells) {
    const text = bare(cell);
    const sign = signOfNumber(text) ?? (isSmall ? (EITHER.exec(text)?.[1] as DecimalSign | undefined) : undefined);
    if (sign) found.add(sign);
  }
  const [only] = found;
  return found.size === 1 ? only : undefined;
}

/** A number that was read, or why it was not. */
export type NumberReading = { ok: true; number: number } | { ok: false; message: string };

/** Reads a number: `9,90 €`, `16.5 mm`; where the decimal sign is known, the other one parts thousands. */
export function readNumber(cell: string, sign: DecimalSign | undefined, isSmall: boolean): NumberReading {
  let text = bare(cell);
  const own = signOfNumber(text);
  const either = EITHER.exec(text)?.[1];
  if (!sign && either && !isSmall) {
    const [small, large] = [decimal(text), decimal(text.replace(either, ''))];
    return { ok: false, message: `“${cell}” is ${small} or ${large}: choose the decimal sign` };
  }
  const parts = sign ?? own;
  if (parts) text = text.replaceAll(parts === ',' ? '.' : ',', '').replace(parts, '.');
  return NUMBER.test(text) ? { ok: true, number: decimal(text) } : { ok: false, message: `“${cell}” is not a number` };
}

/** What a number of a column is multiplied by for the unit its heading names: `Length (inch)`, `Masse [kg]`. */
export function factorIn(heading: string): number | undefined {
  const unit = /[([]\s*([^)\]]+?)\s*[)\]]\s*$/.exec(heading)?.[1]?.toLowerCase();
  if (unit === undefined) return undefined;
  if (/^(?:in|inch|inches|zoll|pouces?|pulgadas?|pollici|["″])$/.test(unit)) return MM_PER_INCH;
  if (unit === 'cm') return 10;
  if (unit === 'kg') return 1000;
  // The international avoirdupois ounce, g (exact).
  if (unit === 'oz') return 28.349523125;
  return undefined;
}
