import { fromUnit, toUnit, type LengthUnit } from '@lodestone/core';
import type { Parsed } from './DraftInput.svelte';

const NUMBER = /^([+−-]?)(\d+(?:[.,]\d*)?|[.,]\d+)\s*(mm|in|inch|"|″)?$/i;

/**
 * Reads a number as people type it: decimal comma or point, a sign, for lengths an own unit
 * (`0.5 in` is 12.7 whatever unit is shown).
 *
 * @returns mm when `unit` is given, else the bare number; undefined for an empty text
 */
export function parseNumber(text: string, unit?: LengthUnit): Parsed<number | undefined> {
  const trimmed = text.trim();
  if (trimmed === '') return { ok: true, parsed: undefined };
  const match = NUMBER.exec(trimmed);
  if (!match) return { ok: false, message: `“${trimmed}” is not a number.` };
  const [, sign, digits, ownUnit] = match;
  if (ownUnit && !unit) return { ok: false, message: 'This is not a length: leave the unit out.' };
  const magnitude = Number(digits!.replace(',', '.'));
  const shown = sign === '-' || sign === '−' ? -magnitude : magnitude;
  if (!unit) return { ok: true, parsed: shown };
  const typedUnit = ownUnit ? (ownUnit.toLowerCase() === 'mm' ? 'mm' : 'in') : unit;
  // Typed inches become mm to a tenth of a micrometre, far below any tolerance.
  return { ok: true, parsed: typedUnit === 'mm' ? shown : Number(fromUnit(shown, typedUnit).toFixed(4)) };
}

/** A number for an input field: no trailing zeros, no rounding beyond a tenth of a micrometre. */
export function numberText(number: number | undefined, unit?: LengthUnit): string {
  if (number === undefined) return '';
  const shown = unit ? toUnit(number, unit) : number;
  return String(Number(shown.toFixed(unit === 'in' ? 6 : 4)));
}
