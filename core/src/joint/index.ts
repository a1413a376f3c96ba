// Where two parts meet: what screws to what, how it seats and turns.
export { jointAperture, jointName, jointsOf, nestedIn, type Joint, type JointAperture } from './joints.ts';
export { engagement, jointOpening, lockTravel, threadPair, type LockTravel } from './seating.ts';
export {
  adapterInWords,
  counterpart,
  mate,
  portInWords,
  type Adapter,
  type Mating,
  type MismatchCode
} from './mate.ts';
export {
  USUAL_THREADS,
  lookalike,
  minorDiameter,
  parseThread,
  pitchDiameter,
  pitchChoices,
  threadQuestion,
  type Thread,
  type UsualThread
} from './thread.ts';
export { GOOD_TURNS, LEAST_TURNS } from './engagement.ts';
export { boltStepDeg, clockingsOf, fullTurn, holdsBy, unscrewedDeg, type Clocking, type Holds } from './clocking.ts';
export { planRotation, rotationSetting, type RotationWay } from './rotation.ts';
export { fitAt, isSuchAdapter, turnedRound, type Fit } from './fit.ts';
