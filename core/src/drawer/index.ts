export {
  STATE_WORDS,
  disagreement,
  drawerToDocument,
  freePartId,
  locationSteps,
  measuredOf,
  partLength,
  partToDocument,
  placedPart,
  refreshedPart,
  tidyLocation,
  type Measurement,
  type Part,
  type PartState
} from './part.ts';
export { isCalendarDate, readDrawer, readPart } from './read.ts';
export { readDrawerText } from './readText.ts';
export { servedDrawerSchema } from './served.ts';
export { combineMeasurements, coverageFactor, isWild } from './series.ts';
export { readCaliperLine } from './caliperLine.ts';
export { mergedPart, withReadingIds } from './merge.ts';
export {
  facetsLeft,
  facetsOf,
  indexDrawer,
  nearestQuery,
  placesOf,
  searchParts,
  sortParts,
  type PartFilter,
  type PartUse,
  type SortKey
} from './search.ts';
export { partIdOfLabel } from './label.ts';
export { partsThatFit, type FittingPart } from './fits.ts';
export { elementOfEntry } from './quickPart.ts';
export { readQuickLine, type QuickEntry } from './quickLine.ts';
export { MOST_QUICK } from './quickTokens.ts';
export { filterGlass } from './filterGlass.ts';
export { usualName } from './naming.ts';
export { asGood, strangersParts, withSubstitutes, type StrangersPart, type Substitute } from './strangers.ts';
export { differencesOf } from './difference.ts';
export {
  MOST_REACH_MM,
  purchasesFor,
  reachOf,
  ringThreads,
  ringsOf,
  type Purchase,
  type ReachAsked,
  type Reached,
  type RingStock
} from './reach.ts';
