import { ASSUMED_CALIPER_MM, rectangularStandard } from '../doubt/doubts.ts';
import { TRAIN, type Operation } from '../train/operations.ts';
import { HOST, findElement, lengthOf, piecesMm, type Group, type Train } from '../train/model.ts';
import { MM_PER_INCH } from '../units.ts';
import type { StepMeasure, ThreadToMeasure } from './step.ts';

/** A reading this far off is asked about before it counts: the larger of five times what is not known, this, and a share. */
const LEAST_DOUBTED_MM = 0.5;
const DOUBTED_SHARE = 0.05;

/** Slips of the hand that are usual: read in inches, a digit too many or too few. */
const SLIPS = [MM_PER_INCH, 10, 0.1, 1 / MM_PER_INCH] as const;

/** What there is to ask of a reading. */
export interface DoubtedReading {
  /** Read less expected, mm. */
  offMm: number;
  /** What was probably meant, mm: the same digits in another unit, or with the point elsewhere. */
  meantMm: number | undefined;
}

const limitOf = ({ expectedMm, uncertaintyMm }: StepMeasure): number =>
  Math.max(5 * uncertaintyMm, LEAST_DOUBTED_MM, DOUBTED_SHARE * expectedMm);

/** Whether a reading is too far off to count unasked. @returns undefined where it is not */
export function doubtReading(readMm: number, measure: StepMeasure): DoubtedReading | undefined {
  const offMm = readMm - measure.expectedMm;
  const limitMm = limitOf(measure);
  if (Math.abs(offMm) <= limitMm + 1e-9) return undefined;
  const slip = SLIPS.find((factor) => Math.abs(readMm * factor - measure.expectedMm) <= limitMm);
  return { offMm, meantMm: slip === undefined ? undefined : Number((readMm * slip).toFixed(4)) };
}

/** What a reading was taken with. */
export interface ReadWith {
  instrument: string;
  /** What the instrument may be wrong by in all its readings alike, ± mm. */
  errorMm: number;
}

/**
 * Expanded uncertainty of one reading, U (k = 2), mm: at least that of ordinary calipers, and all that the instrument
 * itself is wrong by (rectangular, JCGM 100:2008 §4.3.7).
 */
const expandedOf = ({ errorMm }: ReadWith): number => Math.max(ASSUMED_CALIPER_MM, 2 * rectangularStandard(errorMm));

/**
 * Writes a reading down: of one part as its measured length, of a stack as a measurement over its parts, in place of
 * those of smaller stacks inside it.
 */
export function readingOperation(
  train: Train,
  { from, to }: StepMeasure,
  lengthMm: number,
  readWith: ReadWith
): Operation {
  const reading = {
    lengthMm,
    uncertaintyMm: expandedOf(readWith),
    instrument: readWith.instrument,
    instrumentErrorMm: readWith.errorMm
  };
  if (from === to) {
    // Read as it stands; its own length is without what can be taken off it.
    const element = findElement(train, from);
    const ownMm = Number((lengthMm - (element ? piecesMm(element) : 0)).toFixed(6));
    return { op: 'set', at: from, path: ['measured'], to: { ...reading, lengthMm: ownMm } };
  }
  const indexOf = (id: string): number => train.elements.findIndex((element) => element.id === id);
  const [first, last] = [indexOf(from), indexOf(to)];
  const of = train.elements.slice(first, last + 1).map(({ id }) => id);
  const isInside = (group: Group): boolean => indexOf(group.from) <= last && first <= indexOf(group.to);
  const kept = ((train.groups ?? []) as readonly Group[]).filter((group) => !isInside(group));
  return { op: 'set', at: TRAIN, path: ['groups'], to: [...kept, { from, to, of, ...reading }] };
}

/** Writes down how long a thread is, before its joint hides it. */
export function threadOperation({ id, face }: ThreadToMeasure, lengthMm: number): Operation {
  const port = id === HOST ? 'camera' : face;
  return {
    op: 'batch',
    operations: [
      { op: 'set', at: id, path: [port, 'lengthMm'], to: lengthMm },
      // Read with ordinary calipers it is known as well as they read.
      { op: 'set', at: id, path: [port, 'toleranceMm'], to: ASSUMED_CALIPER_MM }
    ]
  };
}

/** What was read of a stack, or of a part, already; undefined where nothing was. */
export function readAt(train: Train, { from, to }: StepMeasure): number | undefined {
  if (from !== to) return (train.groups ?? []).find((group) => group.from === from && group.to === to)?.lengthMm;
  const element = train.elements.find(({ id }) => id === from);
  return element && 'measured' in element && element.measured ? lengthOf(element) : undefined;
}
