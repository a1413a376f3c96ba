/** A worker that draws errors at random; ended to stop it. */
export const startDraws = (): Worker => new Worker(new URL('./doubt.worker.ts', import.meta.url), { type: 'module' });
