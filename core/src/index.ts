export * from './train/index.ts';
export * from './why/index.ts';
export * from './joint/index.ts';
export * from './length/index.ts';
export * from './doubt/index.ts';
export * from './check/index.ts';
export * from './shape/index.ts';
