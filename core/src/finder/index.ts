export * from './find.ts';
export { FILLING_KINDS, isFilling, type Supply } from './problem.ts';
export { adviseOn, type Advice } from './advice.ts';
export { ringFor, ringInWords, ringPart, type RingSpec } from './ring.ts';
export { findTogether, type Sharing, type Together, type TogetherResult } from './together.ts';
