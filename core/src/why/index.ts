export { combined, type Explanation, type ExplanationLine, type Subject } from './explanation.ts';
export { mm, percent, quantityInWords, turns, type Quantity } from './quantity.ts';
export * from './wording.ts';
