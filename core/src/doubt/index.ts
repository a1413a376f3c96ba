// What is not known, and how it adds up.
export {
  ASSUMED_CALIPER_MM,
  ASSUMED_SHIM_MM,
  ASSUMED_THREAD_MM,
  ASSUMED_TOLERANCE_MM,
  rectangularStandard,
  type Doubt
} from './doubts.ts';
export { narrowings } from './narrow.ts';
export { Spread, normalCdf } from './spread.ts';
export { chanceInWords, chanceWithinInWords, uncertaintyOf } from './uncertainty.ts';
export { DRAWS, drawErrors, histogramOf, shareBetween } from './draws.ts';
export { EXPANSIONS, REFERENCE_C, shrinkingOf } from './temperature.ts';
export { doubtName } from './explain.ts';
