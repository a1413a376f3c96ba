import { fromUnit, toUnit, type LengthUnit } from '@lodestone/core/why';
import type { Parsed } from './DraftInput.svelte';

const TERM = /\s*([+−-]?)\s*(\d+(?:[.,]\d*)?|[.,]\d+)\s*(mm|inch|in|"|″)?\s*/iy;

const SUM_DECIMALS = 4;

interface Term {
  sign: 1 | -1;
  digits: string;
  ownUnit: string | undefined;
}

/** The terms of a sum: `12 − 3.5`; undefined where it is none. Every term after the first has its sign. */
function termsOf(text: string): Term[] | undefined {
  const terms: Term[] = [];
  TERM.lastIndex = 0;
  while (TERM.lastIndex < text.length) {
    const match = TERM.exec(text);
    if (!match) return undefined;
    const [, sign, digits, ownUnit] = match;
    if (terms.length > 0 && sign === '') return undefined;
    terms.push({ sign: sign === '-' || sign === '−' ? -1 : 1, digits: digits!.replace(',', '.'), ownUnit });
  }
  return terms;
}

/**
 * Reads a number as people type it: decimal comma or point, a sign, for lengths an own unit
 * (`0.5 in` is 12.7 whatever unit is shown), and sums of such (`12 − 3.5`, overall less the thread).
 *
 * @returns mm when `unit` is given, else the bare number; undefined for an empty text
 */
export function parseNumber(text: string, unit?: LengthUnit): Parsed<number | undefined> {
  const trimmed = text.trim();
  if (trimmed === '') return { ok: true, parsed: undefined };
  const terms = termsOf(trimmed);
  if (!terms) return { ok: false, message: `“${trimmed}” is not a number.` };
  if (!unit && terms.some(({ ownUnit }) => ownUnit)) {
    return { ok: false, message: 'This is not a length: leave the unit out.' };
  }
  const [only] = terms;
  const inches = terms.map(({ ownUnit }) => (ownUnit ? ownUnit.toLowerCase() !== 'mm' : unit === 'in'));
  if (terms.length === 1 && !inches[0]) return { ok: true, parsed: only!.sign * Number(only!.digits) };
  // Typed inches become mm to a tenth of a micrometre, far below any tolerance; a sum loses the noise of its binary.
  const sum = terms.reduce(
    (mm, { sign, digits }, at) => mm + sign * (inches[at] ? fromUnit(Number(digits), 'in') : Number(digits)),
    0
  );
  return { ok: true, parsed: Number(sum.toFixed(SUM_DECIMALS)) };
}

/** The number that was typed; undefined where there is none, or it cannot be read. */
export function numberIn(text: string, unit?: LengthUnit): number | undefined {
  const read = parseNumber(text, unit);
  return read.ok ? read.parsed : undefined;
}

/** A factor as people write it: `0.8`, `0,8×`, `0.8x`; undefined for an empty text. */
export function parseFactor(text: string): Parsed<number | undefined> {
  const trimmed = text.trim().replace(/\s*[x×*]$/i, '');
  const parsed = parseNumber(trimmed);
  if (!parsed.ok) return { ok: false, message: `“${text.trim()}” is not a factor, as 0.8 is.` };
  return parsed.parsed !== undefined && parsed.parsed <= 0
    ? { ok: false, message: 'A factor is more than 0.' }
    : parsed;
}

/** A number for an input field: no trailing zeros, no rounding beyond a tenth of a micrometre. */
export function numberText(number: number | undefined, unit?: LengthUnit): string {
  if (number === undefined) return '';
  const shown = unit ? toUnit(number, unit) : number;
  return String(Number(shown.toFixed(unit === 'in' ? 6 : 4)));
}
