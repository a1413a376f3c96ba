/** A worker for the simulated camera and for sweeps; ended to stop it. */
export const startExperiment = (): Worker =>
  new Worker(new URL('./experiment.worker.ts', import.meta.url), { type: 'module' });
