export {
  DEFAULT_LIMIT,
  DEFAULT_MAX_PIECES,
  findStacks,
  type FindOptions,
  type FindResult,
  type Preference
} from './find.ts';
export { fillOperation, filledTrain, type FilledGap, type Solution } from './solution.ts';
export { isFilling } from './task.ts';
export { adviseOn, isHolder, ringChanges, type Advice } from './advice.ts';
export { ringFor, type RingSpec } from './ring.ts';
export { obstaclesOf, type Obstacle } from './obstacles.ts';
export { suggest, type Suggestion } from './suggest.ts';
export { findTogether, type Sharing, type TogetherResult } from './together.ts';
export { otherOrders } from './orders.ts';
