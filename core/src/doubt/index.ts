// What is not known, and how it adds up.
export {
  ASSUMED_CALIPER_MM,
  ASSUMED_SHIM_MM,
  ASSUMED_THREAD_MM,
  ASSUMED_TOLERANCE_MM,
  doubtOf,
  doubtsOf,
  jointDoubts,
  rectangularStandard,
  type Doubt
} from './doubts.ts';
export { narrowings, type Narrowing } from './narrow.ts';
export { Spread, normalCdf } from './spread.ts';
export { chanceInWords, chanceWithin, chanceWithinInWords, uncertaintyOf, type Uncertainty } from './uncertainty.ts';
export { DRAWS, drawErrors, histogramOf, shareBetween, type Draws } from './draws.ts';
export { EXPANSIONS, REFERENCE_C, shrinkingOf, type Material, type Shrinking } from './temperature.ts';
export { doubtName } from './explain.ts';
