/** A worker that finds stacks; ended to stop it. */
export const startFinder = (): Worker => new Worker(new URL('./finder.worker.ts', import.meta.url), { type: 'module' });
