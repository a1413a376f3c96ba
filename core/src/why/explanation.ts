import type { Quantity } from './quantity.ts';
import type { LengthUnit } from './wording.ts';

/** A number that a person can ask "why?" of: which field explains it, and which of its numbers. */
export type Subject = `${'length' | 'doubt' | 'light' | 'guide' | 'load' | 'focus'}.${string}`;

/** Where a published figure stands. */
export interface PublishedBy {
  /** Who says it, and where; undefined where nobody wrote that down. */
  words: string | undefined;
  /** Day it was read there. */
  on?: string | undefined;
  /** Hash of the scan it was read from, and its name. */
  scan?: string | undefined;
  scanName?: string | undefined;
}

export interface ExplanationLine {
  label: string;
  /** Signed. */
  quantity: Quantity;
  /** Where this number comes from, lengths in the unit that is shown. */
  source: (unit: LengthUnit) => string;
  /** Where its published figure can be read, and who says it. */
  published?: readonly PublishedBy[];
  /** The line can be asked in turn. */
  why?: Subject;
}

/** How a number came about: lines that combine to exactly `result`. */
export interface Explanation {
  title: string;
  lines: ExplanationLine[];
  /** `sum`, root of the squares, `product`, or by a formula said in words. */
  combine: 'sum' | 'quadrature' | 'product' | { formula: string };
  result: Quantity;
}

/** What the lines of an explanation come to; undefined where a formula says how. */
export function combined({ lines, combine }: Explanation): number | undefined {
  const values = lines.map(({ quantity }) => quantity.value);
  switch (combine) {
    case 'sum':
      return values.reduce((sum, value) => sum + value, 0);
    case 'quadrature':
      return Math.hypot(...values);
    case 'product':
      return values.reduce((product, value) => product * value, 1);
    default:
      return undefined;
  }
}
