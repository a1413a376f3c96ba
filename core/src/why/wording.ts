import { MM_PER_INCH } from '../units.ts';

/** Unit that lengths are shown in. Documents are always in mm. */
export type LengthUnit = 'mm' | 'in';

/** A length in mm as a person reads it: two decimals, three where the third says something, no negative zero. */
export function plainMm(mm: number): string {
  const thousandths = Math.round(mm * 1000);
  return (thousandths / 1000 + 0).toFixed(thousandths % 10 === 0 ? 2 : 3);
}

/** A length for display: 0.01 mm or a thousandth of an inch, with its unit. */
export function formatLength(mm: number, unit: LengthUnit, digits?: number): string {
  return `${formatLengthNumber(mm, unit, digits)} ${unit}`;
}

export function formatLengthNumber(mm: number, unit: LengthUnit, digits?: number): string {
  const shown = toUnit(mm, unit);
  const text = shown.toFixed(digits ?? (unit === 'in' ? 4 : 2));
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', '−');
}

const MOST_DIGITS = 6;

/** Decimals a length is written with beside its tolerance: what is rounded away of either is no more than a tenth of it. */
function digitsWithin(toleranceMm: number, unit: LengthUnit, lengthMm = 0): number {
  const [tolerance, length] = [toUnit(toleranceMm, unit), toUnit(lengthMm, unit)];
  const lost = (value: number, digits: number): number => Math.abs(value - Number(value.toFixed(digits)));
  let digits = unit === 'in' ? 4 : 2;
  if (!(tolerance > 0)) return digits;
  while (digits < MOST_DIGITS && Math.max(lost(tolerance, digits), lost(length, digits)) > 0.1001 * tolerance) digits++;
  return digits;
}

/** A tolerance or uncertainty for display, with its unit and as many decimals as it needs. */
export const formatTolerance = (mm: number, unit: LengthUnit): string => formatLength(mm, unit, digitsWithin(mm, unit));

/** A length with its tolerance or uncertainty, both with as many decimals as the smaller needs: `7.625 ±0.004 mm`. */
export function formatWithin(lengthMm: number, toleranceMm: number, unit: LengthUnit): string {
  const digits = digitsWithin(toleranceMm, unit, lengthMm);
  return `${formatLengthNumber(lengthMm, unit, digits)} ±${formatLength(toleranceMm, unit, digits)}`;
}

export const fromUnit = (shown: number, unit: LengthUnit): number => (unit === 'in' ? shown * MM_PER_INCH : shown);

export const toUnit = (mm: number, unit: LengthUnit): number => (unit === 'in' ? mm / MM_PER_INCH : mm);

export type Verdict = 'short' | 'long' | 'on-spec' | 'free';

/** `2.50 mm short`, `0.20 mm long`: never a bare sign. */
export function residualInWords(residualMm: number, unit: LengthUnit): string {
  if (Math.round(Math.abs(residualMm) * 1000) === 0) return 'exact';
  const size = Math.abs(residualMm);
  const small = unit === 'mm' && size < 0.01;
  return `${formatLength(size, unit, small ? 3 : undefined)} ${residualMm < 0 ? 'short' : 'long'}`;
}

/**
 * The number of the verdict sentence.
 *
 * @param whole false where something else is wrong with the train: then only its length is within tolerance
 */
export function verdictInWords(verdict: Verdict, residualMm: number | null, unit: LengthUnit, whole = true): string {
  if (verdict === 'free' || residualMm === null) return 'No back focus required';
  if (verdict === 'on-spec') {
    const size = residualInWords(residualMm, unit);
    const within = whole ? 'Within tolerance' : 'Length within tolerance';
    return size === 'exact' ? `${within}, exactly` : `${within}: ${size}`;
  }
  return residualInWords(residualMm, unit);
}

/** A name as a sentence has it: one that begins with a small letter is a thing of its kind, `the tilt plate`. */
export const withArticle = (name: string): string => (/^\p{Ll}/u.test(name) ? `the ${name}` : name);

/** Words as a sentence begins. */
export const capitalised = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

const LIST = new Intl.ListFormat('en');

/** Words in a row as a sentence lists them: `a, b, and c`. */
export const listed = (words: readonly string[]): string => LIST.format(words);

/** More words than this in a row are not read. */
const MOST_LISTED = 4;

/** The same, the rest counted where there are many. */
export function listedBriefly(words: readonly string[]): string {
  const few = MOST_LISTED - 1;
  return listed(words.length > MOST_LISTED ? [...words.slice(0, few), `${words.length - few} more`] : words);
}
