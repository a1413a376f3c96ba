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

export {
  engagement,
  jointAperture,
  jointName,
  jointOpening,
  jointsOf,
  threadPair,
  type Joint,
  type JointAperture
} from './joint/joints.ts';
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
export { boltStepDeg, clockingsOf, fullTurn, unscrewedDeg, type Clocking } from './joint/clocking.ts';
export { planRotation, rotationSetting, type RotationWay } from './joint/rotation.ts';
export { fitAt, isSuchAdapter, turnedRound, type Fit } from './joint/fit.ts';

export * from './length/backFocus.ts';
export * from './length/glass.ts';
export * from './length/ledger.ts';
export { dialAnswer, type DialAnswer } from './length/dial.ts';
export { normalCdf, uncertaintyOf, withinTolerance, type Uncertainty } from './length/uncertainty.ts';
export * from './length/wording.ts';
export * from './length/explain.ts';

export { assess, checkDocument, checkTrain, isGood, type Assessment, type CheckReport } from './check/check.ts';
export { nextStep, type NextStep } from './check/nextStep.ts';
export { ASSUMPTION_CODES, JOINT_CODES, problemsOf, type Problem } from './check/problems.ts';

export * from './layout/layout.ts';
