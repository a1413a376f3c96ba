import { sameJson } from '../train/sameJson.ts';
import { partToDocument, type Measurement, type Part } from './part.ts';
import { readPart } from './read.ts';

/** Two sides' changes of one part, put together. */
export interface MergedPart {
  /** Theirs, with what ours has changed; undefined where the two together make no valid part. */
  part: Part | undefined;
  /** Keys of the document that both have changed, and not to the same. */
  clashes: readonly string[];
}

/** Readings are taken and struck out by id: equal ones are still two. One without an id is known by what it says. */
const nameOf = (reading: Measurement): string => reading.id ?? JSON.stringify(Object.entries(reading).sort());

/** Readings taken on both sides are all kept; what ours struck out is struck out. */
function mergedSeries(
  before: readonly Measurement[],
  ours: readonly Measurement[],
  theirs: readonly Measurement[]
): Measurement[] {
  const names = (series: readonly Measurement[]): ReadonlySet<string> => new Set(series.map(nameOf));
  const [was, own, there] = [names(before), names(ours), names(theirs)];
  const struckOut = (reading: Measurement): boolean => was.has(nameOf(reading)) && !own.has(nameOf(reading));
  const taken = ours.filter((reading) => !was.has(nameOf(reading)) && !there.has(nameOf(reading)));
  return [...theirs.filter((reading) => !struckOut(reading)), ...taken];
}

/**
 * A part that two sides have changed: theirs, with what ours has changed since both were the same, key by key of its
 * document. Readings never clash.
 *
 * @param before what both started from
 * @param holds whose value stands where both have changed the same key
 */
export function mergedPart(before: Part, ours: Part, theirs: Part, holds: 'theirs' | 'ours' = 'theirs'): MergedPart {
  const [was, own, made] = [partToDocument(before), partToDocument(ours), partToDocument(theirs)];
  const clashes: string[] = [];
  for (const key of new Set([...Object.keys(was), ...Object.keys(own)])) {
    if (key === 'measurements' || sameJson(was[key], own[key])) continue;
    if (sameJson(was[key], made[key])) made[key] = own[key];
    else if (!sameJson(own[key], made[key])) {
      clashes.push(key);
      if (holds === 'ours') made[key] = own[key];
    }
  }
  const series = mergedSeries(before.measurements, ours.measurements, theirs.measurements);
  made.measurements = series.length > 0 ? series : undefined;
  const reading = readPart(Object.fromEntries(Object.entries(made).filter(([, entry]) => entry !== undefined)));
  return { part: reading.ok ? reading.document : undefined, clashes };
}

/** A part all of whose readings have an id, so that each can be named wherever it is kept. */
export function withReadingIds(part: Part, newId: () => string): Part {
  if (part.measurements.every(({ id }) => id !== undefined)) return part;
  return { ...part, measurements: part.measurements.map((reading) => ({ ...reading, id: reading.id ?? newId() })) };
}
