import type { Measurement, Part } from './part.ts';
import { partToDocument } from './part.ts';
import { readPart } from './read.ts';

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Readings taken on both sides are all kept; what ours struck out is struck out. */
function mergedSeries(
  before: readonly Measurement[],
  ours: readonly Measurement[],
  theirs: readonly Measurement[]
): Measurement[] {
  const in_ = (series: readonly Measurement[], reading: Measurement) => series.some((each) => same(each, reading));
  const struckOut = before.filter((reading) => !in_(ours, reading));
  const taken = ours.filter((reading) => !in_(before, reading));
  return [...theirs.filter((reading) => !in_(struckOut, reading)), ...taken];
}

/**
 * A part that two windows have changed: theirs, with what ours has changed since both were the same. Key by key of
 * its document; where both changed the same key, ours holds.
 *
 * @returns undefined where the two together make no valid part
 */
export function mergedPart(before: Part, ours: Part, theirs: Part): Part | undefined {
  const [was, own] = [partToDocument(before), partToDocument(ours)];
  const made = partToDocument(theirs);
  for (const key of new Set([...Object.keys(was), ...Object.keys(own)])) {
    if (!same(was[key], own[key])) made[key] = own[key];
  }
  const series = mergedSeries(before.measurements, ours.measurements, theirs.measurements);
  made.measurements = series.length > 0 ? series : undefined;
  const reading = readPart(Object.fromEntries(Object.entries(made).filter(([, entry]) => entry !== undefined)));
  return reading.ok ? reading.document : undefined;
}
