import { ASSUMED_CALIPER_MM } from '../doubt/doubts.ts';
import type { Measurement } from './generated/types.ts';

/** What a series of readings says of a length. */
export interface Combined {
  lengthMm: number;
  /** Combined standard uncertainty u, mm. */
  standardMm: number;
  /** Effective degrees of freedom; Infinity where no repeats were taken. */
  degreesOfFreedom: number;
  /** Expanded uncertainty U for 95.45 %, mm. */
  expandedMm: number;
  readings: number;
  /** Instruments contradict each other by more than they allow for: the uncertainty is widened by as much. */
  contradicts: boolean;
}

/**
 * Coverage factor for 95.45 % by degrees of freedom: Student's t.
 *
 * @see JCGM 100:2008, Table G.2 (from memory)
 */
const STUDENT_T: readonly (readonly [number, number])[] = [
  [1, 13.97],
  [2, 4.53],
  [3, 3.31],
  [4, 2.87],
  [5, 2.65],
  [6, 2.52],
  [7, 2.43],
  [8, 2.37],
  [9, 2.32],
  [10, 2.28],
  [11, 2.25],
  [12, 2.23],
  [13, 2.21],
  [14, 2.2],
  [15, 2.18],
  [16, 2.17],
  [17, 2.16],
  [18, 2.15],
  [19, 2.14],
  [20, 2.13],
  [25, 2.11],
  [30, 2.09],
  [35, 2.07],
  [40, 2.06],
  [50, 2.05],
  [100, 2.025]
];

/** Coverage factor for 95.45 %; ν is cut to the next lower tabulated one (JCGM 100:2008 §G.4.1). */
export function coverageFactor(degreesOfFreedom: number): number {
  if (degreesOfFreedom === Infinity) return 2;
  return STUDENT_T.findLast(([nu]) => nu <= degreesOfFreedom)?.[1] ?? STUDENT_T[0]![1];
}

interface Group {
  mean: number;
  /** Variance of the mean from repeats, mm². */
  typeA: number;
  degreesOfFreedom: number;
  /** Variance from the instrument, which repeats do not reduce, mm². */
  typeB: number;
}

function groupOf(readings: readonly Measurement[]): Group {
  const n = readings.length;
  const mean = readings.reduce((sum, { lengthMm }) => sum + lengthMm, 0) / n;
  const squares = readings.reduce((sum, { lengthMm }) => sum + (lengthMm - mean) ** 2, 0);
  const halfWidth = instrumentLimit(readings);
  return {
    mean,
    typeA: n > 1 ? squares / (n - 1) / n : 0,
    degreesOfFreedom: n - 1,
    typeB: halfWidth ** 2 / 3
  };
}

/**
 * Combines a part's readings. Within one instrument: mean of n, u² = s²/n + a²/3, where ±a is the instrument's
 * maximum permissible error, common to all its readings, so that repeats do not reduce it (JCGM 100:2008 §4.2,
 * §4.3.7, §5.1.2). Several instruments: mean weighted by 1/u²; where they contradict each other, u is
 * widened by the Birge ratio √(Σ(x − x̄)²/u² / (k − 1)) (Birge 1932, from memory). Degrees of freedom by
 * Welch–Satterthwaite (§G.4.1), U = t₉₅(ν)·u.
 *
 * @param measurements readings, mm; one that states no instrument's error counts as ordinary calipers, ±0.03
 * @returns undefined where there are none
 */
export function combineMeasurements(measurements: readonly Measurement[]): Combined | undefined {
  if (measurements.length === 0) return undefined;
  const byInstrument = new Map<string, Measurement[]>();
  for (const each of measurements) {
    const instrument = each.instrument ?? '';
    byInstrument.set(instrument, [...(byInstrument.get(instrument) ?? []), each]);
  }
  const groups = [...byInstrument.values()].map(groupOf);
  // An instrument said to be without error, read once, leaves nothing to weigh by.
  const certain = groups.filter(({ typeA, typeB }) => typeA + typeB === 0);
  if (certain.length > 0) {
    const lengthMm = certain.reduce((sum, { mean }) => sum + mean, 0) / certain.length;
    return {
      lengthMm: tidyMm(lengthMm),
      standardMm: 0,
      degreesOfFreedom: Infinity,
      expandedMm: 0,
      readings: measurements.length,
      contradicts: certain.some(({ mean }) => Math.abs(mean - lengthMm) > 1e-9)
    };
  }
  const weight = ({ typeA, typeB }: Group): number => 1 / (typeA + typeB);
  const total = groups.reduce((sum, group) => sum + weight(group), 0);
  const lengthMm = groups.reduce((sum, group) => sum + weight(group) * group.mean, 0) / total;
  const variance = 1 / total;
  const spread = groups.reduce((sum, group) => {
    const share = weight(group) / total;
    return group.typeA === 0 ? sum : sum + (share ** 4 * group.typeA ** 2) / group.degreesOfFreedom;
  }, 0);
  const degreesOfFreedom = spread === 0 ? Infinity : variance ** 2 / spread;
  const scatter = groups.reduce((sum, group) => sum + weight(group) * (group.mean - lengthMm) ** 2, 0);
  const birge = groups.length > 1 ? Math.sqrt(scatter / (groups.length - 1)) : 0;
  const contradicts = birge > CONTRADICTS;
  const standardMm = Math.sqrt(variance) * (contradicts ? birge : 1);
  return {
    lengthMm: tidyMm(lengthMm),
    standardMm,
    degreesOfFreedom,
    expandedMm: tidyMm(coverageFactor(degreesOfFreedom) * standardMm),
    readings: measurements.length,
    contradicts
  };
}

/** Instruments whose scatter is larger than this many times what they allow for contradict each other (common practice, no source). */
const CONTRADICTS = 2;

/** A reading this far off is asked about, whatever is known: mm, and share of the length (common practice, no source). */
const WILD_MM = 0.5;
const WILD_SHARE = 0.05;

/**
 * Whether a reading is so far from what is known of a length that it is worth a second look: by more than 5U, and by
 * more than half a millimetre, or 5 % of a short part.
 *
 * @param expandedMm U of what is known, mm
 */
export const isWild = (readMm: number, knownMm: number, expandedMm: number): boolean =>
  Math.abs(readMm - knownMm) > Math.max(5 * expandedMm, Math.min(WILD_MM, WILD_SHARE * knownMm)) + 1e-9;

/**
 * What all readings of a series share: the one instrument they were taken with, and the limit of its error. None where
 * they were taken with several, or with one that nobody has named: then their errors are taken for independent.
 */
export function sharedBy(measurements: readonly Measurement[]): { instrument: string; errorMm: number } | undefined {
  const [first] = measurements;
  const instrument = first?.instrument;
  if (instrument === undefined || measurements.some((each) => each.instrument !== instrument)) return undefined;
  return { instrument, errorMm: instrumentLimit(measurements) };
}

/** ± limit of the error that readings of one instrument share, mm. */
const instrumentLimit = (readings: readonly Measurement[]): number =>
  Math.max(...readings.map(({ maxErrorMm }) => maxErrorMm ?? ASSUMED_CALIPER_MM));

/** To a tenth of a micrometre: what a document can sensibly carry. */
const tidyMm = (mm: number): number => Number(mm.toFixed(4));
