import { MM_PER_INCH, decimal } from '../units.ts';

/** A number with its sign, leading zeros and unit, at the end of what an instrument sends: `01A+00012.34`, `0.4858 in`. */
const LINE = /([+-]?)\s*(\d+(?:[.,]\d+))\s*(mm|inch|in|")?\s*$/i;

/** Nothing between the jaws of a caliper is longer, mm. */
const LONGEST_MM = 10_000;

/**
 * Reads one line as digital calipers send it, over a serial port or as typed keys (common practice, no source).
 *
 * @returns mm; undefined where the line holds no reading
 */
export function readCaliperLine(line: string): number | undefined {
  const match = LINE.exec(line.slice(0, 100).trim());
  if (!match) return undefined;
  const [, sign, digits, unit] = match;
  const number = decimal(digits!) * (sign === '-' ? -1 : 1);
  const mm = unit && unit.toLowerCase() !== 'mm' ? number * MM_PER_INCH : number;
  return Math.abs(mm) <= LONGEST_MM ? Number(mm.toFixed(4)) : undefined;
}
