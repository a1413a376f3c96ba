export { NO_FAULTS, cameraOf, sensorUmPerStep, sweepPositions, takeFits, type HiddenTruth } from './camera.ts';
export { startingSchools, tuneFrom, tunedCurves, type TuneAnswer } from './estimate.ts';
export type { Experiment, ExperimentsFile } from './generated/types.ts';
export { nextTry, type NextTry } from './nextTry.ts';
export { spacingOf, tunedOperation } from './tuned.ts';
export { rowOrderOperation } from './rows.ts';
export {
  withFirstSeen,
  withSecondSeen,
  knownTilt,
  screwTurns,
  turnedScrewDeg,
  whereTurned,
  type KnownTilt,
  type OneTurn,
  type ScrewTurn
} from './plate.ts';
export { frameScatterOf, type FrameScatter } from './repeats.ts';
export { readExperimentsText } from './read.ts';
export { cornerStars, focuserAt, solvedScale, strangerIn, takenWith } from './seen.ts';
export {
  LEAST_POSITIONS,
  readSweep,
  scaledSweep,
  umPerUnit,
  type SensorTilt,
  type SweepAnswer,
  type SweepFrame,
  type SweepReading
} from './sweep.ts';
export {
  NEW_SCORE,
  TRAINER_FAULTS,
  TRAINER_STEPS_MM,
  explained,
  isRight,
  mostConfused,
  newRound,
  noteOf,
  readScore,
  scored,
  trainerCamera,
  type TrainerAnswer,
  type TrainerFault,
  type TrainerRound,
  type TrainerScore
} from './trainer.ts';
export { nearestByRings } from './buildable.ts';
export { focuserFor, type FocuserFaults } from './focuser.ts';
