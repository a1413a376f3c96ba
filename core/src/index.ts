export * from './train/model.ts';
export * from './train/operations.ts';
export { limitsOf, type Limits } from './train/limits.ts';
export { complaintInWords, complaintLine, complaintsFrom, placeInWords, type Complaint } from './train/complain.ts';
export { MAX_DOCUMENT_CHARS, readElement, readTrain, readTrainText, type Reading } from './train/read.ts';

export { engagement, jointName, jointOpening, jointsOf, type Joint } from './joint/joints.ts';
export { mate, portInWords, type Mating, type MismatchCode } from './joint/mate.ts';
export { parseThread, type Thread } from './joint/thread.ts';

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
