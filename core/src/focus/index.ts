// Reaching focus: the draw tube’s budget, tubes, and the curve of a run.
export { attemptBound, type FocusBudget } from './budget.ts';
export { fitCurve, type Curve } from './fit.ts';
export { measuredBacklash, readFocusRun, type FocusAnswer } from './run.ts';
export { isMeasured, standardOf, type FocusPoint } from './point.ts';
export { readFocusRunText } from './read.ts';
export {
  SimulatedFocuser,
  type FocusFrame,
  type FocuserMemory,
  type FocuserState,
  type SimulatedSpec
} from './simulated.ts';
export { glassOffsets, steppingFor } from './steps.ts';
export { tubeWays } from './tubes.ts';
