// Where two parts meet: what screws to what, how it seats and turns.
export { jointAperture, jointName, jointsOf, type Joint } from './joints.ts';
export { engagement, jointOpening, lockTravel, threadPair } from './seating.ts';
export { adapterInWords, counterpart, mate, portInWords, type Adapter } from './mate.ts';
export {
  USUAL_THREADS,
  lookalike,
  minorDiameter,
  parseThread,
  pitchDiameter,
  pitchChoices,
  threadQuestion,
  type Thread
} from './thread.ts';
export { GOOD_TURNS } from './engagement.ts';
export { clockingsOf, fullTurn, holdsBy, unscrewedDeg } from './clocking.ts';
export { planRotation, rotationSetting, type RotationWay } from './rotation.ts';
export { fitAt, isSuchAdapter, turnedRound, type Fit } from './fit.ts';
