export { NO_FAULTS, cameraOf, type HiddenTruth } from './camera.ts';
