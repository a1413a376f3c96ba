// Trains side by side.
export { COMPARED_ROWS, bestOf, compared, differences, rowsByDifference, type ComparedRow } from './compare.ts';
export { variantOf } from './variant.ts';
export { rowsApart, takenFrom, type RowApart } from './apart.ts';
export { changeInWords, changesBetween, isOfParts, type TrainChange } from './changes.ts';
