// The length ledger: back focus, glass, dials.
export * from './backFocus.ts';
export {
  DEFAULT_INDEX,
  GLASSES,
  glassShift,
  indexOf,
  marginalHalfAngle,
  namedGlass,
  plateShift,
  sellmeierIndex
} from './glass.ts';
export { isCounted, roleOf, type GlassTerm } from './glassInBeam.ts';
export { groupsOf, type GroupInForce, type Groups } from './groups.ts';
export { ledgerOf, type Entry, type EntryFrom, type Ledger, type Required, type SlotRequirement } from './ledger.ts';
export {
  dialAnswer,
  dialOperation,
  dialsTogether,
  focuserWindows,
  lengthDials,
  type DialAnswer,
  type LengthDial
} from './dial.ts';
export { withinTolerance } from './tolerance.ts';
export { axisOf, plateFront, standingLength, type Axis, type Span } from './axis.ts';
export { filledOf, type Filled } from './filling.ts';
