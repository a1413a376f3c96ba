export * from './find.ts';
export { FILLING_KINDS, isFilling, type Supply } from './problem.ts';
