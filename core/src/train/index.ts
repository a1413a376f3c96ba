// The train document: what it is, how it is read, changed, combined and written.
export * from './model.ts';
export * from './operations.ts';
export { forcedOnto, rebaseOnto, type Clash, type Rebased } from './merge.ts';
export { upgrade, withPlainTexts } from './upgrade.ts';
export { isRecord } from './isRecord.ts';
export { sameJson } from './sameJson.ts';
export { fieldOf, type FieldOfSchema, type Limits } from './fields.ts';
export {
  complaintInWords,
  complaintLine,
  complaintsFrom,
  placeInWords,
  valueInWords,
  type Complaint
} from './complain.ts';
export { MAX_DOCUMENT_CHARS, readElement, readTrain, type Reading } from './read.ts';
export { duplicateKey, readTrainText } from './readText.ts';
