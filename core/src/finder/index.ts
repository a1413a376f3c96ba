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
export { ringFor, type BoltedFlange, type RingSpec, type ScrewHoles } from './ring.ts';
export {
  madeOperation,
  MOST_VARIANTS,
  partToMake,
  type FaceAsked,
  type MadeAnswer,
  type MadeAsked,
  type MadePart,
  type VariantChange
} from './made.ts';
export { drilledHoles, SCREW_SIZES, screwHoleFault, type DrilledHoles } from './screwHoles.ts';
export { obstaclesOf, type Obstacle } from './obstacles.ts';
export { suggest, type Suggestion } from './suggest.ts';
export { findTogether, type Sharing, type TogetherResult } from './together.ts';
export { otherOrders } from './orders.ts';
