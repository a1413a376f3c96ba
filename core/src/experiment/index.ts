export { NO_FAULTS, cameraOf, type HiddenTruth } from './camera.ts';
export { tuneFrom, type TuneAnswer } from './estimate.ts';
export type { Experiment, ExperimentsFile } from './generated/types.ts';
export { readExperimentsText } from './read.ts';
