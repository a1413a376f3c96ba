import { formatLength, type LengthUnit } from './wording.ts';

/** A number with its unit. Lengths are in mm here, whatever unit they are shown in. */
export interface Quantity {
  value: number;
  unit: 'mm' | '°' | '″/px' | '%' | 'N·m' | 'g' | 's' | 'f/' | '';
}

export const mm = (value: number): Quantity => ({ value, unit: 'mm' });
export const turns = (value: number): Quantity => ({ value, unit: '' });
export const percent = (share: number): Quantity => ({ value: share * 100, unit: '%' });

/** Digits after the point, by unit. */
const DIGITS: Readonly<Record<Exclude<Quantity['unit'], 'mm'>, number>> = {
  '°': 1,
  '″/px': 2,
  '%': 1,
  'N·m': 2,
  g: 0,
  s: 0,
  'f/': 2,
  '': 2
};

/** A quantity for display; lengths in the unit a person has chosen. */
export function quantityInWords({ value, unit }: Quantity, lengths: LengthUnit, digits?: number): string {
  if (unit === 'mm') return formatLength(value, lengths, digits);
  const figure = value.toFixed(digits ?? DIGITS[unit]).replace('-', '−');
  if (unit === 'f/') return `f/${figure}`;
  return unit === '' || unit === '°' ? `${figure}${unit}` : `${figure} ${unit}`;
}
