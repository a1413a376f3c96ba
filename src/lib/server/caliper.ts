import { normalOf } from '@lodestone/core/stats';
import type { CaliperReading } from '$lib/api/drawer.ts';
import demo from '../../../demo/caliper.json';

/** What the simulated instrument calls itself, and what it states of itself. */
export const CALIPER = { instrument: 'Simulated caliper', maxErrorMm: 0.02, resolutionMm: 0.01 };

/** Standard deviation of one reading, mm. */
const NOISE_MM = 0.006;

/** What closed jaws read: between two and five hundredths off, another at every start, never nothing. */
const ZERO_MM = (Math.random() < 0.5 ? -1 : 1) * (0.02 + 0.03 * Math.random());

const TRUTH: Readonly<Record<string, number>> = demo.truth;

/** Normally distributed noise. */
const noise = (): number => normalOf(() => 1 - Math.random());

/** Name under which the closed jaws are read. */
export const CLOSED = 'closed';

/**
 * A reading of a demo part, or of the closed jaws: the true length, the zero the instrument has just now, its noise,
 * rounded to its resolution. Undefined for a part it does not know: it can only simulate parts whose truth it was told.
 */
export function readCaliper(part: string): CaliperReading | undefined {
  const truth = part === CLOSED ? 0 : Object.hasOwn(TRUTH, part) ? TRUTH[part] : undefined;
  if (truth === undefined) return undefined;
  const { instrument, maxErrorMm, resolutionMm } = CALIPER;
  const read = truth + ZERO_MM + NOISE_MM * noise();
  return {
    lengthMm: Number((Math.round(read / resolutionMm) * resolutionMm).toFixed(3)),
    instrument,
    maxErrorMm
  };
}
