export {
  DEFAULT_LIMIT,
  DEFAULT_MAX_PIECES,
  findStacks,
  type FindOptions,
  type FindProgress,
  type FindResult,
  type Preference,
  type Target
} from './find.ts';
export {
  RING_PART_ID,
  fillOperation,
  filledTrain,
  type Dialled,
  type FilledGap,
  type PlacedPart,
  type Solution
} from './solution.ts';
export type { SpanLimit } from './stood.ts';
export { isFilling, type Supply } from './task.ts';
export { adviseOn, isHolder, ringChanges, type Advice } from './advice.ts';
export { ringFor, ringInWords, ringPart, type RingSpec } from './ring.ts';
export { obstaclesOf, type Obstacle } from './obstacles.ts';
export { suggest, type Suggestion } from './suggest.ts';
export {
  findTogether,
  type Collision,
  type Sharing,
  type Together,
  type TogetherOptions,
  type TogetherProgress,
  type TogetherResult
} from './together.ts';
export { otherOrders } from './orders.ts';
