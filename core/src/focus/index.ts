// Reaching focus: the draw tube’s budget, tubes, and the curve of a run.
export {
  attemptBound,
  focusBudget,
  verdictOf as focusVerdict,
  type FocusBudget,
  type FocusReport,
  type Interval
} from './budget.ts';
export { fitCurve, type Curve, type Fit, type FitData } from './fit.ts';
export { MOST_POINTS, measuredBacklash, readFocusRun, type FocusAnswer, type MeasuredBacklash } from './run.ts';
export { isMeasured, standardOf, type FocusPoint } from './point.ts';
export { readFocusRunText, type FocusRunFile } from './read.ts';
export {
  SimulatedFocuser,
  type FocusFrame,
  type FocuserMemory,
  type FocuserState,
  type SimulatedSpec
} from './simulated.ts';
export { glassOffsets, steppingFor, type FilterOffset, type Stepping } from './steps.ts';
export { tubeWays, type TubeWay } from './tubes.ts';
