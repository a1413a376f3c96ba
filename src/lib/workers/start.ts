/** A worker that draws errors at random. */
export const startDraws = (): Worker => new Worker(new URL('./doubt.worker.ts', import.meta.url), { type: 'module' });

/** A worker for the simulated camera and for sweeps. */
export const startExperiment = (): Worker =>
  new Worker(new URL('./experiment.worker.ts', import.meta.url), { type: 'module' });

/** A worker that finds stacks. */
export const startFinder = (): Worker => new Worker(new URL('./finder.worker.ts', import.meta.url), { type: 'module' });

/** A worker that reads one frame, and holds its pixels. */
export const startFrame = (): Worker => new Worker(new URL('./frame.worker.ts', import.meta.url), { type: 'module' });

/** A worker that reads the codes of labels. */
export const startLabels = (): Worker => new Worker(new URL('./label.worker.ts', import.meta.url), { type: 'module' });

/** A worker that makes light maps. */
export const startLight = (): Worker => new Worker(new URL('./light.worker.ts', import.meta.url), { type: 'module' });

/** A worker that tells which lengths rings make. */
export const startReach = (): Worker => new Worker(new URL('./reach.worker.ts', import.meta.url), { type: 'module' });

/** A worker that reads files of parts. */
export const startReader = (): Worker =>
  new Worker(new URL('./readParts.worker.ts', import.meta.url), { type: 'module' });
