export * from './frame.ts';
export { readFits } from './fits/read.ts';
export { writeFits, type WriteOptions } from './fits/write.ts';
export { readFrame } from './open.ts';
export * from './simulated.ts';
export { readStars, type Star, type StarReading } from './stars.ts';
export type { BackgroundMesh } from './background.ts';
export { judgeField, type Cause, type FieldReading, type FrameFinding } from './field.ts';
export type { SkyLight } from './light.ts';
