// Trains side by side.
export { COMPARED_ROWS, bestOf, compared, differences } from './compare.ts';
export { variantOf } from './variant.ts';
