// Trains side by side.
export {
  COMPARED_ROWS,
  bestOf,
  compared,
  differences,
  type Compared,
  type ComparedRow,
  type PartDifference
} from './compare.ts';
export { variantOf, type VariantChoice } from './variant.ts';
