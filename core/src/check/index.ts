// What there is to tell of a train, and what would mend it.
export { CHECKS } from './checks.ts';
export { checkup, type CheckLine } from './checkup.ts';
export { Facts } from './facts.ts';
export { explain } from './explain.ts';
export { type Finding } from './finding.ts';
export { SNAPSHOT_CODES, snapshotFindings } from './snapshot.ts';
export { saggingsOf } from './sag.ts';
export { lengthInWords } from './length.ts';
export { nextStep, type NextStep } from './nextStep.ts';
export { addedErrors, changed, remediesOf } from './remedies.ts';
export { Assessment, assess, checkDocument, checkTrain, type CheckReport } from './report.ts';
export { screwFault } from './screws.ts';
export { filledInWords } from './onceFilled.ts';
