export * from './train/model.ts';
export * from './train/operations.ts';
export { forcedOnto, rebaseOnto, type Clash, type Rebased } from './train/merge.ts';
export { upgrade } from './train/upgrade.ts';
export { isRecord } from './train/isRecord.ts';
export { sameJson } from './train/sameJson.ts';
export { limitsOf, type Limits } from './train/limits.ts';
export {
  complaintInWords,
  complaintLine,
  complaintsFrom,
  placeInWords,
  valueInWords,
  type Complaint
} from './train/complain.ts';
export { MAX_DOCUMENT_CHARS, readElement, readTrain, readTrainText, type Reading } from './train/read.ts';

export { jointAperture, jointName, jointsOf, nestedIn, type Joint, type JointAperture } from './joint/joints.ts';
export { engagement, jointOpening, lockTravel, threadPair, type LockTravel } from './joint/seating.ts';
export {
  adapterInWords,
  counterpart,
  mate,
  portInWords,
  type Adapter,
  type Mating,
  type MismatchCode
} from './joint/mate.ts';
export {
  USUAL_THREADS,
  lookalike,
  minorDiameter,
  parseThread,
  pitchDiameter,
  threadQuestion,
  type Thread,
  type UsualThread
} from './joint/thread.ts';
export { GOOD_TURNS, LEAST_TURNS } from './joint/engagement.ts';
export {
  boltStepDeg,
  clockingsOf,
  fullTurn,
  holdsBy,
  unscrewedDeg,
  type Clocking,
  type Holds
} from './joint/clocking.ts';
export { planRotation, rotationSetting, type RotationWay } from './joint/rotation.ts';
export { fitAt, isSuchAdapter, turnedRound, type Fit } from './joint/fit.ts';

export * from './length/backFocus.ts';
export {
  DEFAULT_INDEX,
  GLASSES,
  glassShift,
  indexOf,
  marginalHalfAngle,
  namedGlass,
  plateShift,
  sellmeierIndex
} from './length/glass.ts';
export { isCounted, roleOf, type GlassTerm } from './length/glassInBeam.ts';
export { groupsOf, type GroupInForce, type Groups } from './length/groups.ts';
export {
  ledgerOf,
  type Entry,
  type EntryFrom,
  type Ledger,
  type Required,
  type SlotRequirement
} from './length/ledger.ts';
export {
  dialAnswer,
  dialOperation,
  dialsTogether,
  focuserWindows,
  lengthDials,
  type DialAnswer,
  type LengthDial
} from './length/dial.ts';
export { withinTolerance } from './length/tolerance.ts';

export {
  ASSUMED_CALIPER_MM,
  ASSUMED_SHIM_MM,
  ASSUMED_TOLERANCE_MM,
  doubtOf,
  doubtsOf,
  type Doubt
} from './doubt/doubts.ts';
export { Spread, normalCdf } from './doubt/spread.ts';
export { chanceInWords, chanceWithin, uncertaintyOf, type Uncertainty } from './doubt/uncertainty.ts';

export * from './why/index.ts';

export { CHECKS } from './check/checks.ts';
export { Facts } from './check/facts.ts';
export { explain } from './check/explain.ts';
export { placeId, type Check, type Finding, type Level, type Place, type Proposal } from './check/finding.ts';
export { SNAPSHOT_CODES, snapshotFindings } from './check/snapshot.ts';
export { lengthInWords } from './check/length.ts';
export { nextStep, type NextStep } from './check/nextStep.ts';
export { addsError, changed, remediesOf, type Remedy } from './check/remedies.ts';
export {
  Assessment,
  assess,
  checkDocument,
  checkTrain,
  type CheckReport,
  type ReportedProblem
} from './check/report.ts';

export * from './layout/layout.ts';
