export { combined, type Explanation, type Subject } from './explanation.ts';
export { quantityInWords, type Quantity } from './quantity.ts';
export {
  capitalised,
  formatLength,
  formatLengthNumber,
  formatTolerance,
  formatWithin,
  fromUnit,
  listedBriefly,
  plainMm,
  residualInWords,
  toUnit,
  verdictInWords,
  type LengthUnit,
  type Verdict
} from './wording.ts';
