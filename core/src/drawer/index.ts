export * from './part.ts';
export * from './read.ts';
export { combineMeasurements, coverageFactor, type Combined } from './series.ts';
export { mergedPart, withReadingIds, type MergedPart } from './merge.ts';
export * from './search.ts';
export { partsThatFit, type FittingPart } from './fits.ts';
export { MOST_QUICK, readQuickLine, type QuickChoice, type QuickEntry, type QuickReading } from './quickLine.ts';
export { usualName } from './naming.ts';
export { differencesOf, type PartDifference } from './difference.ts';
