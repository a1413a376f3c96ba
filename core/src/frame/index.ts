export {
  FrameError,
  SeveralPictures,
  readRow,
  withRowOrder,
  type Bytes,
  type Frame,
  type PictureInFile,
  type RowOrder
} from './frame.ts';
export { readFits } from './fits/read.ts';
export { writeFits } from './fits/write.ts';
export { readFrame } from './open.ts';
export { readPlateScale, type PlateScale, type WcsReading } from './solved.ts';
export {
  PERFECT_OPTICS,
  QUIET_NIGHT,
  simulateFrame,
  type FieldOptics,
  type FrameConditions,
  type SimulatedFrameSpec,
  type StarField
} from './simulated.ts';
export { readStars, type Star, type StarReading } from './stars/index.ts';
export { judgeField, type Cause, type FieldReading, type FrameFinding } from './judge/index.ts';
export { wholeDegrees } from './judge/finding.ts';
export { isTelling, stretchVector, stretchWords } from './place.ts';
export { zonesOf, type Zone } from './zones.ts';
export { summaryOf, type FrameSummary } from './summary.ts';
export { FramePyramid, TILE_PX } from './pyramid.ts';
